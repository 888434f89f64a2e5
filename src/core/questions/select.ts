/** What all formulas take from the columns: the messages of a step by time, persons, sessions, user properties as they were.
 *  Long because all that is remembered for one resolution of persons is in one place.
 */
import { Bitset } from '../table/bitset';
import type { SparseColumn } from '../table/sparse-column';
import { lowerBound } from '../table/column';
import { eventView, type EventView } from '../table/event-view';
import { compileConditions, type RowTest, type UserValues } from '../table/matcher';
import { IMPLAUSIBLE_BEHIND_MS } from '../table/plausible';
import { groupRows, sessionsOf, type Sessions } from '../table/sessions';
import type { FigureContext, Outside } from './figure';
import type { Step } from './formula';
import type { PropertyRef } from '../plan/property-path';
import { PathMap } from '../plan/property-path';

interface Derived {
  readonly userValues: PathMap<UserValues>;
  readonly byPerson: WeakMap<EventView, ByPerson>;
  readonly values: WeakMap<EventView, Map<SparseColumn, Int32Array>>;
  readonly stretches: WeakMap<EventView, Map<string, StretchPersons>>;
}

/** What was worked out for a resolution of persons; it lives as long as that does, and a new message makes a new one. */
const derived = new WeakMap<Int32Array, Derived>();
const derivedOf = (persons: Int32Array): Derived => {
  let d = derived.get(persons);
  if (!d) {
    d = {
      userValues: new PathMap(),
      byPerson: new WeakMap(),
      values: new WeakMap(),
      stretches: new WeakMap(),
    };
    derived.set(persons, d);
  }
  return d;
};

/** One more than the greatest person. */
export const personCount = ({ people }: Pick<FigureContext, 'people'>): number => people.count;

export const sessionsIn = (c: Pick<FigureContext, 'people' | 'settings'>): Sessions =>
  sessionsOf(c.people, c.settings.sessionGapMinutes * 60_000);

/** A user property as it was at each message: the value that the person's last message up to then set.
 *  Messages before it was first set have none; it is never applied backwards.
 */
export const userValuesIn = (c: Pick<FigureContext, 'people'>, name: PropertyRef): UserValues => {
  const known = derivedOf(c.people.personOfMessage).userValues;
  const found = known.get(name);
  if (found) return found;
  const { table, personOfMessage } = c.people;
  const p = table.userProperties.get(name);
  let made: UserValues;
  if (!p) made = { at: () => -1, values: [] };
  else {
    const set = p.column;
    const time = table.time.raw;
    const rows: number[] = [];
    for (let row = 0; row < personOfMessage.length; row++) if (set.get(row) >= 0) rows.push(row);
    const { order, start } = groupRows(Int32Array.from(rows), (row) => personOfMessage[row]!, personCount(c), time);
    made = {
      values: p.values.values,
      at: (row) => {
        const person = personOfMessage[row] ?? -1;
        if (person < 0) return -1;
        let lo = start[person]!;
        let hi = start[person + 1]!;
        const t = time[row]!;
        while (lo < hi) {
          const mid = (lo + hi) >> 1;
          if (time[order[mid]!]! <= t) lo = mid + 1;
          else hi = mid;
        }
        return lo === start[person] ? -1 : set.get(order[lo - 1]!);
      },
    };
  }
  known.add(name, made);
  return made;
};

const viewOf = (c: FigureContext, eventName: string): EventView => eventView(c.people, eventName);

const slice = (v: EventView, from: number, to: number): EventView =>
  from === 0 && to === v.rows.length
    ? v
    : {
        rows: v.rows.subarray(from, to),
        time: v.time.subarray(from, to),
        person: v.person.subarray(from, to),
        ...(v.eventName === undefined ? {} : { eventName: v.eventName }),
        cutFrom: { view: v.cutFrom?.view ?? v, at: from + (v.cutFrom?.at ?? 0) },
      };

const filteredBy = (v: EventView, test: RowTest): EventView => {
  const rows = new Int32Array(v.rows.length);
  const time = new Float64Array(v.rows.length);
  const person = new Int32Array(v.rows.length);
  let n = 0;
  for (let i = 0; i < v.rows.length; i++) {
    const row = v.rows[i]!;
    if (!test(row)) continue;
    rows[n] = row;
    time[n] = v.time[i]!;
    person[n++] = v.person[i]!;
  }
  return slice({ rows, time, person, ...(v.eventName === undefined ? {} : { eventName: v.eventName }) }, 0, n);
};

/** A step as a test of the messages of its event, or of several that share messages; `undefined` where all of them are the step's. */
const stepTest = (c: FigureContext, eventName: string, step: Step): RowTest | undefined => {
  const { table } = c.people;
  const where = compileConditions(table, step.eventName, step.where, (name) => userValuesIn(c, name));
  if (step.eventName === eventName) return where;
  const own = new Bitset(table.length);
  for (const row of table.rowsOf(step.eventName)) own.add(row);
  return where ? (row) => own.has(row) && where(row) : (row) => own.has(row);
};

/** Messages of any of the steps of one event, up to now and not before `since`, by time; filters and, for the main step, the group are
 *  kept. What is not narrowed by any condition is a view that nothing is copied for.
 */
const selectNamed = (c: FigureContext, eventName: string, steps: readonly Step[], since: number, main: boolean): EventView => {
  const whole = viewOf(c, eventName);
  const from = since === -Infinity ? 0 : lowerBound(whole.time, since);
  const to = lowerBound(whole.time, c.now + 1);
  const range = slice(whole, from, Math.max(from, to));
  const { allows } = c;
  const inGroup = main ? c.inGroup : undefined;
  const wheres = steps.map((s) => stepTest(c, eventName, s));
  const any = wheres.some((w) => w === undefined)
    ? undefined
    : wheres.length === 1
      ? wheres[0]
      : (row: number) => wheres.some((w) => w!(row));
  const tests = [any, allows, inGroup].filter((t) => t !== undefined);
  const [a, b] = tests;
  return !a ? range : filteredBy(range, !b ? a : (row) => tests.every((t) => t(row)));
};

/** A step's messages as a stretch of all messages of its event, where nothing narrows it; `undefined` where something does. What is
 *  worked out for all messages of an event is then kept for the next formula.
 */
export const stretchOf = (
  c: FigureContext,
  step: Step,
  since: number,
  main: boolean,
): { readonly view: EventView; readonly from: number; readonly to: number } | undefined => {
  if (step.where.length > 0 || c.allows || (main && c.inGroup)) return undefined;
  const view = viewOf(c, step.eventName);
  return { view, from: lowerBound(view.time, since), to: lowerBound(view.time, c.now + 1) };
};

export const select = (c: FigureContext, step: Step, since = -Infinity, main = true): EventView =>
  selectNamed(c, step.eventName, [step], since, main);

/** Messages of any of the steps, an event at a time, or all at once where events share messages, so that no message comes twice. */
export const selectAny = (c: FigureContext, steps: readonly Step[], since = -Infinity, main = true): EventView[] => {
  const union = c.people.table.unionOf([...new Set(steps.map((s) => s.eventName))]);
  if (union !== undefined) return [selectNamed(c, union, steps, since, main)];
  const byName = new Map<string, Step[]>();
  for (const s of steps) byName.set(s.eventName, [...(byName.get(s.eventName) ?? []), s]);
  return [...byName].map(([name, own]) => selectNamed(c, name, own, since, main));
};

/** Positions of a view by person: those of person p are `order[start[p] .. start[p+1])`, by time. */
export interface ByPerson {
  readonly order: Int32Array;
  readonly start: Int32Array;
  /** Time and row of each, laid out in this order, so that a person's messages are read one after the other. */
  readonly time: Float64Array;
  readonly rows: Int32Array;
}

export const byPerson = (c: FigureContext, v: EventView): ByPerson => {
  const known = derivedOf(c.people.personOfMessage).byPerson;
  let made = known.get(v);
  if (!made) {
    const persons = personCount(c);
    const start = new Int32Array(persons + 1);
    for (let i = 0; i < v.person.length; i++) if (v.person[i]! >= 0) start[v.person[i]! + 1]!++;
    for (let p = 0; p < persons; p++) start[p + 1]! += start[p]!;
    const next = start.slice(0, persons);
    const order = new Int32Array(start[persons]!);
    const time = new Float64Array(order.length);
    const rows = new Int32Array(order.length);
    for (let i = 0; i < v.person.length; i++) {
      if (v.person[i]! < 0) continue;
      const at = next[v.person[i]!]!++;
      order[at] = i;
      time[at] = v.time[i]!;
      rows[at] = v.rows[i]!;
    }
    known.set(v, (made = { order, start, time, rows }));
  }
  return made;
};

/** Index of a property's value for each message of a view, −1 for none; `undefined` where the property never arrived.
 *  All messages of an event are laid out once; a stretch of them is a stretch of that.
 */
export const valuesIn = (c: FigureContext, v: EventView, property: PropertyRef): Int32Array | undefined => {
  const column = c.people.table.propertyOf(v.eventName ?? '', property)?.column;
  if (!column) return undefined;
  const { view, at } = v.cutFrom ?? { view: v, at: 0 };
  const known = derivedOf(c.people.personOfMessage).values;
  let ofView = known.get(view);
  if (!ofView) known.set(view, (ofView = new Map<SparseColumn, Int32Array>()));
  let made = ofView.get(column);
  if (!made) {
    made = new Int32Array(view.rows.length);
    column.take(view.rows, made);
    ofView.set(column, made);
  }
  return made.subarray(at, at + v.rows.length);
};

/** Positions where the periods begin in a view; one more at the end. */
export const cuts = (v: EventView, starts: readonly number[]): Int32Array => Int32Array.from(starts, (s) => lowerBound(v.time, s));

/** Adds the persons of a stretch of a view; how many messages are nobody's.
 *  Which message is a person's first is hard to guess, so every bit is set without asking, and all are counted at the end.
 */
export const addPersons = (set: Bitset, { person }: EventView, from: number, to: number): number => {
  const { words } = set;
  let nobody = 0;
  for (let i = from; i < to; i++) {
    const p = person[i]!;
    if (p >= 0) words[p >>> 5]! |= 1 << (p & 31);
    else nobody++;
  }
  set.count();
  return nobody;
};

/** Adds the persons of those messages of a stretch that `truth`, one place further on than `index` says, has a 1 for. */
export const addJudged = (set: Bitset, { person }: EventView, index: Int32Array, truth: Uint8Array, from: number, to: number): void => {
  const { words } = set;
  for (let i = from; i < to; i++) {
    const p = person[i]!;
    if (p >= 0) words[p >>> 5]! |= truth[index[i]! + 1]! << (p & 31);
  }
  set.count();
};

export interface StretchPersons {
  readonly persons: Bitset;
  readonly unattributed: number;
}

/** A year of weeks, and some. */
const MAX_STRETCHES = 64;

/** The persons of a stretch of a view, remembered while no message comes: whatever is asked about their messages, they are the same. */
export const personsOfStretch = (c: FigureContext, v: EventView, from: number, to: number): StretchPersons => {
  const { view, at } = v.cutFrom ?? { view: v, at: 0 };
  const known = derivedOf(c.people.personOfMessage).stretches;
  let ofView = known.get(view);
  if (!ofView) known.set(view, (ofView = new Map<string, StretchPersons>()));
  const key = `${at + from} ${at + to}`;
  let made = ofView.get(key);
  if (!made) {
    if (ofView.size >= MAX_STRETCHES) ofView.clear();
    const persons = new Bitset(personCount(c));
    const unattributed = addPersons(persons, v, from, to);
    ofView.set(key, (made = { persons, unattributed }));
  }
  return made;
};

/** The distinct persons of views, and how many messages are nobody's. */
export const personsOf = (c: FigureContext, views: readonly EventView[]): { persons: Bitset; unattributed: number } => {
  const persons = new Bitset(personCount(c));
  let unattributed = 0;
  for (const v of views) unattributed += addPersons(persons, v, 0, v.rows.length);
  return { persons, unattributed };
};

/** Earliest time of views that can be believed, else the earliest; `undefined` without a message. */
export const firstTime = ({ people: { table } }: Pick<FigureContext, 'people'>, views: readonly EventView[]): number | undefined => {
  let [first, believed] = [Infinity, Infinity];
  for (const { rows, time } of views) {
    if (rows.length === 0) continue;
    first = Math.min(first, time[0]!);
    let i = 0;
    while (i < rows.length && table.received.get(rows[i]!) - time[i]! > IMPLAUSIBLE_BEHIND_MS) i++;
    if (i < rows.length) believed = Math.min(believed, time[i]!);
  }
  return Number.isFinite(believed) ? believed : Number.isFinite(first) ? first : undefined;
};

/** Messages of the steps that no period of a series shows: dated before its begin, or after now. */
export const outsideOf = (c: FigureContext, views: readonly EventView[], begin: number): Outside => {
  let [before, after] = [0, 0];
  for (const v of views) before += lowerBound(v.time, begin);
  const names = new Set(views.map((v) => v.eventName ?? ''));
  for (const name of names) {
    const { time } = viewOf(c, name);
    after += time.length - lowerBound(time, c.now + 1);
  }
  return { before, after };
};

/** Number of messages of nobody in a stretch of a view. */
export const unattributedIn = ({ person }: EventView, from = 0, to = person.length): number => {
  let n = 0;
  for (let i = from; i < to; i++) n += person[i]! >>> 31;
  return n;
};
