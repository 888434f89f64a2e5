/** Messages, sessions and persons beside each other, for each event and source; and how much of them came twice, late, out of order or by a
 *  wrong clock, with what that does to the counts.
 */
import { entries, findEvent, settingsOf, type Plan } from '../plan/plan';
import type { Attributed } from '../identity/persons';
import { periodsBetween } from '../questions/calendar';
import { LagHistogram } from '../stats/lag-histogram';
import { earliestOf, slotsOf } from '../table/cube';
import type { Sessions } from '../table/sessions';
import { clockAhead } from './batch/clock-ahead';
import { doubleFire, firedTwice } from './batch/double-fire';
import { valuesOf } from './check';

export interface Counts {
  readonly messages: number;
  /** With at least one of the messages. */
  readonly sessions: number;
  readonly persons: number;
  /** Messages that came twice as one thing; a count without them is the truer one. */
  readonly firedTwice: number;
  /** Messages that say they happened before one of the same person and source that had come already. */
  readonly outOfOrder: number;
  /** Messages that came later than their source is expected to send. */
  readonly late: number;
  /** Messages that say they happened after they were received, by more than clocks may be off. */
  readonly ahead: number;
  /** Messages that would fall on another day, counted by when they were received. */
  readonly otherDay: number;
}

export interface EventCounts extends Counts {
  readonly eventName: string;
  readonly planned: boolean;
}

export interface SourceCounts extends Counts {
  readonly sourceId: string;
  /** From happening to receipt, in ms, each within one in fifty; `undefined` without a message. */
  readonly lag: { readonly median: number; readonly p95: number } | undefined;
  readonly expectedLagMs: number;
  /** Of the messages of days that are over by two: the shares that were there at the end of their day, one day later, and two. */
  readonly complete:
    { readonly messages: number; readonly atEnd: number; readonly afterOne: number; readonly afterTwo: number } | undefined;
}

export interface ArrivalCounts {
  readonly events: readonly EventCounts[];
  readonly sources: readonly SourceCounts[];
  /** Everything, counted in one pass of its own. */
  readonly whole: Counts;
  /** Messages that are no event: identify calls, views, interactions. */
  readonly others: number;
  /** Messages of nobody: in no session, and no person's. */
  readonly ofNobody: number;
}

export interface CountsContext {
  readonly plan: Plan;
  readonly people: Attributed;
  readonly sessions: Sessions;
  /** UTC epoch ms: what is said to have happened before is left out. */
  readonly from: number;
  readonly now: number;
}

const OUT_OF_ORDER = 1;
const LATE = 2;
const AHEAD = 4;
const OTHER_DAY = 8;
const ROWS_AT_ONCE = 200_000;
const DAY_ENDS = 3;

type Tally = { -readonly [K in keyof Counts]: number };
const none = (): Tally => ({ messages: 0, sessions: 0, persons: 0, firedTwice: 0, outOfOrder: 0, late: 0, ahead: 0, otherDay: 0 });

/** Shape: a step now and then, so that whoever runs it can do other things in between; events most frequent first, sources as in the plan.
 *  Units: shares 0..1, ms. Missing values: messages of nobody count as messages alone. Days are those of the workspace's zone.
 *  Source: own definitions; the figures of one source's sessions add up to the whole, those of its persons need not.
 */
export function* arrivalCounts(c: CountsContext): Generator<void, ArrivalCounts> {
  const { plan, people, sessions, now } = c;
  const { table, personOfMessage, count: persons } = people;
  const { timeZone, weekStartsOn, rules } = settingsOf(plan);
  const toleranceMs = valuesOf(clockAhead.parameters, rules[clockAhead.id]).tolerance * 60_000;
  const withinMs = valuesOf(doubleFire.parameters, rules[doubleFire.id]).within * 1000;
  const time = table.time.raw;
  const received = table.received.raw;
  const rows = personOfMessage.length;
  const source = table.source.rawFor(rows);
  const name = table.name.rawFor(rows);
  const days = periodsBetween('day', Math.max(c.from, earliestOf(slotsOf(table), now)), now, timeZone, weekStartsOn);
  const dayAt = (at: number): number => (at < days.starts[0]! ? -1 : at >= days.starts[days.count]! ? days.count : days.find(at));
  const sourceCount = table.sources.values.length;
  const expected = table.sources.values.map((id) => plan.source[id]?.expectedLagMs ?? 0);

  // What is true of a row by itself, and of what came before it.
  const flags = new Uint8Array(rows);
  const newest = new Float64Array(persons * sourceCount).fill(-Infinity);
  const lags = table.sources.values.map(() => new LagHistogram());
  const complete = table.sources.values.map(() => ({ messages: 0, by: new Float64Array(DAY_ENDS) }));
  for (let row = 0; row < rows; row++) {
    if (row % ROWS_AT_ONCE === ROWS_AT_ONCE - 1) yield;
    const at = time[row]!;
    const s = source[row]!;
    const p = personOfMessage[row]!;
    const i = p * sourceCount + s;
    if (p >= 0 && at < newest[i]!) flags[row]! |= OUT_OF_ORDER;
    if (p >= 0 && at > newest[i]!) newest[i] = at;
    if (at < c.from) continue;
    const lag = received[row]! - at;
    lags[s]!.add(lag);
    if (expected[s]! > 0 && lag > expected[s]!) flags[row]! |= LATE;
    if (-lag > toleranceMs) flags[row]! |= AHEAD;
    const d = dayAt(at);
    const r = dayAt(received[row]!);
    if (d !== r) flags[row]! |= OTHER_DAY;
    if (d < 0 || d >= days.count - DAY_ENDS) continue;
    const own = complete[s]!;
    own.messages++;
    for (let k = Math.max(0, r - d); k < DAY_ENDS; k++) own.by[k]!++;
  }

  /** Counts rows, and each session and person once, by marks that are this counter's own. */
  const sessionOf = sessions.ofMessage;
  const note = (tally: Tally, row: number, ofSession: Int32Array, ofPerson: Int32Array, mark: number): void => {
    tally.messages++;
    const f = flags[row]!;
    if (f !== 0) {
      if (f & OUT_OF_ORDER) tally.outOfOrder++;
      if (f & LATE) tally.late++;
      if (f & AHEAD) tally.ahead++;
      if (f & OTHER_DAY) tally.otherDay++;
    }
    const s = row < sessionOf.length ? sessionOf[row]! : -1;
    if (s >= 0 && ofSession[s] !== mark) {
      ofSession[s] = mark;
      tally.sessions++;
    }
    const p = personOfMessage[row]!;
    if (p >= 0 && ofPerson[p] !== mark) {
      ofPerson[p] = mark;
      tally.persons++;
    }
  };
  const marks = { session: new Int32Array(sessions.count), person: new Int32Array(persons) };
  let mark = 0;
  // Source by source; what several sources have of a person counts once in the whole.
  const whole = none();
  const bySource = table.sources.values.map(none);
  const bySourceMarks = table.sources.values.map(() => new Int32Array(persons));
  const inWhole = new Uint8Array(persons);
  let [others, ofNobody] = [0, 0];
  mark++;
  for (let row = 0; row < rows; row++) {
    if (row % ROWS_AT_ONCE === ROWS_AT_ONCE - 1) yield;
    if (time[row]! < c.from) continue;
    const s = source[row]!;
    note(bySource[s]!, row, marks.session, bySourceMarks[s]!, mark);
    if (name[row]! < 0) others++;
    const p = personOfMessage[row]!;
    if (p < 0) ofNobody++;
    else if (inWhole[p] === 0) {
      inWhole[p] = 1;
      whole.persons++;
    }
  }
  // A session is of one source.
  for (const own of bySource)
    for (const k of ['messages', 'sessions', 'outOfOrder', 'late', 'ahead', 'otherDay'] as const) whole[k] += own[k];

  const twiceOf = new Float64Array(sourceCount);
  const events: EventCounts[] = [];
  for (const eventName of table.names.values) {
    yield;
    const own = none();
    mark++;
    const ofEvent = table.rowsOf(eventName);
    for (let i = 0; i < ofEvent.length; i++) {
      const row = ofEvent[i]!;
      if (row < rows && time[row]! >= c.from) note(own, row, marks.session, marks.person, mark);
    }
    if (own.messages === 0) continue;
    for (const row of firedTwice(people, findEvent(plan, eventName)?.[1] ?? { name: eventName }, withinMs))
      if (row < rows && time[row]! >= c.from) {
        own.firedTwice++;
        twiceOf[source[row]!]!++;
      }
    events.push({ eventName, planned: findEvent(plan, eventName) !== undefined, ...own });
  }
  whole.firedTwice = twiceOf.reduce((n, x) => n + x, 0);

  const sources: SourceCounts[] = [];
  const known = entries(plan, 'source').map(([id]) => table.sources.find(id));
  const order = [...known.filter((s) => s >= 0), ...table.sources.values.map((_, s) => s).filter((s) => !known.includes(s))];
  for (const s of order) {
    const own = bySource[s]!;
    if (own.messages === 0) continue;
    own.firedTwice = twiceOf[s]!;
    const { messages, by } = complete[s]!;
    sources.push({
      sourceId: table.sources.values[s]!,
      ...own,
      lag: { median: lags[s]!.quantile(0.5)!, p95: lags[s]!.quantile(0.95)! },
      expectedLagMs: expected[s]!,
      complete:
        messages === 0 ? undefined : { messages, atEnd: by[0]! / messages, afterOne: by[1]! / messages, afterTwo: by[2]! / messages },
    });
  }
  return { events: events.sort((a, b) => b.messages - a.messages), sources, whole, others, ofNobody };
}

/** How the parts stand to the whole. */
export interface Sums {
  /** Whether messages by event and by source, and sessions by source, come to the whole. */
  readonly addsUp: boolean;
  readonly messagesByEvent: number;
  readonly messagesBySource: number;
  readonly sessionsBySource: number;
  /** How many times more persons are counted by source than in the whole: those who came from several. */
  readonly severalSources: number;
}

export const sumsOf = ({ events, sources, whole, others }: ArrivalCounts): Sums => {
  const sum = (list: readonly Counts[], key: 'messages' | 'sessions' | 'persons'): number => list.reduce((n, c) => n + c[key], 0);
  const messagesByEvent = sum(events, 'messages') + others;
  const messagesBySource = sum(sources, 'messages');
  const sessionsBySource = sum(sources, 'sessions');
  return {
    addsUp: messagesByEvent === whole.messages && messagesBySource === whole.messages && sessionsBySource === whole.sessions,
    messagesByEvent,
    messagesBySource,
    sessionsBySource,
    severalSources: sum(sources, 'persons') - whole.persons,
  };
};
