import { entries, type PlanEvent } from '../../plan/plan';
import type { Attributed } from '../../identity/persons';
import type { MessageTable } from '../../table/message-table';
import { CausesBySource, defineManyCheck, rowsByPerson, type ManyFound } from '../check-many';

export interface DoubleFire {
  readonly eventName: string;
  readonly withinMs: number;
}

export const doubleFire = defineManyCheck({
  id: 'double-fire',
  on: 'many',
  title: 'Double fire',
  why: 'Every total and every average per person is too high, and nothing in a single message shows it.',
  severity: 'stop',
  parameters: {
    within: { title: 'Two of the same within this time are one thing that a person did', unit: 's', value: 1, least: 0.01, most: 3600 },
    least: { title: 'So few are a person who is quick', unit: 'messages', value: 3, least: 1, most: 1000000, whole: true },
    share: { title: 'So small a share of all is a person who is quick', unit: '%', value: 0.2, least: 0, most: 100 },
  },
  mender: () => 'source',
  expected: () => 'one message for what was done once',
  received: (p: DoubleFire) => `two within ${p.withinMs / 1000} s`,
  message: (p: DoubleFire) => `came twice for the same person with the same properties within ${p.withinMs / 1000} s`,
  cause: () => 'A handler is bound twice, or two libraries listen for the same thing.',
  mend: (p: DoubleFire) => `Bind the handler of \`${p.eventName}\` once; until then, count one of each pair.`,
  find(c, { within, least, share }) {
    const withinMs = within * 1000;
    const { plan, people } = c;
    const { table } = people;
    const out: ManyFound<DoubleFire>[] = [];
    for (const [, event] of entries(plan, 'event')) {
      const rows = table.rowsOf(event.name);
      const causes = new CausesBySource(table);
      // What one person sends in one moment is one occurrence, however many messages it has.
      const moments = new Map<number, number>();
      let [lastPerson, lastAt] = [-1, -Infinity];
      for (const row of firedTwice(people, event, withinMs)) {
        causes.of(row).add(row);
        const [person, at] = [people.personOfMessage[row]!, table.time.get(row)];
        const source = table.source.get(row);
        if (person !== lastPerson || at - lastAt > withinMs) moments.set(source, (moments.get(source) ?? 0) + 1);
        [lastPerson, lastAt] = [person, at];
      }
      for (const row of rows) if (causes.bySource.has(table.source.get(row))) causes.of(row).of++;
      for (const found of causes.found())
        if ((moments.get(table.sources.find(found.sourceId)) ?? 0) >= least && found.count >= (found.of * share) / 100)
          out.push({ params: { eventName: event.name, withinMs }, eventName: event.name, field: '', ...found });
    }
    return out;
  },
});

/** The later ones of two messages of an event that are one thing: of the same person and source, with the same properties, within `withinMs`.
 *  Shape: rows, person by person, those of each by time.
 */
export function* firedTwice(
  people: Attributed,
  { name: eventName, counterpart }: Pick<PlanEvent, 'name' | 'counterpart'>,
  withinMs: number,
): Iterable<number> {
  const { table, count: persons } = people;
  const time = table.time.raw;
  const { order, start } = rowsByPerson(people, eventName);
  for (let p = 0; p < persons; p++)
    for (let i = start[p]! + 1; i < start[p + 1]!; i++) {
      const [before, row] = [order[i - 1]!, order[i]!];
      if (time[row]! - time[before]! > withinMs || table.source.get(row) !== table.source.get(before)) continue;
      if (sameValues(table, before, row, counterpart?.keyProperty)) yield row;
    }
}

/** The key that a server confirms by is made anew for each attempt, so it tells no two apart that are one. */
const sameValues = (table: MessageTable, a: number, b: number, key: string | undefined): boolean => {
  for (const [name, { column }] of table.properties) if (name !== key && column.get(a) !== column.get(b)) return false;
  return true;
};
