import { entries, type PlanEvent } from '../../plan/plan';
import { rowsBefore } from '../../table/column';
import { followingPersons, type Attributed } from '../../table/following-persons';
import type { MessageTable } from '../../table/message-table';
import { byPersonAfter } from '../../table/renumbering';
import { groupRows } from '../../table/sessions';
import { CausesBySource, defineManyCheck, type ManyFound } from '../check-many';
import { isInside, pathOf, type PropertyRef } from '../../plan/property-path';

export interface DoubleFire {
  readonly eventName: string;
  readonly withinMs: number;
}

export const doubleFire = defineManyCheck({
  id: 'double-fire',
  on: 'many',
  title: 'Double fire',
  why: 'Every total and every average per person is too high, and nothing in a single message shows it.',
  example: {
    wrong: 'the same person, event and properties twice within a second',
    right: 'once for each thing that happened',
  },
  method:
    'Messages of one person, event and source that lie within the time of one another by their own clock and carry the same properties; the key that a server confirms by is left out. A source is told where both the number of moments and the share of its messages reach the least.',
  severity: 'stop',
  parameters: {
    within: { title: 'Maximum time between two of the same', unit: 's', value: 1, min: 0.01, max: 3600 },
    min: { title: 'Minimum messages to report', unit: 'messages', value: 3, min: 1, max: 1000000, whole: true },
    share: { title: 'Minimum share to report', unit: '%', value: 0.2, min: 0, max: 100 },
  },
  fixer: () => 'source',
  expected: () => 'one message for what was done once',
  received: (p: DoubleFire) => `two within ${p.withinMs / 1000} s`,
  message: (p: DoubleFire) => `came twice for the same person with the same properties within ${p.withinMs / 1000} s`,
  cause: () => 'A handler is bound twice, or two libraries listen for the same thing.',
  fix: (p: DoubleFire) => `Bind the handler of \`${p.eventName}\` once; until then, count one of each pair.`,
  *find(c, { within, min, share }) {
    const withinMs = within * 1000;
    const { plan, people } = c;
    const { table } = people;
    const out: ManyFound<DoubleFire>[] = [];
    for (const [, event] of entries(plan, 'event')) {
      yield;
      const rows = table.rowsOf(event.name);
      const causes = new CausesBySource(table);
      // What one person sends in one moment is one occurrence, however many messages it has.
      const moments = new Map<number, number>();
      let [lastPerson, lastAt] = [-1, -Infinity];
      const byPerson = (a: number, b: number): number =>
        people.personOfMessage[a]! - people.personOfMessage[b]! || table.time.get(a) - table.time.get(b) || a - b;
      for (const row of [...firedTwice(people, event, withinMs)].sort(byPerson)) {
        causes.of(row).add(row);
        const [person, at] = [people.personOfMessage[row]!, table.time.get(row)];
        const source = table.source.get(row);
        if (person !== lastPerson || at - lastAt > withinMs) moments.set(source, (moments.get(source) ?? 0) + 1);
        [lastPerson, lastAt] = [person, at];
      }
      yield;
      for (const row of rows) if (causes.bySource.has(table.source.get(row))) causes.of(row).outOf++;
      for (const found of causes.found())
        if ((moments.get(table.sources.find(found.sourceId)) ?? 0) >= min && found.count >= (found.outOf * share) / 100)
          out.push({ params: { eventName: event.name, withinMs }, eventName: event.name, field: '', ...found });
    }
    yield* out;
  },
});

interface Fired {
  /** Person → row of their last message of the event, + 1. */
  last: Int32Array;
  readonly hits: Set<number>;
}

interface Asked {
  readonly eventName: string;
  readonly withinMs: number;
  readonly keyProperty: PropertyRef | null;
}

type IsTwice = (before: number, row: number) => boolean;

/** Whether a message of a person is one with another one of theirs before it. */
const twiceIn = (table: MessageTable, key: string): IsTwice => {
  const { withinMs, keyProperty } = JSON.parse(key) as Asked;
  const time = table.time.raw;
  return (before, row) =>
    time[row]! - time[before]! <= withinMs &&
    table.source.get(row) === table.source.get(before) &&
    sameValues(table, before, row, keyProperty);
};

/** Looks at all messages of some persons by time, whatever was found of them before. */
const lookAgain = (
  { last, hits }: Fired,
  { table, personOfMessage, count }: Attributed,
  rows: Int32Array,
  persons: ReadonlySet<number>,
  isTwice: IsTwice,
): void => {
  const again = rows.filter((row) => persons.has(personOfMessage[row]!));
  for (const row of again) hits.delete(row);
  const { order } = groupRows(again, (row) => personOfMessage[row]!, count, table.time.raw);
  order.forEach((row, i) => {
    const p = personOfMessage[row]!;
    const before = i > 0 && personOfMessage[order[i - 1]!] === p ? order[i - 1]! : -1;
    if (before >= 0 && isTwice(before, row)) hits.add(row);
    last[p] = row + 1;
  });
};

const EVENTS = 5000;

const fired = followingPersons(
  (): Fired => ({ last: new Int32Array(0), hits: new Set() }),
  (state, people, from, to, key) => {
    const { table, personOfMessage, count } = people;
    const { eventName } = JSON.parse(key) as Asked;
    if (state.last.length < count) {
      const next = new Int32Array(count + (count >> 3));
      next.set(state.last);
      state.last = next;
    }
    const { last, hits } = state;
    const time = table.time.raw;
    const isTwice = twiceIn(table, key);
    const rows = rowsBefore(table.rowsOf(eventName), to);
    // Of those who have a message that says it happened before one that came earlier, all are looked at again by time.
    const late = new Set<number>();
    for (let i = rowsBefore(rows, from).length; i < rows.length; i++) {
      const row = rows[i]!;
      const p = personOfMessage[row]!;
      if (p < 0) continue;
      const before = last[p]! - 1;
      if (before >= 0 && time[row]! < time[before]!) late.add(p);
      else {
        if (before >= 0 && isTwice(before, row)) hits.add(row);
        last[p] = row + 1;
      }
    }
    if (late.size > 0) lookAgain(state, people, rows, late, isTwice);
    return true;
  },
  // An event has a way of its own.
  EVENTS,
  (state, people, by, key) => {
    state.last = byPersonAfter(state.last, by, Math.max);
    const { eventName } = JSON.parse(key) as Asked;
    lookAgain(
      state,
      people,
      rowsBefore(people.table.rowsOf(eventName), people.personOfMessage.length),
      by.joined,
      twiceIn(people.table, key),
    );
    return true;
  },
);

/** The later ones of two messages of an event that are one thing: of the same person and source, with the same properties, within `withinMs`.
 *  Shape: rows, in any order.
 */
export const firedTwice = (
  people: Attributed,
  { name: eventName, counterpart }: Pick<PlanEvent, 'name' | 'counterpart'>,
  withinMs: number,
): ReadonlySet<number> => fired(people, JSON.stringify({ eventName, withinMs, keyProperty: counterpart?.keyProperty ?? null })).hits;

/** The key that a server confirms by is made anew for each attempt, so it tells no two apart that are one; nor does an object that holds it,
 *  where all else that it holds is kept.
 */
const sameValues = (table: MessageTable, a: number, b: number, key: PropertyRef | null): boolean => {
  const crowded = table.crowdedNames('properties');
  for (const [ref, { column }] of table.properties)
    if (column.get(a) !== column.get(b) && (key === null || !isInside(key, ref) || crowded.has(pathOf(ref)[0]!))) return false;
  return true;
};
