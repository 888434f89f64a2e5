import { entries, settingsOf } from '../../plan/plan';
import { cubeOf } from '../../table/cube';
import { defineManyCheck, roughSpan, type ManyFound } from '../check-many';

export interface NeverSeen {
  readonly eventName: string;
  readonly watchedMs: number;
  readonly state: 'waiting' | 'fault';
}

const HOUR_MS = 3_600_000;

export const neverSeen = defineManyCheck({
  id: 'never-seen',
  on: 'many',
  title: 'Planned and never seen',
  why: 'A question that waits for it stays without an answer, and nobody is told.',
  severity: 'caution',
  mender: () => 'source',
  expected: () => 'messages of it from this source',
  received: (p: NeverSeen) => `none in ${roughSpan(p.watchedMs)}`,
  message: (p: NeverSeen) =>
    `was never sent in the ${roughSpan(p.watchedMs)} since it was planned${p.state === 'waiting' ? '; it may still come' : ''}`,
  cause: (p: NeverSeen) => (p.state === 'waiting' ? 'It may not have happened yet.' : 'It was not built, or is sent under another name.'),
  mend: (p: NeverSeen) => `Build \`${p.eventName}\`, or set its build state to proposed.`,
  find({ plan, table, now, watchedSince }) {
    const { tooEarlyHours, escalationHours } = settingsOf(plan);
    const out: ManyFound<NeverSeen>[] = [];
    const watchedMs = now - watchedSince;
    if (watchedMs < tooEarlyHours * HOUR_MS) return out;
    const state = watchedMs >= escalationHours * HOUR_MS ? 'fault' : 'waiting';
    const sending = new Set(table.sources.values);
    const sources = new Map<number, Set<number>>();
    for (const { name, source } of cubeOf(table)) {
      if (name < 0) continue;
      const by = sources.get(name);
      if (by) by.add(source);
      else sources.set(name, new Set([source]));
    }
    for (const [, event] of entries(plan, 'event')) {
      if (event.retired || event.name === '') continue;
      const by = sources.get(table.names.find(event.name)) ?? new Set<number>();
      for (const s of event.sources) {
        // Of a source that sends nothing at all, its silence is the finding, not that of each event.
        if (!s.required || s.build === 'proposed' || s.build === 'retired' || !sending.has(s.sourceId)) continue;
        if (by.has(table.sources.find(s.sourceId))) continue;
        out.push({
          params: { eventName: event.name, watchedMs, state },
          eventName: event.name,
          field: '',
          sourceId: s.sourceId,
          releases: [],
          count: 0,
          of: 0,
          firstAt: watchedSince,
          lastAt: now,
          rows: [],
          ...(state === 'waiting' ? { severity: 'note' as const } : {}),
        });
      }
    }
    return out;
  },
});
