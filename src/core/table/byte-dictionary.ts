/** Runs of bytes ↔ whole numbers: what was met before is known again without making text of it. Four bytes are read at a time. */

const LITTLE = true;

/** The last bytes of a run, fewer than four, as one number. */
const tailOf = (from: DataView, at: number, count: number): number => from.getInt32(at, LITTLE) & ((1 << (count * 8)) - 1);

/** Hash of a run of bytes. Source: FNV-1a, by words of four bytes, its bits mixed at the end as in MurmurHash3 (public domain). */
export const hashOf = (from: DataView, start: number, end: number): number => {
  let hash = 0x811c9dc5 ^ (end - start);
  let i = start;
  for (; i + 4 <= end; i += 4) hash = Math.imul(hash ^ from.getInt32(i, LITTLE), 0x01000193);
  if (i < end) hash = Math.imul(hash ^ tailOf(from, i, end - i), 0x01000193);
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  return hash ^ (hash >>> 13);
};

const copyWords = (from: DataView, start: number, end: number, words: Int32Array, first: number): void => {
  for (let k = first, i = start; i < end; k++, i += 4) words[k] = i + 4 <= end ? from.getInt32(i, LITTLE) : tailOf(from, i, end - i);
};

/** Bytes kept by words, the last one filled up with zeros. */
export const wordsOf = (from: DataView, start: number, end: number): Int32Array => {
  const words = new Int32Array((end - start + 3) >> 2);
  copyWords(from, start, end, words, 0);
  return words;
};

/** Whether the bytes from `at` on are these `count` bytes, whose words begin at `first`. */
export const sameBytes = (from: DataView, at: number, words: Int32Array, first: number, count: number): boolean => {
  let k = first;
  let i = at;
  for (const whole = at + (count & ~3); i < whole; i += 4) if (from.getInt32(i, LITTLE) !== words[k++]) return false;
  return (count & 3) === 0 || tailOf(from, i, count & 3) === words[k];
};

/** What a place holds: hash, length in bytes, number, where its words begin, + 1, 0 there for a free place, and the words themselves where
 *  they are few. All side by side, so that a look costs one line of the processor's cache.
 */
const STRIDE = 8;
const STRIDE_BITS = 3;
const SHORT = 16;
const HEAD = 4;

/** The bytes that are asked for must be followed by three more, whatever they are. */
export class ByteDictionary {
  /** A power of two of places; an entry is where its hash leads to, or at the next free place. */
  private places = new Int32Array(64 * STRIDE);
  private words = new Int32Array(128);
  private used = 0;
  private length = 0;

  /** The number kept for these bytes; −1 for bytes that are new. `hash` is theirs. */
  find(from: DataView, start: number, end: number, hash: number): number {
    const { places } = this;
    const mask = places.length - 1;
    const bytes = end - start;
    for (let e = (hash << STRIDE_BITS) & mask; ; e = (e + STRIDE) & mask) {
      const first = places[e + 3]!;
      if (first === 0) return -1;
      if (places[e] !== hash || places[e + 1] !== bytes) continue;
      if (bytes <= SHORT ? sameBytes(from, start, places, e + HEAD, bytes) : sameBytes(from, start, this.words, first - 1, bytes))
        return places[e + 2]!;
    }
  }

  /** Keeps a number for bytes that are new. */
  add(from: DataView, start: number, end: number, hash: number, value: number): void {
    if (++this.length * 2 * STRIDE > this.places.length) this.grow();
    const { places } = this;
    const e = this.free(hash);
    const bytes = end - start;
    places[e] = hash;
    places[e + 1] = bytes;
    places[e + 2] = value;
    places[e + 3] = this.used + 1;
    if (bytes <= SHORT) return copyWords(from, start, end, places, e + HEAD);
    const count = (bytes + 3) >> 2;
    if (this.used + count > this.words.length) {
      const more = new Int32Array(Math.max(this.words.length * 2, this.used + count));
      more.set(this.words);
      this.words = more;
    }
    copyWords(from, start, end, this.words, this.used);
    this.used += count;
  }

  private grow(): void {
    const before = this.places;
    this.places = new Int32Array(before.length * 2);
    for (let e = 0; e < before.length; e += STRIDE)
      if (before[e + 3] !== 0) for (let k = 0, to = this.free(before[e]!); k < STRIDE; k++) this.places[to + k] = before[e + k]!;
  }

  private free(hash: number): number {
    const mask = this.places.length - 1;
    let e = (hash << STRIDE_BITS) & mask;
    while (this.places[e + 3] !== 0) e = (e + STRIDE) & mask;
    return e;
  }
}
