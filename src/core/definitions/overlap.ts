/** What definitions over the same messages share. */

/** How many of other lists' rows a list has; `length` rows there are. Of a list that is asked about many others. */
export const sharing = (rows: Int32Array, length: number): ((other: Int32Array) => number) => {
  const bits = new Int32Array((length + 31) >>> 5);
  for (let i = 0; i < rows.length; i++) bits[rows[i]! >>> 5]! |= 1 << (rows[i]! & 31);
  return (other) => {
    let both = 0;
    for (let i = 0; i < other.length; i++) both += (bits[other[i]! >>> 5]! >>> (other[i]! & 31)) & 1;
    return both;
  };
};
