import { entries } from '../../plan/plan';
import type { MessageTable } from '../../table/message-table';
import { CausesBySource, defineManyCheck, rowsByPerson, type ManyFound } from '../check-many';

export interface DoubleFire {
  readonly eventName: string;
  readonly withinMs: number;
}

/** Two of the same within this time are one thing that a person did. */
const WITHIN_MS = 1000;
/** A double now and then is a person who is quick. */
const LEAST = 3;
const LEAST_SHARE = 0.002;

export const doubleFire = defineManyCheck({
  id: 'double-fire',
  on: 'many',
  title: 'Double fire',
  why: 'Every total and every average per person is too high, and nothing in a single message shows it.',
  severity: 'stop',
  message: (p: DoubleFire) => `came twice for the same person with the same properties within ${p.withinMs / 1000} s`,
  cause: () => 'A handler is bound twice, or two libraries listen for the same thing.',
  mend: (p: DoubleFire) => `Bind the handler of \`${p.eventName}\` once; until then, count one of each pair.`,
  find(c) {
    const { plan, table, persons } = c;
    const out: ManyFound<DoubleFire>[] = [];
    for (const [, event] of entries(plan, 'event')) {
      const rows = table.rowsOf(event.name);
      const time = table.time.raw;
      const { order, start } = rowsByPerson(c, event.name);
      const causes = new CausesBySource(table);
      for (let p = 0; p < persons; p++)
        for (let i = start[p]! + 1; i < start[p + 1]!; i++) {
          const [before, row] = [order[i - 1]!, order[i]!];
          if (time[row]! - time[before]! > WITHIN_MS || table.source.get(row) !== table.source.get(before)) continue;
          if (sameValues(table, before, row)) causes.of(row).add(row);
        }
      for (const row of rows) if (causes.bySource.has(table.source.get(row))) causes.of(row).of++;
      for (const found of causes.found())
        if (found.count >= LEAST && found.count >= found.of * LEAST_SHARE)
          out.push({ params: { eventName: event.name, withinMs: WITHIN_MS }, eventName: event.name, field: '', ...found });
    }
    return out;
  },
});

const sameValues = (table: MessageTable, a: number, b: number): boolean => {
  for (const { column } of table.properties.values()) if (column.get(a) !== column.get(b)) return false;
  return true;
};
