/** Releases of a source: since when each sends, what of it is an event, and what it should have sent by now. */
import { cubeOf } from '../table/cube';
import { following } from '../table/following';
import type { MessageTable } from '../table/message-table';
import { DAY_MS } from '../time';

interface Sending {
  /** By when messages were received, UTC epoch ms. */
  first: number;
  last: number;
  messages: number;
}

/** Source → release → when and how much it sent, of anything; indexes of the table. */
const sending = following(
  () => new Map<number, Map<number, Sending>>(),
  (state, { source, release, received }, from, to) => {
    for (let row = from; row < to; row++) {
      const s = source.get(row);
      let own = state.get(s);
      if (!own) state.set(s, (own = new Map<number, Sending>()));
      const at = received.get(row);
      const known = own.get(release.get(row));
      if (!known) own.set(release.get(row), { first: at, last: at, messages: 1 });
      else {
        known.messages++;
        if (at < known.first) known.first = at;
        if (at > known.last) known.last = at;
      }
    }
  },
);

const RELEASES = 100_000;
/** A source and a release in one number. */
export const pairOf = (source: number, release: number): number => source * RELEASES + release;

export interface FirstOfRelease {
  at: number;
  readonly source: number;
  readonly release: number;
}

/** Event → when each release of a source first sent it; indexes of the table. */
export const firstOfRelease = following(
  () => new Map<number, Map<number, FirstOfRelease>>(),
  (state, { name, source, release, received }, from, to) => {
    for (let row = from; row < to; row++) {
      const n = name.get(row);
      if (n < 0) continue;
      let own = state.get(n);
      if (!own) state.set(n, (own = new Map<number, FirstOfRelease>()));
      const key = pairOf(source.get(row), release.get(row));
      const at = received.get(row);
      const known = own.get(key);
      if (!known) own.set(key, { at, source: source.get(row), release: release.get(row) });
      else if (at < known.at) known.at = at;
    }
  },
);

export interface WithoutEvent {
  readonly release: string;
  /** What it has sent, and how many of the event would be usual among that. */
  readonly messages: number;
  readonly expected: number;
  /** Since its first message, and how long other releases took to the first of the event, in the middle; ms. */
  readonly ageMs: number;
  readonly usualMs: number;
}

/** A release that was heard of within so long is in use. */
const IN_USE_MS = 7 * DAY_MS;

/** Releases of a source that are in use and have not sent an event that others of the same source send.
 *  Shape: newest first. `expected` is by the share that the event has of what the others send. Messages without a release are of none.
 */
export const releasesWithout = (table: MessageTable, eventName: string, sourceId: string, now: number): WithoutEvent[] => {
  const source = table.sources.find(sourceId);
  const all = sending(table).get(source);
  const firsts = firstOfRelease(table).get(table.names.find(eventName));
  if (!all || !firsts) return [];
  const of = new Map<number, number>();
  const name = table.names.find(eventName);
  for (const c of cubeOf(table)) if (c.name === name && c.source === source) of.set(c.release, (of.get(c.release) ?? 0) + c.messages);
  const having = [...all].filter(([r]) => (of.get(r) ?? 0) > 0);
  const [theirs, events] = [having.reduce((n, [, s]) => n + s.messages, 0), [...of.values()].reduce((n, x) => n + x, 0)];
  if (theirs === 0) return [];
  const delays = having.map(([r, s]) => firsts.get(pairOf(source, r))!.at - s.first).sort((a, b) => a - b);
  return [...all]
    .filter(([r, s]) => (of.get(r) ?? 0) === 0 && table.releases.values[r] !== '' && now - s.last <= IN_USE_MS)
    .map(([r, s]) => ({
      release: table.releases.values[r] ?? '',
      messages: s.messages,
      expected: (s.messages * events) / theirs,
      ageMs: Math.max(0, now - s.first),
      usualMs: delays[delays.length >> 1]!,
    }))
    .sort((a, b) => a.ageMs - b.ageMs);
};
