/** A short name for a text: equal texts have equal ones, and two that differ practically never. */

/** 106 bits as hexadecimal digits. Source: cyrb53 (public domain, bryc), two lanes of multiply and xorshift, with two seeds. */
export const textHash = (text: string): string => lanes(text, 0) + lanes(text, 0x9e3779b9);

const lanes = (text: string, seed: number): string => {
  LANES.begin(seed).letters(text).end(PAIR, 0);
  return (PAIR[1]! % 0x200000).toString(16) + PAIR[0]!.toString(16).padStart(8, '0');
};

const PAIR = new Uint32Array(2);

/** The two lanes over several texts, one after the other; each is told from the next by its length. */
export class Lanes {
  private a = 0;
  private b = 0;

  begin(seed = 0): this {
    this.a = 0xdeadbeef ^ seed;
    this.b = 0x41c6ce57 ^ seed;
    return this;
  }

  add(text: string): this {
    this.number(text.length);
    return this.letters(text);
  }

  /** A text without its length. */
  letters(text: string): this {
    let { a, b } = this;
    for (let i = 0; i < text.length; i++) {
      const c = text.charCodeAt(i);
      a = Math.imul(a ^ c, 2654435761);
      b = Math.imul(b ^ c, 1597334677);
    }
    this.a = a;
    this.b = b;
    return this;
  }

  /** A whole number of 32 bits. */
  number(n: number): this {
    this.a = Math.imul(this.a ^ n, 2654435761);
    this.b = Math.imul(this.b ^ n, 1597334677);
    return this;
  }

  /** The two lanes as numbers, to a place in a list. */
  end(to: Uint32Array, at: number): void {
    let { a, b } = this;
    a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
    b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
    to[at] = a;
    to[at + 1] = b;
  }
}

const LANES = new Lanes();
