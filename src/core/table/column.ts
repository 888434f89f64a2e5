/** Growing typed columns and dictionaries. `raw` is the array behind a column, longer than the column itself; it is replaced as the
 *  column grows, so it is read anew for each computation. */

/** How many rows are about to come: a column that grows makes room for all of them at once. */
export interface Room {
  rows: number;
}

const ANY: Room = { rows: 0 };

const LARGE = 1_000_000;
/** How long an array is made that has become too short: a large one stays nearly as large as it must be. */
const more = (length: number): number => (length < LARGE ? length * 2 : Math.ceil(length * 1.25));

export class Float64Column {
  private data = new Float64Array(1024);
  length = 0;
  constructor(private readonly room = ANY) {}
  push(v: number): void {
    if (this.length === this.data.length) {
      const next = new Float64Array(Math.max(more(this.length), this.room.rows));
      next.set(this.data);
      this.data = next;
    }
    this.data[this.length++] = v;
  }
  /** Makes room for so many more, which are written to `raw`; where they begin. */
  extend(by: number): number {
    const at = this.length;
    this.length += by;
    if (this.length > this.data.length) {
      const next = new Float64Array(Math.max(this.length, more(this.data.length), this.room.rows));
      next.set(this.data.subarray(0, at));
      this.data = next;
    }
    return at;
  }
  get(i: number): number {
    return this.data[i]!;
  }
  get raw(): Float64Array {
    return this.data;
  }
  /** A column of its own with the same numbers, but for those that are given by their places. */
  but(others: ReadonlyMap<number, number>): Float64Column {
    const copy = new Float64Column();
    copy.data = this.data.slice(0, this.length);
    copy.length = this.length;
    for (const [i, v] of others) copy.data[i] = v;
    return copy;
  }
}

/** Whole numbers from −1 on, as wide as the largest of them needs. */
export type Indices = Int8Array | Int16Array | Int32Array;

export const MAX_OF_8 = 0x7f;
export const MAX_OF_16 = 0x7fff;

/** Room for so many whole numbers up to `most`. */
export const indicesFor = (max: number, length: number): Indices =>
  max <= MAX_OF_8 ? new Int8Array(length) : max <= MAX_OF_16 ? new Int16Array(length) : new Int32Array(length);

/** Whole numbers, −1 for "none". Reading past the end gives −1, so that a column added late needs no filling. Most columns have few values,
 *  so each takes one, two or four bytes a row, as its largest value needs.
 */
export class IndexColumn {
  private data: Indices = new Int8Array(1024).fill(-1);
  /** The largest that fits. */
  private max = MAX_OF_8;
  length = 0;
  constructor(private readonly room = ANY) {}
  set(i: number, v: number): void {
    if (i >= this.data.length || v > this.max)
      this.grow(i < this.data.length ? this.data.length : Math.max(more(this.data.length), i + 1, this.room.rows), v);
    this.data[i] = v;
    if (i >= this.length) this.length = i + 1;
  }
  /** Sets many from one place on, those that are not −1: each to what `known` says of it, or to itself. */
  put(at: number, places: Indices, known?: ArrayLike<number>): void {
    const end = at + places.length;
    let max = -1;
    if (known) for (let i = 0; i < known.length; i++) max = Math.max(max, known[i]!);
    else for (const p of places) max = Math.max(max, p);
    if (end > this.data.length || max > this.max)
      this.grow(end <= this.data.length ? this.data.length : Math.max(end, more(this.data.length), this.room.rows), max);
    const { data } = this;
    for (let i = 0; i < places.length; i++) {
      const p = places[i]!;
      if (p >= 0) data[at + i] = known ? known[p]! : p;
    }
    if (end > this.length) this.length = end;
  }
  get(i: number): number {
    return i < this.length ? this.data[i]! : -1;
  }
  /** What `get` says of each row of a list. */
  take(rows: Int32Array, into: Int32Array): void {
    const { data, length } = this;
    for (let i = 0; i < rows.length; i++) {
      const row = rows[i]!;
      into[i] = row < length ? data[row]! : -1;
    }
  }
  /** A bit for each row of a list: whether `holds` is 1 at the place behind its number; the first place is for "none". */
  marked(rows: Int32Array, holds: Uint8Array): Int32Array {
    const { data, length } = this;
    const out = new Int32Array((rows.length + 31) >>> 5);
    for (let word = 0, i = 0; word < out.length; word++) {
      const end = Math.min(i + 32, rows.length);
      let marks = 0;
      for (let bit = 0; i < end; i++, bit++) {
        const row = rows[i]!;
        marks |= holds[row < length ? data[row]! + 1 : 0]! << bit;
      }
      out[word] = marks;
    }
    return out;
  }
  /** A column of its own with the same numbers. */
  copy(): IndexColumn {
    const copy = new IndexColumn();
    copy.data = this.data.slice();
    copy.max = this.max;
    copy.length = this.length;
    return copy;
  }
  /** The array, at least `length` long. */
  rawFor(length: number): Indices {
    if (length > this.data.length) this.grow(length, 0);
    return this.data;
  }

  private grow(length: number, v: number): void {
    if (v > this.max) this.max = v <= MAX_OF_16 ? MAX_OF_16 : Infinity;
    const next = indicesFor(this.max, length);
    next.set(this.data);
    next.fill(-1, this.data.length);
    this.data = next;
  }
}

/** What is asked of a column of whole numbers, however it keeps them. */
export type Column = Pick<IndexColumn, 'get' | 'take' | 'marked' | 'set' | 'put' | 'length'>;

/** Numbers by a small whole number, such as a node's; those not said yet are `none`. */
export class GrowingCounts {
  private data: Int32Array;
  constructor(private readonly none: number) {
    this.data = new Int32Array(0);
  }
  /** Makes room for so many. */
  expect(length: number): void {
    if (length <= this.data.length) return;
    const next = new Int32Array(Math.max(length, more(this.data.length)));
    if (this.none !== 0) next.fill(this.none, this.data.length);
    next.set(this.data);
    this.data = next;
  }
  add(i: number): void {
    this.data[i]!++;
  }
  /** Puts others in the place of all of them. */
  replace(data: Int32Array): void {
    this.data = data;
  }
  get raw(): Int32Array {
    return this.data;
  }
}

/** First position, within a stretch, of ascending numbers whose number is not before `at`; the end of it where all are. */
export const lowerBound = (numbers: Float64Array | Int32Array, at: number, from = 0, to = numbers.length): number => {
  let lo = from;
  let hi = to;
  while (lo < hi) {
    const mid = (lo + hi) >> 1;
    if (numbers[mid]! < at) lo = mid + 1;
    else hi = mid;
  }
  return lo;
};

/** Those of rows in ascending order that come before a row. */
export const rowsBefore = (rows: Int32Array, end: number): Int32Array => rows.subarray(0, lowerBound(rows, end));

/** Row numbers in order of arrival. */
export class RowList {
  private data: Int32Array = new Int32Array(16);
  length = 0;
  /** A list of these rows, which nobody changes. */
  static of(rows: Int32Array): RowList {
    const list = new RowList();
    list.data = rows;
    list.length = rows.length;
    return list;
  }
  push(row: number): void {
    if (this.length === this.data.length) {
      const next = new Int32Array(more(this.length));
      next.set(this.data);
      this.data = next;
    }
    this.data[this.length++] = row;
  }
  get rows(): Int32Array {
    return this.data.subarray(0, this.length);
  }
}

/** Values ↔ small whole numbers, in order of first sight. */
export class Dictionary<V> {
  private readonly index: Map<V, number>;
  readonly values: V[];
  /** Begins with what another one has. */
  constructor(from?: Dictionary<V>) {
    this.index = new Map(from?.index);
    this.values = from ? [...from.values] : [];
  }
  intern(v: V): number {
    let i = this.index.get(v);
    if (i === undefined) {
      i = this.values.length;
      this.index.set(v, i);
      this.values.push(v);
    }
    return i;
  }
  find(v: V): number {
    return this.index.get(v) ?? -1;
  }
}
