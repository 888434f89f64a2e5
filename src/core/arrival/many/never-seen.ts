import { entries } from '../../plan/plan';
import { messagesBySource } from '../../table/cube';
import { defineManyCheck, roughSpan, type ManyFound } from '../check-many';
import { seenFrom } from '../seen';
import { waitFor } from '../waiting';

export interface NeverSeen {
  readonly eventName: string;
  readonly watchedMs: number;
  readonly state: 'waiting' | 'fault';
}

/** A source that sent fewer than this shows nothing by what it did not send. */
const MIN_OF_SOURCE = 20;

export const neverSeen = defineManyCheck({
  id: 'never-seen',
  on: 'many',
  title: 'Planned and never seen',
  why: 'A question that waits for it stays without an answer, and nobody is told.',
  example: {
    wrong: 'an event that was published four days ago, and has not come once',
    right: 'an event whose first message came within the hours that the workspace gives it',
  },
  method:
    'Pairs of a planned event and a source that sends other things. The time runs since the pair was published, or since the source first sent anything, where that is later: too early, then waiting, then a fault, after the hours that the workspace sets; a fault only where the source has sent 20 messages.',
  severity: 'caution',
  fixer: () => 'source',
  expected: () => 'messages of it from this source',
  received: (p: NeverSeen) => `none in ${roughSpan(p.watchedMs)}`,
  message: (p: NeverSeen) =>
    `was never sent in the ${roughSpan(p.watchedMs)} since it was planned${p.state === 'waiting' ? '; it may still come' : ''}`,
  cause: (p: NeverSeen) => (p.state === 'waiting' ? 'It may not have happened yet.' : 'It was not built, or is sent under another name.'),
  fix: (p: NeverSeen) => `Build \`${p.eventName}\`, or set its build state to proposed.`,
  find(c) {
    const { plan, people, now } = c;
    const { table } = people;
    const out: ManyFound<NeverSeen>[] = [];
    const sending = new Set(table.sources.values);
    for (const [eventId, event] of entries(plan, 'event')) {
      for (const s of event.sources) {
        // Of a source that sends nothing at all, its silence is the finding, not that of each event.
        if (!sending.has(s.sourceId) || seenFrom(table, event.name, s.sourceId)) continue;
        const wait = waitFor({ ...c, table }, eventId, s.sourceId);
        if (!wait || wait.state === 'too early') continue;
        const { state, since } = wait;
        // Where the source itself has hardly sent anything, nothing of it is missing yet.
        if (state === 'fault' && (messagesBySource(table)[table.sources.find(s.sourceId)] ?? 0) < MIN_OF_SOURCE) continue;
        out.push({
          params: { eventName: event.name, watchedMs: wait.lastedMs, state },
          eventName: event.name,
          field: '',
          sourceId: s.sourceId,
          releases: [],
          count: 0,
          outOf: 0,
          firstAt: since,
          lastAt: now,
          rows: [],
          ...(state === 'waiting' ? { severity: 'note' as const } : {}),
        });
      }
    }
    return out;
  },
});
