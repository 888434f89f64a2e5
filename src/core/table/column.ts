/** Growing typed columns and dictionaries. `raw` is the array behind a column, longer than the column itself; it is replaced as the
 *  column grows, so it is read anew for each computation. */

export class Float64Column {
  private data = new Float64Array(1024);
  length = 0;
  push(v: number): void {
    if (this.length === this.data.length) {
      const next = new Float64Array(this.length * 2);
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
  set(i: number, v: number): void {
    if (i >= this.data.length) {
      const next = new Int32Array(Math.max(this.data.length * 2, i + 1)).fill(-1);
      next.set(this.data);
      this.data = next;
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
      const next = new Int32Array(length).fill(-1);
      next.set(this.data);
      this.data = next;
    }
    return this.data;
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
