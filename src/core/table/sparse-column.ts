/** A column of which most rows have nothing: what rows have lies packed, and a bit for each row says whether it has something. */
import { ones } from './bitset';
import { IndexColumn, type Indices } from './column';

/** So many numbers lie together, as wide as the largest of them needs. */
const PAGE_BITS = 14;
const PAGE = 1 << PAGE_BITS;
const FIRST_PAGE = 16;
/** By so much of their own length the words become more: half of them are counts. */
const GROWTH = 0.625;
const [MAX_OF_8, MAX_OF_16] = [0x7f, 0x7fff];

const widest = (page: Indices): number => (page.BYTES_PER_ELEMENT === 1 ? MAX_OF_8 : page.BYTES_PER_ELEMENT === 2 ? MAX_OF_16 : Infinity);

/** The numbers of a page, in one that takes a larger one, or more of them. */
const wider = (page: Indices, length: number, v: number): Indices => {
  const max = Math.max(v, page.BYTES_PER_ELEMENT === 1 ? 0 : page.BYTES_PER_ELEMENT === 2 ? MAX_OF_8 + 1 : MAX_OF_16 + 1);
  const next = max <= MAX_OF_8 ? new Int8Array(length) : max <= MAX_OF_16 ? new Int16Array(length) : new Int32Array(length);
  next.set(page);
  return next;
};

/** Whole numbers by row, −1 for "none", as `IndexColumn` has them: a quarter of a byte for each row, and one to four for each that has a number.
 *  Rows are set in their order, one that is there already may be set otherwise; what is set where nothing was, before the last, makes it a column of the
 *  other kind.
 *  Source: rank over a bit vector with counts for each word (Jacobson, Space-efficient static trees and graphs, 1989).
 */
export class SparseColumn {
  /** For each 32 rows: which have a number; how many before them have. */
  private words = new Int32Array(32);
  private readonly pages: Indices[] = [];
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
    const at = this.words[w + 1]! + ones(bits & (bit - 1));
    return this.pages[at >>> PAGE_BITS]![at & (PAGE - 1)]!;
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
    copy.pages.push(...this.pages.map((page) => page.slice()));
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
    const p = at >>> PAGE_BITS;
    const i = at & (PAGE - 1);
    let page = this.pages[p];
    if (!page) this.pages[p] = page = new Int8Array(p === 0 ? FIRST_PAGE : PAGE);
    if (i >= page.length || v > widest(page)) this.pages[p] = page = wider(page, i >= page.length ? page.length * 2 : page.length, v);
    page[i] = v;
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
    this.pages.length = 0;
  }
}
