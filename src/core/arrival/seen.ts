/** What arrivals say of the build state: which event came from which source, since when and in which release. */
import { entries, type BuildState, type EventSource, type Id, type Plan } from '../plan/plan';
import { following } from '../table/following';
import type { MessageTable } from '../table/message-table';

export interface Seen {
  /** When the first message was received, UTC epoch ms, and in which release. */
  readonly at: number;
  readonly release: string;
  messages: number;
  /** The release that came last and that a trial verified; left out where none did. */
  readonly verifiedIn?: string | undefined;
}

interface Row {
  at: number;
  release: number;
  messages: number;
}

/** By the index of the name, then of the source. */
const firsts = following(
  () => new Map<number, Map<number, Row>>(),
  (state, { name, source, release, received }, from, to) => {
    for (let row = from; row < to; row++) {
      const n = name.get(row);
      if (n < 0) continue;
      let ofName = state.get(n);
      if (!ofName) state.set(n, (ofName = new Map<number, Row>()));
      const at = received.get(row);
      const own = ofName.get(source.get(row));
      if (!own) ofName.set(source.get(row), { at, release: release.get(row), messages: 1 });
      else {
        own.messages++;
        if (at < own.at) {
          own.at = at;
          own.release = release.get(row);
        }
      }
    }
  },
);

/** Whether and since when an event came from a source; `undefined` where it never did. */
export const seenFrom = (table: MessageTable, eventName: string, sourceId: string): Seen | undefined => {
  const own = firsts(table).get(table.names.find(eventName))?.get(table.sources.find(sourceId));
  return own && { at: own.at, release: table.releases.values[own.release] ?? '', messages: own.messages };
};

/** By the indexes of name, source and release: when the first message was received. */
const releases = following(
  () => new Map<number, Map<number, Map<number, number>>>(),
  (state, { name, source, release, received }, from, to) => {
    for (let row = from; row < to; row++) {
      const n = name.get(row);
      if (n < 0) continue;
      let ofName = state.get(n);
      if (!ofName) state.set(n, (ofName = new Map<number, Map<number, number>>()));
      let own = ofName.get(source.get(row));
      if (!own) ofName.set(source.get(row), (own = new Map<number, number>()));
      const known = own.get(release.get(row));
      const at = received.get(row);
      if (known === undefined || at < known) own.set(release.get(row), at);
    }
  },
);

/** The release of an event from a source that came last: an older one that goes on sending beside it is not the newest. `undefined` where none came. */
export const newestReleaseFrom = (table: MessageTable, eventName: string, sourceId: string): string | undefined => {
  let [newest, at] = [-1, -Infinity];
  for (const [release, first] of releases(table).get(table.names.find(eventName))?.get(table.sources.find(sourceId)) ?? [])
    if (first > at) [newest, at] = [release, first];
  return newest < 0 ? undefined : (table.releases.values[newest] ?? '');
};

/** Messages of an event by source: the sources' ids, in the order of first sight. */
export const sourcesOf = (table: MessageTable, eventName: string): Map<string, Seen> =>
  new Map(
    [...(firsts(table).get(table.names.find(eventName)) ?? [])].map(([source, own]) => [
      table.sources.values[source]!,
      { at: own.at, release: table.releases.values[own.release] ?? '', messages: own.messages },
    ]),
  );

export interface SeenPair extends Seen {
  readonly eventId: Id;
  readonly sourceId: Id;
}

/** Every planned pair that came. Shape: in the order of the plan; `isVerified` says whether a trial verified an event from a source in a release. */
export const seenPairs = (
  plan: Plan,
  table: MessageTable,
  isVerified: (names: readonly string[], sourceId: Id, release: string) => boolean = () => false,
): SeenPair[] =>
  entries(plan, 'event').flatMap(([eventId, e]) =>
    e.sources.flatMap(({ sourceId }) => {
      const seen = seenFrom(table, e.name, sourceId);
      if (!seen) return [];
      const newest = newestReleaseFrom(table, e.name, sourceId) ?? '';
      const proven = isVerified([e.name, ...e.formerNames], sourceId, newest);
      return [{ eventId, sourceId, ...seen, ...(proven ? { verifiedIn: newest } : {}) }];
    }),
  );

/** The build state as it is: what arrived is seen, and what a trial passed verified, whatever the plan still says; what was verified or retired there
 *  stays that.
 */
export const buildStateOf = (s: Pick<EventSource, 'build'>, seen: Seen | undefined): BuildState =>
  !seen || s.build === 'verified' || s.build === 'retired' ? s.build : seen.verifiedIn === undefined ? 'seen' : 'verified';
