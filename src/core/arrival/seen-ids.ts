/** Which message IDs came, of which source, saying what: in some thirty bytes each, however long IDs and messages are. */
import { Lanes } from '../table/text-hash';
import type { Message } from './message';
import { hashContent } from './same-content';

/** ID (two), content (two), source. */
const WIDTH = 5;
const [ID, CONTENT, SOURCE] = [0, 2, 4] as const;
const FIRST_PLACES = 1 << 10;

export interface SeenId {
  /** The same message came before from this source. */
  readonly isAgain: boolean;
  /** Another message came before under this ID from this source. */
  readonly isReused: boolean;
  /** A message came before under this ID from another source. */
  readonly isElsewhere: boolean;
}

/** IDs and contents are told apart by 64 bits each: of a million IDs two are taken for one by chance once in some thirty million runs.
 *  Source: open addressing with linear probing (Knuth, The Art of Computer Programming, volume 3, section 6.4).
 */
export class SeenIds {
  private places = FIRST_PLACES;
  private slots = new Uint32Array(FIRST_PLACES * WIDTH);
  private count = 0;
  private readonly sources = new Map<string, number>();
  private readonly own = new Uint32Array(WIDTH);
  private readonly lanes = new Lanes();

  add(message: Message, sourceId: string): SeenId {
    const { own, lanes } = this;
    lanes.begin().letters(message.id).end(own, ID);
    hashContent(lanes, message, own, CONTENT);
    let source = this.sources.get(sourceId);
    // Nought is a free place.
    if (source === undefined) this.sources.set(sourceId, (source = this.sources.size + 1));
    own[SOURCE] = source;
    let isReused = false;
    let isElsewhere = false;
    let at = this.placeOf(own);
    for (; this.slots[at + SOURCE] !== 0; at = this.next(at)) {
      if (this.slots[at] !== own[0] || this.slots[at + 1] !== own[1]) continue;
      if (this.slots[at + SOURCE] !== source) isElsewhere = true;
      else if (this.slots[at + CONTENT] === own[CONTENT] && this.slots[at + CONTENT + 1] === own[CONTENT + 1])
        return { isAgain: true, isReused, isElsewhere };
      else isReused = true;
    }
    this.slots.set(own, at);
    if (++this.count * 5 > this.places * 4) this.grow();
    return { isAgain: false, isReused, isElsewhere };
  }

  private placeOf(own: Uint32Array): number {
    return (own[ID]! & (this.places - 1)) * WIDTH;
  }

  private next(at: number): number {
    return at + WIDTH === this.slots.length ? 0 : at + WIDTH;
  }

  private grow(): void {
    const before = this.slots;
    this.places *= 2;
    this.slots = new Uint32Array(this.places * WIDTH);
    for (let from = 0; from < before.length; from += WIDTH) {
      if (before[from + SOURCE] === 0) continue;
      const own = before.subarray(from, from + WIDTH);
      let at = this.placeOf(own);
      while (this.slots[at + SOURCE] !== 0) at = this.next(at);
      this.slots.set(own, at);
    }
  }
}
