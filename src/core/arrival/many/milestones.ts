import { entries, sessionGapMs } from '../../plan/plan';
import { CausesBySource, defineManyCheck, rowsByPerson, type ManyFound } from '../check-many';
import { refText, type PropertyRef } from '../../plan/property-path';

export interface MilestoneFault {
  readonly eventName: string;
  readonly property: PropertyRef;
  readonly what: 'repeated' | 'out of order';
}

/** So many people are looked at before all else may have its turn. */
const AT_ONCE = 20_000;

export const milestones = defineManyCheck({
  id: 'milestones',
  on: 'many',
  title: 'Milestones not in order',
  why: 'How far people get is read off the milestones; one that comes twice counts a person twice.',
  example: { wrong: '`Guide Finished` before `Guide Begun`', right: '`Guide Begun`, then `Guide Finished`' },
  method:
    'The milestones of one person on one page within a session, by time. A milestone that was reached before is repeated; one that is lower than a reached one, and new, is out of order.',
  severity: 'stop',
  parameters: {
    min: { title: 'Minimum messages to report', unit: 'messages', value: 3, min: 1, max: 1000000, whole: true },
    share: { title: 'Minimum share to report', unit: '%', value: 1, min: 0, max: 100 },
  },
  fixer: () => 'source',
  expected: (p: MilestoneFault) => `each \`${refText(p.property)}\` once on a page, in ascending order`,
  received: (p: MilestoneFault) => (p.what === 'repeated' ? 'one that was reached before' : 'a lower one after a higher one'),
  message: (p: MilestoneFault) =>
    p.what === 'repeated'
      ? `came again with a \`${refText(p.property)}\` that the same person had reached on that page before`
      : `came with a lower \`${refText(p.property)}\` after a higher one`,
  cause: (p: MilestoneFault) =>
    p.what === 'repeated'
      ? 'After a reload the page forgets what was sent, and sends it again.'
      : 'Milestones are sent as the page is scrolled back.',
  fix: (p: MilestoneFault) => `Remember per page which \`${refText(p.property)}\` was sent, over a reload too.`,
  *find(c, { min, share }) {
    const { plan, people } = c;
    const { table, count: persons } = people;
    const gapMs = sessionGapMs(plan);
    const out: ManyFound<MilestoneFault>[] = [];
    for (const [, event] of entries(plan, 'event')) {
      const { series } = event;
      const column = series && table.properties.get(series.property);
      if (!series || !column) continue;
      yield;
      const rank = column.values.values.map((v) => series.values.indexOf(String(v)));
      const rows = table.rowsOf(event.name);
      const time = table.time.raw;
      const { order, start } = rowsByPerson(people, event.name);
      yield;
      const causes = { repeated: new CausesBySource(table), 'out of order': new CausesBySource(table) };
      for (let p = 0; p < persons; p++) {
        if (p % AT_ONCE === 0) yield;
        const onPage = new Map<number, { last: number; reached: number; seen: number }>();
        for (let i = start[p]!; i < start[p + 1]!; i++) {
          const row = order[i]!;
          const v = column.column.get(row);
          const r = v < 0 ? -1 : rank[v]!;
          if (r < 0 || r > 30) continue;
          const page = table.page.get(row);
          const known = onPage.get(page);
          const state = known && time[row]! - known.last <= gapMs ? known : { last: 0, reached: -1, seen: 0 };
          if (state.seen & (1 << r)) causes.repeated.of(row).add(row);
          else if (r < state.reached) causes['out of order'].of(row).add(row);
          onPage.set(page, { last: time[row]!, reached: Math.max(state.reached, r), seen: state.seen | (1 << r) });
        }
      }
      for (const what of ['repeated', 'out of order'] as const) {
        yield;
        for (const row of rows) if (causes[what].bySource.has(table.source.get(row))) causes[what].of(row).outOf++;
        for (const found of causes[what].found())
          if (found.count >= min && found.count >= (found.outOf * share) / 100)
            out.push({ params: { eventName: event.name, property: series.property, what }, eventName: event.name, field: what, ...found });
      }
    }
    yield* out;
  },
});
