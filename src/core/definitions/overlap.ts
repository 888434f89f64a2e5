/** What definitions over the same messages share. */

export interface Overlap {
  readonly a: number;
  readonly b: number;
  readonly both: number;
}

/** How many rows two ascending lists share. Shape: counts; a row comes once in each list. */
export const overlapOf = (a: Int32Array, b: Int32Array): Overlap => {
  let [i, k, both] = [0, 0, 0];
  while (i < a.length && k < b.length) {
    const [x, y] = [a[i]!, b[k]!];
    if (x === y) both++;
    if (x <= y) i++;
    if (y <= x) k++;
  }
  return { a: a.length, b: b.length, both };
};

/** Rows that any of several ascending lists has: a message that feeds several definitions counts once in all of them. */
export const inAny = (lists: readonly Int32Array[], length: number): number => {
  const seen = new Uint8Array(length);
  let n = 0;
  for (const list of lists)
    for (let i = 0; i < list.length; i++) {
      const row = list[i]!;
      if (seen[row] === 0) {
        seen[row] = 1;
        n++;
      }
    }
  return n;
};
