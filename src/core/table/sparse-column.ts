/** A column of which most rows have nothing: what rows have lies packed, and a bit for each row says whether it has something. */
import { ones } from './bitset';
import { IndexColumn, indicesFor, MAX_OF_16, MAX_OF_8, type Indices } from './column';

const FIRST = 16;
/** A column with fewer numbers becomes twice as long, one with more by a quarter. */
const LARGE = 1 << 16;
/** By so much of their own length the words become more: half of them are counts. */
const GROWTH = 0.625;

/** Whole numbers by row, −1 for "none", as `IndexColumn` has them: a quarter of a byte for each row, and one to four for each that has a number.
 *  Rows are set in their order, one that is there already may be set otherwise; what is set where nothing was, before the last, makes it a column of the
 *  other kind.
 *  Source: rank over a bit vector with counts for each word (Jacobson, Space-efficient static trees and graphs, 1989).
 */
export class SparseColumn {
  /** For each 32 rows: which have a number; how many before them have. */
  private words = new Int32Array(32);
  /** The numbers of those that have one, in their order, as wide as the largest of them needs. */
  private values: Indices = new Int8Array(FIRST);
  /** The largest that fits. */
  private max = MAX_OF_8;
  /** How many have a number. */
  private count = 0;
  /** The first word whose count is not written yet. */
  private open = 0;
  private dense: IndexColumn | undefined;
  /** One more than the last row that was set. */
  length = 0;

  get(row: number): number {
    if (this.dense) return this.dense.get(row);
    if (row >= this.length) return -1;
    const w = (row >>> 5) << 1;
    const bits = this.words[w]!;
    const bit = 1 << (row & 31);
    if ((bits & bit) === 0) return -1;
    return this.values[this.words[w + 1]! + ones(bits & (bit - 1))]!;
  }

  /** What `get` says of each row of a list. */
  take(rows: Int32Array, into: Int32Array): void {
    if (this.dense) return this.dense.take(rows, into);
    const { words, values, length } = this;
    for (let i = 0; i < rows.length; i++) {
      const row = rows[i]!;
      const w = (row >>> 5) << 1;
      const bits = row < length ? words[w]! : 0;
      const bit = 1 << (row & 31);
      into[i] = (bits & bit) === 0 ? -1 : values[words[w + 1]! + ones(bits & (bit - 1))]!;
    }
  }

  /** A bit for each row of a list: whether `holds` is 1 at the place behind its number; the first place is for "none". */
  marked(rows: Int32Array, holds: Uint8Array): Int32Array {
    if (this.dense) return this.dense.marked(rows, holds);
    const { words, values, length } = this;
    const out = new Int32Array((rows.length + 31) >>> 5);
    for (let word = 0, i = 0; word < out.length; word++) {
      const end = Math.min(i + 32, rows.length);
      let marks = 0;
      for (let at = 0; i < end; i++, at++) {
        const row = rows[i]!;
        const w = (row >>> 5) << 1;
        const bits = row < length ? words[w]! : 0;
        const bit = 1 << (row & 31);
        const v = (bits & bit) === 0 ? 0 : values[words[w + 1]! + ones(bits & (bit - 1))]! + 1;
        marks |= holds[v]! << at;
      }
      out[word] = marks;
    }
    return out;
  }

  set(row: number, v: number): void {
    if (this.dense) this.setDense(row, v);
    else if (row >= this.length) {
      this.reach(row);
      if (v >= 0) this.add(row, v);
    } else {
      const w = (row >>> 5) << 1;
      const bits = this.words[w]!;
      const bit = 1 << (row & 31);
      if ((bits & bit) !== 0) this.store(this.words[w + 1]! + ones(bits & (bit - 1)), v);
      else if (v >= 0) {
        this.becomeDense();
        this.setDense(row, v);
      }
    }
  }

  /** Sets many from one place on, those that are not −1: each to what `known` says of it, or to itself. */
  put(at: number, places: Indices, known?: ArrayLike<number>): void {
    for (let i = 0; i < places.length; i++) {
      const p = places[i]!;
      if (p >= 0) this.set(at + i, known ? known[p]! : p);
    }
  }

  /** A column of its own with the same numbers. */
  copy(): SparseColumn {
    const copy = new SparseColumn();
    copy.words = this.words.slice();
    copy.values = this.values.slice();
    copy.max = this.max;
    copy.count = this.count;
    copy.open = this.open;
    copy.dense = this.dense?.copy();
    copy.length = this.length;
    return copy;
  }

  private setDense(row: number, v: number): void {
    this.dense!.set(row, v);
    this.length = this.dense!.length;
  }

  /** Makes room for a row, the last one from now on. Words in between have nothing. */
  private reach(row: number): void {
    const word = row >>> 5;
    if (word * 2 >= this.words.length) {
      const next = new Int32Array(2 * Math.max(word + 1, Math.ceil(this.words.length * GROWTH)));
      next.set(this.words);
      this.words = next;
    }
    for (; this.open <= word; this.open++) this.words[this.open * 2 + 1] = this.count;
    this.length = row + 1;
  }

  private add(row: number, v: number): void {
    this.words[(row >>> 5) << 1]! |= 1 << (row & 31);
    this.store(this.count++, v);
  }

  private store(at: number, v: number): void {
    const { length } = this.values;
    if (at >= length || v > this.max) {
      if (v > this.max) this.max = v <= MAX_OF_16 ? MAX_OF_16 : Infinity;
      const next = indicesFor(this.max, at < length ? length : length < LARGE ? length * 2 : length + (length >> 2));
      next.set(this.values);
      this.values = next;
    }
    this.values[at] = v;
  }

  private becomeDense(): void {
    const dense = new IndexColumn();
    for (let row = 0; row < this.length; row++) {
      const v = this.get(row);
      if (v >= 0) dense.set(row, v);
    }
    // Also where the last one has nothing.
    if (dense.length < this.length) dense.set(this.length - 1, -1);
    this.dense = dense;
    this.words = new Int32Array(0);
    this.values = new Int8Array(0);
  }
}
