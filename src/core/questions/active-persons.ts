import { compileStep } from '../table/matcher';
import { periodIndex, periodStarts } from './calendar';
import type { Figure, FigureContext, SeriesPoint } from './figure';
import type { ActivePersons } from './formula';

/** Distinct persons with at least one of the events, per calendar period of the workspace's time zone.
 *  Shape: one point for each period from the first message of the events to now; future messages are left out.
 *  Missing values: a message without a usable identifier counts as a message, never as a person.
 */
export const activePersons = (formula: ActivePersons, { table, personOfMessage, settings, now }: FigureContext): Figure => {
  const tests = formula.events.map((s) => compileStep(table, s));
  const rows: number[] = [];
  let first = Infinity;
  for (let row = 0; row < table.length; row++) {
    if (!tests.some((t) => t(row))) continue;
    const at = table.time.get(row);
    if (at > now) continue;
    rows.push(row);
    if (at < first) first = at;
  }
  if (rows.length === 0) return { type: 'active persons', points: [], latest: undefined, messages: 0, unattributed: 0 };
  const starts = periodStarts(formula.period, first, now, settings.timeZone, settings.weekStartsOn);
  const persons = Array.from({ length: starts.length - 1 }, () => new Set<number>());
  const messages = new Array<number>(starts.length - 1).fill(0);
  let unattributed = 0;
  for (const row of rows) {
    const i = periodIndex(starts, table.time.get(row));
    messages[i]!++;
    const person = personOfMessage[row]!;
    if (person < 0) unattributed++;
    else persons[i]!.add(person);
  }
  const points: SeriesPoint[] = persons.map((set, i) => ({
    from: starts[i]!,
    to: starts[i + 1]!,
    persons: set.size,
    messages: messages[i]!,
    complete: starts[i + 1]! <= now,
  }));
  return { type: 'active persons', points, latest: points.findLast((p) => p.complete), messages: rows.length, unattributed };
};
