/** Growing typed columns and dictionaries. */

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
