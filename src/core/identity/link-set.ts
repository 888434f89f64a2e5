/** The links that messages make between identifiers. */
import type { IdentityRules } from '../plan/plan';
import type { MessageTable } from '../table/message-table';

export interface Link {
  readonly a: number;
  readonly b: number;
  /** Event time of the earliest message that makes it, UTC epoch ms. */
  readonly firstAt: number;
}

/** Pairs of nodes, each once, with the earliest time that it was seen: open addressing over typed arrays. */
export class LinkSet {
  private capacity = 1 << 12;
  private slots = new Int32Array(this.capacity).fill(-1);
  a = new Int32Array(1 << 11);
  b = new Int32Array(1 << 11);
  firstAt = new Float64Array(1 << 11);
  length = 0;

  private slotOf(a: number, b: number): number {
    // Multiplicative hashing of both ends (Knuth, TAOCP 3, 6.4).
    let i = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b)) >>> 0;
    i = (i ^ (i >>> 15)) & (this.capacity - 1);
    for (;;) {
      const at = this.slots[i]!;
      if (at < 0 || (this.a[at] === a && this.b[at] === b)) return i;
      i = (i + 1) & (this.capacity - 1);
    }
  }

  /** Notes a pair, the smaller node first; its place. */
  add(a: number, b: number, time: number): number {
    const slot = this.slotOf(a, b);
    const known = this.slots[slot]!;
    if (known >= 0) {
      if (time < this.firstAt[known]!) this.firstAt[known] = time;
      return known;
    }
    const full = this.length === this.a.length;
    if (full) this.grow();
    const at = this.length++;
    this.a[at] = a;
    this.b[at] = b;
    this.firstAt[at] = time;
    this.slots[full ? this.slotOf(a, b) : slot] = at;
    return at;
  }

  /** The place of a pair, its ends in the order in which they were added; −1 where it is not there. */
  find(a: number, b: number): number {
    return this.slots[this.slotOf(a, b)]!;
  }

  private grow(): void {
    const double = <T extends Int32Array | Float64Array>(from: T, to: T): T => {
      to.set(from);
      return to;
    };
    this.a = double(this.a, new Int32Array(this.length * 2));
    this.b = double(this.b, new Int32Array(this.length * 2));
    this.firstAt = double(this.firstAt, new Float64Array(this.length * 2));
    this.capacity *= 2;
    this.slots = new Int32Array(this.capacity).fill(-1);
    for (let i = 0; i < this.length; i++) this.slots[this.slotOf(this.a[i]!, this.b[i]!)] = i;
  }

  link(i: number): Link {
    return { a: this.a[i]!, b: this.b[i]!, firstAt: this.firstAt[i]! };
  }
}

/** The links that messages make, each pair once with its earliest time; unsorted. */
export const linksOf = (table: MessageTable, rules: IdentityRules, usable: Uint8Array): LinkSet => {
  const links = new LinkSet();
  const { length } = table;
  const time = table.time.raw;
  for (const [kindA, kindB] of rules.links) {
    const ca = table.ids.get(kindA)?.rawFor(length);
    const cb = table.ids.get(kindB)?.rawFor(length);
    if (!ca || !cb) continue;
    for (let row = 0; row < length; row++) {
      const a = ca[row]!;
      const b = cb[row]!;
      if (a < 0 || b < 0 || a === b || usable[a] === 0 || usable[b] === 0) continue;
      if (a < b) links.add(a, b, time[row]!);
      else links.add(b, a, time[row]!);
    }
  }
  return links;
};
