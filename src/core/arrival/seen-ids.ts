/** Which message IDs came, of which source, saying what: in some twenty bytes each, however long IDs and messages are. */
import { Lanes } from '../table/text-hash';
import type { Message } from './message';
import { hashContent } from './same-content';

/** ID (two), content, content and source. */
const WIDTH = 4;
const [ID, CONTENT, SOURCE] = [0, 2, 3] as const;
const FIRST_PLACES = 1 << 10;
/** Of the last of them, so many bits are the source's: sources beyond them count as one. */
const SOURCE_BITS = 20;
const ALL_SOURCES = (1 << SOURCE_BITS) - 1;
const MAX_LOAD = 0.85;
const LARGE = 1 << 18;
const HASHES = 2 ** 32;

export interface SeenId {
  /** The same message came before from this source. */
  readonly isAgain: boolean;
  /** Another message came before under this ID from this source. */
  readonly isReused: boolean;
  /** A message came before under this ID from another source. */
  readonly isElsewhere: boolean;
}

/** IDs are told apart by 64 bits, contents under one ID by 44: of a million IDs two are taken for one by chance once in some thirty million runs.
 *  Source: open addressing with linear probing (Knuth, The Art of Computer Programming, volume 3, section 6.4); places in the order of their hashes, so
 *  that it grows by any factor in one pass.
 */
export class SeenIds {
  private places = FIRST_PLACES;
  private slots = new Uint32Array(FIRST_PLACES * WIDTH);
  private count = 0;
  private readonly sources = new Map<string, number>();
  private readonly own = new Uint32Array(WIDTH);
  private readonly lanes = new Lanes();

  /** Makes room for about so many, so that it need not grow bit by bit. */
  expect(ids: number): void {
    const places = Math.ceil(ids / MAX_LOAD) + 1;
    if (places > this.places) this.resize(places);
  }

  add(message: Message, sourceId: string): SeenId {
    const { own, lanes } = this;
    lanes.begin().letters(message.id).end(own, ID);
    hashContent(lanes, message, own, CONTENT);
    let source = this.sources.get(sourceId);
    // Nought is a free place.
    if (source === undefined) this.sources.set(sourceId, (source = Math.min(this.sources.size + 1, ALL_SOURCES)));
    own[SOURCE] = (own[SOURCE]! & ~ALL_SOURCES) | source;
    let isReused = false;
    let isElsewhere = false;
    const { slots } = this;
    let at = this.placeOf(own[ID]!);
    for (; slots[at + SOURCE] !== 0; at = this.next(at)) {
      if (slots[at] !== own[0] || slots[at + 1] !== own[1]) continue;
      if ((slots[at + SOURCE]! & ALL_SOURCES) !== source) isElsewhere = true;
      else if (slots[at + CONTENT] === own[CONTENT] && slots[at + SOURCE] === own[SOURCE]) return { isAgain: true, isReused, isElsewhere };
      else isReused = true;
    }
    slots.set(own, at);
    if (++this.count > this.places * MAX_LOAD) this.resize(this.places * (this.places < LARGE ? 2 : 1.25));
    return { isAgain: false, isReused, isElsewhere };
  }

  private placeOf(hash: number): number {
    return Math.floor((hash / HASHES) * this.places) * WIDTH;
  }

  private next(at: number): number {
    return at + WIDTH === this.slots.length ? 0 : at + WIDTH;
  }

  private resize(places: number): void {
    const before = this.slots;
    this.places = Math.ceil(places);
    const slots = (this.slots = new Uint32Array(this.places * WIDTH));
    for (let from = 0; from < before.length; from += WIDTH) {
      if (before[from + SOURCE] === 0) continue;
      let at = this.placeOf(before[from + ID]!);
      while (slots[at + SOURCE] !== 0) at = this.next(at);
      for (let i = 0; i < WIDTH; i++) slots[at + i] = before[from + i]!;
    }
  }
}
