/** Growing typed columns and dictionaries. `raw` is the array behind a column, longer than the column itself; it is replaced as the
 *  column grows, so it is read anew for each computation. */

/** How many rows are about to come: a column that grows makes room for all of them at once. */
export interface Room {
  rows: number;
}

const ANY: Room = { rows: 0 };

export class Float64Column {
  private data = new Float64Array(1024);
  length = 0;
  constructor(private readonly room = ANY) {}
  push(v: number): void {
    if (this.length === this.data.length) {
      const next = new Float64Array(Math.max(this.length * 2, this.room.rows));
      next.set(this.data);
      this.data = next;
    }
    this.data[this.length++] = v;
  }
  get(i: number): number {
    return this.data[i]!;
  }
  get raw(): Float64Array {
    return this.data;
  }
}

/** Whole numbers, −1 for "none". Reading past the end gives −1, so that a column added late needs no filling. */
export class IndexColumn {
  private data = new Int32Array(1024).fill(-1);
  length = 0;
  constructor(private readonly room = ANY) {}
  set(i: number, v: number): void {
    if (i >= this.data.length) {
      this.grow(Math.max(this.data.length * 2, i + 1, this.room.rows));
    }
    this.data[i] = v;
    if (i >= this.length) this.length = i + 1;
  }
  get(i: number): number {
    return i < this.length ? this.data[i]! : -1;
  }
  /** The array, at least `length` long. */
  rawFor(length: number): Int32Array {
    if (length > this.data.length) {
      this.grow(length);
    }
    return this.data;
  }

  private grow(length: number): void {
    const next = new Int32Array(length);
    next.set(this.data);
    next.fill(-1, this.data.length);
    this.data = next;
  }
}

/** Row numbers in order of arrival. */
export class RowList {
  private data = new Int32Array(16);
  length = 0;
  push(row: number): void {
    if (this.length === this.data.length) {
      const next = new Int32Array(this.length * 2);
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
  private readonly index = new Map<V, number>();
  readonly values: V[] = [];
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
