/** Distinct small whole numbers. */
export class Bitset {
  /** The bits; whoever sets any counts them afterwards. */
  words: Int32Array;
  /** How many are in it. */
  size = 0;
  constructor(readonly capacity: number) {
    this.words = new Int32Array((capacity + 31) >>> 5);
  }
  /** Adds; whether it is new. */
  add(i: number): boolean {
    const w = i >>> 5;
    const bit = 1 << (i & 31);
    const before = this.words[w]!;
    if ((before & bit) !== 0) return false;
    this.words[w] = before | bit;
    this.size++;
    return true;
  }
  /** Takes out; whether it was in it. */
  remove(i: number): boolean {
    if (!this.has(i)) return false;
    this.words[i >>> 5]! &= ~(1 << (i & 31));
    this.size--;
    return true;
  }
  /** Takes the size from the bits. */
  count(): void {
    let n = 0;
    for (const word of this.words) n += ones(word);
    this.size = n;
  }
  has(i: number): boolean {
    return i >= 0 && ((this.words[i >>> 5] ?? 0) & (1 << (i & 31))) !== 0;
  }
  /** How many are in both. */
  shared(other: Bitset): number {
    let n = 0;
    for (let i = 0; i < this.words.length; i++) n += ones(this.words[i]! & (other.words[i] ?? 0));
    return n;
  }
  addAll(other: Bitset): void {
    let n = 0;
    for (let i = 0; i < this.words.length; i++) {
      const w = this.words[i]! | (other.words[i] ?? 0);
      this.words[i] = w;
      n += ones(w);
    }
    this.size = n;
  }
}

const FIRST_CAPACITY = 2048;

/** Distinct small whole numbers, however large the largest turns out to be. */
export class GrowingBits extends Bitset {
  constructor() {
    super(FIRST_CAPACITY);
  }
  override add(i: number): boolean {
    const w = i >>> 5;
    if (w >= this.words.length) {
      const next = new Int32Array(Math.max(w + 1, this.words.length * 2));
      next.set(this.words);
      this.words = next;
    }
    return super.add(i);
  }
}

/** Number of bits set. Source: H. S. Warren, Hacker's Delight, 5-1. */
export const ones = (word: number): number => {
  let x = word - ((word >>> 1) & 0x55555555);
  x = (x & 0x33333333) + ((x >>> 2) & 0x33333333);
  return Math.imul((x + (x >>> 4)) & 0x0f0f0f0f, 0x01010101) >>> 24;
};
