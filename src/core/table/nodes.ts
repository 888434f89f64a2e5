/** Identifiers ↔ whole numbers, in order of first sight. A workspace has one for every device and person, so their texts lie side by side as bytes: as objects
 *  and texts of their own they would take three times the memory.
 */
import { Float64Column, IndexColumn, RowList } from './column';

export interface IdentifierNode {
  readonly kind: string;
  readonly value: string;
}

const PAGE_BITS = 16;
const PAGE = 1 << PAGE_BITS;
const FIRST_PLACES = 64;
/** So full the places become before there are twice as many. */
const MAX_LOAD = 0.7;
/** Letters beyond it take two bytes each. */
const ONE_BYTE = 0xff;
/** So many numbers go to a call as its arguments. */
const AT_ONCE = 4096;

const NO_NODES = new Int32Array(0);

/** Source: FNV-1a by letters, its bits mixed at the end as in MurmurHash3 (public domain). */
const mixed = (hash: number): number => {
  const h = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  return h ^ (h >>> 13);
};

const hashOf = (kind: number, text: string): number => {
  let hash = 0x811c9dc5 ^ kind;
  for (let i = 0; i < text.length; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return mixed(hash);
};

/** Shape: a node is a kind and a text, both exactly as given. Source: open addressing with linear probing (Knuth, The Art of Computer Programming, volume 3, section
 *  6.4).
 */
export class Nodes {
  length = 0;
  private readonly kinds: string[] = [];
  private readonly kindIndex = new Map<string, number>();
  private readonly byKind: RowList[] = [];
  /** Of each node: twice its kind, one more where its letters take two bytes; how many letters; where they begin. */
  private readonly forms = new IndexColumn();
  private readonly lengths = new IndexColumn();
  private readonly starts = new Float64Column();
  /** A text lies on one page; one that is longer than a page has one of its own. */
  private readonly pages: Uint8Array[] = [];
  private used = PAGE;
  /** Nodes, + 1, by their hashes; 0 for a free place. */
  private places = new Int32Array(FIRST_PLACES);

  /** The number of a node; −1 where it is not known. */
  find(kind: string, value: string): number {
    const of = this.kindIndex.get(kind);
    return of === undefined ? -1 : this.places[this.placeOf(of, value)]! - 1;
  }

  /** The number of a node, which is known from then on. */
  intern(kind: string, value: string): number {
    let of = this.kindIndex.get(kind);
    if (of === undefined) {
      of = this.kinds.length;
      this.kindIndex.set(kind, of);
      this.kinds.push(kind);
      this.byKind.push(new RowList());
    }
    const at = this.placeOf(of, value);
    const known = this.places[at]! - 1;
    if (known >= 0) return known;
    const i = this.length++;
    this.keep(i, of, value);
    this.byKind[of]!.push(i);
    this.places[at] = i + 1;
    if (this.length > this.places.length * MAX_LOAD) this.grow();
    return i;
  }

  get(i: number): IdentifierNode {
    return { kind: this.kindOf(i), value: this.valueOf(i) };
  }

  kindOf(i: number): string {
    return this.kinds[this.forms.get(i) >> 1]!;
  }

  valueOf(i: number): string {
    const codes = this.codesOf(i);
    let text = '';
    for (let from = 0; from < codes.length; from += AT_ONCE) text += String.fromCharCode(...codes.subarray(from, from + AT_ONCE));
    return text;
  }

  /** The nodes of a kind, ascending; a view that later ones do not change. */
  ofKind(kind: string): Int32Array {
    const of = this.kindIndex.get(kind);
    return of === undefined ? NO_NODES : this.byKind[of]!.rows;
  }

  /** The kinds that have a node, in the order of first sight. */
  kindsKnown(): string[] {
    return [...this.kinds];
  }

  *[Symbol.iterator](): Iterator<IdentifierNode> {
    for (let i = 0; i < this.length; i++) yield this.get(i);
  }

  private codesOf(i: number): Uint8Array | Uint16Array {
    const start = this.starts.get(i);
    const page = this.pages[Math.floor(start / PAGE)]!;
    const at = start % PAGE;
    const length = this.lengths.get(i);
    return (this.forms.get(i) & 1) === 0 ? page.subarray(at, at + length) : new Uint16Array(page.buffer, page.byteOffset + at, length);
  }

  private keep(i: number, kind: number, text: string): void {
    let isWide = false;
    for (let k = 0; k < text.length && !isWide; k++) isWide = text.charCodeAt(k) > ONE_BYTE;
    // Where letters take two bytes they begin at an even place.
    if (isWide) this.used += this.used & 1;
    const bytes = isWide ? text.length * 2 : text.length;
    if (this.used + bytes >= PAGE) {
      this.pages.push(new Uint8Array(Math.max(PAGE, bytes)));
      this.used = 0;
    }
    this.starts.push((this.pages.length - 1) * PAGE + this.used);
    this.forms.set(i, kind * 2 + Number(isWide));
    this.lengths.set(i, text.length);
    const codes = this.codesOf(i);
    for (let k = 0; k < text.length; k++) codes[k] = text.charCodeAt(k);
    this.used += bytes;
  }

  private isAt(i: number, kind: number, text: string): boolean {
    if (this.lengths.get(i) !== text.length || this.forms.get(i) >> 1 !== kind) return false;
    const codes = this.codesOf(i);
    for (let k = 0; k < codes.length; k++) if (codes[k] !== text.charCodeAt(k)) return false;
    return true;
  }

  /** Where a node is, or would be. */
  private placeOf(kind: number, text: string): number {
    const mask = this.places.length - 1;
    let at = hashOf(kind, text) & mask;
    for (let node = this.places[at]!; node !== 0; node = this.places[at]!) {
      if (this.isAt(node - 1, kind, text)) break;
      at = (at + 1) & mask;
    }
    return at;
  }

  private grow(): void {
    const mask = this.places.length * 2 - 1;
    const places = new Int32Array(mask + 1);
    for (let i = 0; i < this.length; i++) {
      let hash = 0x811c9dc5 ^ (this.forms.get(i) >> 1);
      for (const code of this.codesOf(i)) hash = Math.imul(hash ^ code, 0x01000193);
      let at = mixed(hash) & mask;
      while (places[at] !== 0) at = (at + 1) & mask;
      places[at] = i + 1;
    }
    this.places = places;
  }
}
