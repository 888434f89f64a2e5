/** Numbers that lie close to those before them, such as sequence numbers and times of arrival, in half the memory and less. */

const BLOCK_BITS = 12;
const BLOCK = 1 << BLOCK_BITS;

class Block {
  /** What is added to `base`; where there is nothing, each number is one more than that before it. */
  private more: Int32Array | Float64Array | undefined;
  constructor(private base: number) {}

  get(i: number): number {
    return this.more ? this.base + this.more[i]! : this.base + i;
  }

  /** Sets the number behind those that are there. */
  set(i: number, v: number): void {
    const off = v - this.base;
    if (this.base + off !== v || (this.more instanceof Int32Array && (off | 0) !== off)) this.keepAsItIs(i);
    else if (!this.more) {
      if (off === i) return;
      if ((off | 0) !== off) this.keepAsItIs(i);
      else this.more = new Int32Array(BLOCK).map((_, k) => k);
    }
    this.more![i] = v - this.base;
  }

  /** Each of so many numbers with all that it has, however far it lies from the others. */
  private keepAsItIs(length: number): void {
    const whole = new Float64Array(BLOCK);
    for (let k = 0; k < length; k++) whole[k] = this.get(k);
    this.more = whole;
    this.base = 0;
  }
}

/** Appended numbers, read by their place. Shape: each exactly as it was given; nothing for those that rise by one, four bytes for whole numbers within 2³¹
 *  of the first of their 4,096, eight for others.
 */
export class NumberColumn {
  private readonly blocks: Block[] = [];
  length = 0;

  push(v: number): void {
    const i = this.length & (BLOCK - 1);
    if (i === 0) this.blocks.push(new Block(v));
    else this.blocks[this.blocks.length - 1]!.set(i, v);
    this.length++;
  }

  get(i: number): number {
    return this.blocks[i >>> BLOCK_BITS]!.get(i & (BLOCK - 1));
  }
}
