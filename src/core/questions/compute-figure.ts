/** A question's whole answer: the figure, the same without its filters, and by group. */
import { Bitset } from '../table/bitset';
import { rowsBefore } from '../table/column';
import type { RowTest } from '../table/matcher';
import { shownValue, type Scalar } from '../table/message-table';
import type { Interval } from '../stats/wilson';
import { tracesOf, type Trace } from '../definitions/traces';
import { likeness } from '../naming/likeness';
import { bucketed } from './buckets';
import type { Figure, FigureContext, PeriodSpan } from './figure';
import { ownSteps, stepsOf, type Conversion, type Formula, type PersonFilter, type ShareWhoAlsoDid } from './formula';
import { computationOf, headlineOf } from './formulas/computations';
import { personsOf, select, selectAny, sessionsIn, userValuesIn } from './select';
import { DAY_MS } from '../time';
import { isOpenRef } from '../plan/property-path';

/** Messages, sessions with at least one, and persons of an event, within the days that the formula looks at: three counts that people
 *  mistake for each other.
 */
export interface Reach {
  readonly eventName: string;
  readonly messages: number;
  readonly sessions: number;
  readonly persons: number;
  readonly unattributed: number;
}

/** Messages of X that are still there after those who did X were left out: of nobody, or in no session. None are left where the definition of
 *  X and the persons are right.
 */
export interface Control {
  readonly eventName: string;
  readonly who: PersonFilter['who'];
  readonly left: number;
  /** Names that differ from X only in case or by a letter or two, and came from persons who were kept. */
  readonly alike: readonly { readonly name: string; readonly messages: number }[];
  /** Other events that stand for the same act, and that persons have who stay in: then X is not all that it should be. */
  readonly traces: readonly Trace[];
  /** Events that came too often to be compared. */
  readonly notCompared: readonly string[];
}

/** An event with more messages than this is not compared with X: it takes too long, and what comes so often is no rare act. */
const MOST_COMPARED = 400_000;

/** What else stands for the act: other events and definitions, but for those that X is made of, which hold it by their nature. */
const tracesIn = (x: string, { people: { table, personOfMessage } }: FigureContext): Pick<Control, 'traces' | 'notCompared'> => {
  const isCompared = (rows: Int32Array): boolean => rows.length > 0 && rows.length <= MOST_COMPARED;
  const known = (name: string): Int32Array => rowsBefore(table.rowsOf(name), personOfMessage.length);
  const made = table.madeOf(x);
  const names = [...new Set([...table.names.values, ...table.definedNames()])].filter((n) => n !== x && !made.has(n));
  const acts = known(x);
  if (!isCompared(acts)) return { traces: [], notCompared: acts.length === 0 ? [] : [x] };
  const others = new Map(names.map((n) => [n, known(n)] as const).filter(([, rows]) => isCompared(rows)));
  return {
    traces: tracesOf({ acts, others, table, personOfMessage }),
    notCompared: names.filter((n) => known(n).length > MOST_COMPARED),
  };
};

const controlsOf = (f: Formula, c: FigureContext, narrowed: FigureContext): Control[] =>
  (f.filters ?? [])
    .filter((x) => x.mode === 'leaving out' && x.did.eventName !== '')
    .map((x) => ({
      eventName: x.did.eventName,
      who: x.who,
      left: select({ ...c, allows: narrowed.allows! }, x.did, -Infinity, false).rows.length,
      alike: c.people.table.names.values
        .filter((name) => name !== x.did.eventName && likeness(name, x.did.eventName) !== undefined)
        .map((name) => ({
          name,
          messages: rowsBefore(c.people.table.rowsOf(name), c.people.personOfMessage.length).filter((row) => narrowed.allows!(row)).length,
        }))
        .filter((a) => a.messages > 0),
      ...tracesIn(x.did.eventName, c),
    }));

export interface GroupFigure {
  /** `undefined`: the messages that lack the property. */
  readonly value: Scalar | undefined;
  readonly messages: number;
  readonly persons: number;
  /** Messages per person; `undefined` without a person. */
  readonly perPerson: number | undefined;
  readonly headline: number | undefined;
  readonly interval: Interval | undefined;
}

export interface FigureAnswer {
  readonly figure: Figure;
  /** The figure without the filters; only where there are any. */
  readonly unfiltered: Figure | undefined;
  /** For each filter that leaves out: what it should have left nothing of. */
  readonly controls: readonly Control[];
  readonly reach: readonly Reach[];
  /** By messages per person, greatest first. */
  readonly groups: readonly GroupFigure[] | undefined;
  /** Groups beyond those shown. */
  readonly moreGroups: number;
}

const passes = (c: FigureContext, f: PersonFilter): RowTest => {
  const own = select(c, f.did, -Infinity, false);
  if (f.who === 'persons') {
    const { persons } = personsOf(c, [own]);
    const { personOfMessage } = c.people;
    return f.mode === 'keeping only' ? (row) => persons.has(personOfMessage[row]!) : (row) => !persons.has(personOfMessage[row]!);
  }
  const { ofMessage, numbers } = sessionsIn(c);
  const sessions = new Bitset(numbers);
  for (const row of own.rows) if (ofMessage[row]! >= 0) sessions.add(ofMessage[row]!);
  return f.mode === 'keeping only' ? (row) => sessions.has(ofMessage[row]!) : (row) => !sessions.has(ofMessage[row]!);
};

const filtered = (f: Formula, c: FigureContext): FigureContext => {
  const tests = (f.filters ?? []).filter((x) => x.did.eventName !== '').map((x) => passes(c, x));
  return tests.length === 0 ? c : { ...c, allows: (row) => tests.every((t) => t(row)) };
};

/** From when on all events that a formula names are measured; −∞ where they are for as long as anything arrives. */
const measuredFrom = (f: Formula, { people: { table } }: FigureContext): number =>
  Math.max(-Infinity, ...stepsOf(f).map((s) => table.measuredFrom(s.eventName)));

/** What is counted where an event is measured from some day on: of the others nothing before it, or a share would compare what is measured with what
 *  is not. Of a retention whole days, since whose first message was before it cannot be told.
 */
const measured = (f: Formula, c: FigureContext): FigureContext => {
  const from = measuredFrom(f, c);
  if (from === -Infinity || f.type === 'retention') return c;
  const time = c.people.table.time.raw;
  const { allows } = c;
  return { ...c, allows: (row) => time[row]! >= from && (allows?.(row) ?? true) };
};

/** Periods of a figure that are measured from their begin on. */
const wholePeriods = (figure: Figure, from: number): Figure => {
  const isWhole = (p: PeriodSpan): boolean => p.from >= from;
  switch (figure.type) {
    case 'active persons':
      return {
        ...figure,
        points: figure.points.filter(isWhole),
        latest: figure.latest && isWhole(figure.latest) ? figure.latest : undefined,
      };
    case 'average per person':
      return {
        ...figure,
        points: figure.points.filter(isWhole),
        latest: figure.latest && isWhole(figure.latest) ? figure.latest : undefined,
      };
    case 'total of a property':
      return {
        ...figure,
        points: figure.points.filter(isWhole),
        latest: figure.latest && isWhole(figure.latest) ? figure.latest : undefined,
      };
    case 'rate of a value':
      return { ...figure, points: figure.points.filter(isWhole) };
    default:
      return figure;
  }
};

const computed = (f: Formula, c: FigureContext): Figure => {
  const from = measuredFrom(f, c);
  if (from === -Infinity) return computationOf(f.type).compute(f, c);
  const sinceDays = (c.now - from) / DAY_MS;
  const asked = 'overDays' in f && f.overDays > sinceDays ? c.now - f.overDays * DAY_MS : undefined;
  // Cohorts are those of whole days from then on.
  const narrowed = f.type === 'retention' ? { ...f, overDays: Math.max(0, Math.min(f.overDays, Math.floor(sinceDays) - 1)) } : f;
  const figure = wholePeriods(computationOf(f.type).compute(narrowed, c), from);
  return { ...figure, measuredFrom: from, ...(asked === undefined ? {} : { askedFrom: asked }) };
};

/** Persons who did the first step, in the days that the formula looks at. Shape: those that its figure counts first. */
export const firstPersons = (f: Conversion | ShareWhoAlsoDid, c: FigureContext): Bitset => {
  const step = f.type === 'conversion' ? f.steps[0] : f.first;
  if (!step) return new Bitset(0);
  const narrowed = filtered(f, measured(f, c));
  return personsOf(narrowed, [select(narrowed, step, c.now - f.overDays * DAY_MS)]).persons;
};

/** Computes a formula over the columns, filters kept. */
export const figureOf = (f: Formula, c: FigureContext): Figure => computed(f, filtered(f, measured(f, c)));

const reachOf = (f: Formula, c: FigureContext): Reach[] => {
  const { ofMessage, numbers } = sessionsIn(c);
  const since = 'overDays' in f ? c.now - f.overDays * DAY_MS : -Infinity;
  const names = [...new Set(ownSteps(f).map((s) => s.eventName))];
  return names.map((eventName) => {
    const views = selectAny(
      c,
      ownSteps(f).filter((s) => s.eventName === eventName),
      since,
      false,
    );
    const { persons, unattributed } = personsOf(c, views);
    const sessions = new Bitset(numbers);
    for (const v of views) for (const row of v.rows) if (ofMessage[row]! >= 0) sessions.add(ofMessage[row]!);
    return {
      eventName,
      messages: views.reduce((n, v) => n + v.rows.length, 0),
      sessions: sessions.size,
      persons: persons.size,
      unattributed,
    };
  });
};

const SHOWN_GROUPS = 12;

/** Index of the group of a row, −1 for "not set". */
const grouping = (f: Formula, c: FigureContext): { at: (row: number) => number; values: readonly Scalar[] } | undefined => {
  const g = f.groupBy;
  if (!g || isOpenRef(g.name)) return undefined;
  if (g.of === 'user property') {
    const as = userValuesIn(c, g.name);
    const bounds = c.buckets?.get(g.name) ?? [];
    const values = as.values.map(shownValue);
    if (bounds.length === 0) return { at: as.at, values };
    const { of, names } = bucketed(values, bounds);
    return { at: (row) => of[as.at(row)] ?? -1, values: names };
  }
  const { table } = c.people;
  const names = [...new Set(ownSteps(f).map((s) => s.eventName))];
  const column = table.propertyOf(table.unionOf(names) ?? names[0] ?? '', g.name);
  if (!column) return { at: () => -1, values: [] };
  return { at: (row) => column.column.get(row), values: column.values.values.map(shownValue) };
};

/** The whole answer, step by step: between two steps the caller may report progress, or stop. */
export function* figureSteps(f: Formula, whole: FigureContext): Generator<{ done: number; total: number }, FigureAnswer> {
  const c = measured(f, whole);
  const narrowed = filtered(f, c);
  const figure = computed(f, narrowed);
  const hasFilter = narrowed !== c;
  const g = grouping(f, c);
  const base = 2 + (hasFilter ? 1 : 0);
  yield { done: 1, total: base };
  const reach = reachOf(f, narrowed);
  yield { done: 2, total: base };
  const unfiltered = hasFilter ? computed(f, c) : undefined;
  const controls = hasFilter ? controlsOf(f, c, narrowed) : [];
  if (!g) return { figure, unfiltered, controls, reach, groups: undefined, moreGroups: 0 };
  const step = ownSteps(f)[0]!;
  const messages = new Map<number, number>();
  for (const row of select(narrowed, step).rows) messages.set(g.at(row), (messages.get(g.at(row)) ?? 0) + 1);
  const largest = [...messages].sort((a, b) => b[1] - a[1] || a[0] - b[0]);
  const shown = largest.slice(0, SHOWN_GROUPS);
  const groups: GroupFigure[] = [];
  for (const [at, n] of shown) {
    const inGroup: RowTest = (row) => g.at(row) === at;
    const own = computed(f, { ...narrowed, inGroup });
    const count = personsOf(c, [select({ ...narrowed, inGroup }, step)]).persons.size;
    const { value, interval } = headlineOf(own);
    groups.push({
      value: at < 0 ? undefined : g.values[at],
      messages: n,
      persons: count,
      perPerson: count === 0 ? undefined : n / count,
      headline: value,
      interval,
    });
    yield { done: base + groups.length, total: base + shown.length };
  }
  groups.sort((a, b) => (b.perPerson ?? -1) - (a.perPerson ?? -1) || b.messages - a.messages);
  return { figure, unfiltered, controls, reach, groups, moreGroups: largest.length - shown.length };
}

/** The whole answer at once. */
export const answerOf = (f: Formula, c: FigureContext): FigureAnswer => {
  const steps = figureSteps(f, c);
  for (;;) {
    const next = steps.next();
    if (next.done) return next.value;
  }
};
