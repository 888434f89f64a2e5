/** Messages, sessions and persons beside each other, for each event and source; and how much of them came twice, late, out of order or by a
 *  wrong clock, with what that does to the counts.
 */
import { entries, sessionGapMs, settingsOf, type Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import { periodsBetween } from '../questions/calendar';
import { LagHistogram } from '../stats/lag-histogram';
import { GrowingBits } from '../table/bitset';
import { earliestOf, slotsOf } from '../table/cube';
import { followingPersons, type Attributed } from '../table/following-persons';
import { sessionsOf } from '../table/sessions';
import { clockAhead } from './many/clock-ahead';
import { doubleFire, firedTwice } from './many/double-fire';
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
    | { readonly messages: number; readonly atEnd: number; readonly afterOne: number; readonly afterTwo: number }
    | undefined;
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
  /** UTC epoch ms: what is said to have happened before is left out. */
  readonly from: number;
  readonly now: number;
}

const DAY_ENDS = 3;

type Tally = { -readonly [K in keyof Counts]: number };

/** Messages of an event, or of a source. */
class Part {
  readonly tally: Tally = { messages: 0, sessions: 0, persons: 0, firedTwice: 0, outOfOrder: 0, late: 0, ahead: 0, otherDay: 0 };
  readonly sessions = new GrowingBits();
  readonly persons = new GrowingBits();
}

interface Complete {
  messages: number;
  readonly by: Float64Array;
}

interface State {
  /** By the index of the name and of the source. */
  readonly events: Part[];
  readonly sources: Part[];
  readonly lags: LagHistogram[];
  readonly complete: Complete[];
  readonly persons: GrowingBits;
  others: number;
  ofNobody: number;
  /** By person and source: the newest time so far. */
  newest: Float64Array;
  readonly stride: number;
  sessions: object | undefined;
}

/** All that decides what is counted. */
interface Asked {
  readonly from: number;
  readonly gapMs: number;
  readonly toleranceMs: number;
  readonly expected: Readonly<Record<string, number>>;
  readonly timeZone: string;
  readonly weekStartsOn: number;
  /** First day, and a moment of the last one. */
  readonly days: readonly [number, number];
}

const counted = followingPersons(
  ({ table }): State => ({
    events: [],
    sources: [],
    lags: [],
    complete: [],
    persons: new GrowingBits(),
    others: 0,
    ofNobody: 0,
    newest: new Float64Array(0),
    stride: table.sources.values.length + 1,
    sessions: undefined,
  }),
  (state, people, begin, end, key) => {
    const { table, personOfMessage, count } = people;
    const asked = JSON.parse(key) as Asked;
    const sessions = sessionsOf(people, asked.gapMs);
    const { stride } = state;
    if ((state.sessions && state.sessions !== sessions.lineage) || table.sources.values.length > stride) return false;
    state.sessions = sessions.lineage;
    if (state.newest.length < count * stride) {
      const next = new Float64Array((count + (count >> 3)) * stride).fill(-Infinity, state.newest.length);
      next.set(state.newest);
      state.newest = next;
    }
    for (let s = state.sources.length; s < table.sources.values.length; s++) {
      state.sources.push(new Part());
      state.lags.push(new LagHistogram());
      state.complete.push({ messages: 0, by: new Float64Array(DAY_ENDS) });
    }
    while (state.events.length < table.names.values.length) state.events.push(new Part());
    const days = periodsBetween('day', asked.days[0], asked.days[1], asked.timeZone, asked.weekStartsOn);
    const [firstDay, lastDay] = [days.starts[0]!, days.starts[days.count]!];
    const dayAt = (at: number): number => (at < firstDay ? -1 : at >= lastDay ? days.count : days.find(at));
    const expected = table.sources.values.map((id) => asked.expected[id] ?? 0);
    const { newest, events, sources, lags, complete, persons } = state;
    const { ofMessage } = sessions;
    const { from, toleranceMs } = asked;
    const time = table.time.raw;
    const { received } = table;
    const source = table.source.rawFor(end);
    const name = table.name.rawFor(end);
    const note = (
      { tally, sessions: bySession, persons: byPerson }: Part,
      session: number,
      person: number,
      late: number,
      ahead: number,
      early: number,
      other: number,
    ): void => {
      tally.messages++;
      tally.late += late;
      tally.ahead += ahead;
      tally.outOfOrder += early;
      tally.otherDay += other;
      if (session >= 0) bySession.add(session);
      if (person >= 0) byPerson.add(person);
    };
    // Most messages are received on the day that they happened on.
    let [dayFrom, dayTo, day] = [0, 0, -2];
    for (let row = begin; row < end; row++) {
      const at = time[row]!;
      const s = source[row]!;
      const p = personOfMessage[row]!;
      let early = 0;
      if (p >= 0) {
        const i = p * stride + s;
        if (at < newest[i]!) early = 1;
        else newest[i] = at;
      }
      if (at < from) continue;
      const lag = received.get(row) - at;
      lags[s]!.add(lag);
      if (!(at >= dayFrom && at < dayTo)) {
        day = dayAt(at);
        [dayFrom, dayTo] = day >= 0 && day < days.count ? [days.starts[day]!, days.starts[day + 1]!] : [0, 0];
      }
      const r = received.get(row) >= dayFrom && received.get(row) < dayTo ? day : dayAt(received.get(row));
      const late = expected[s]! > 0 && lag > expected[s]! ? 1 : 0;
      const ahead = -lag > toleranceMs ? 1 : 0;
      const other = day === r ? 0 : 1;
      const session = ofMessage[row]!;
      note(sources[s]!, session, p, late, ahead, early, other);
      const n = name[row]!;
      if (n >= 0) note(events[n]!, session, p, late, ahead, early, other);
      else state.others++;
      if (p < 0) state.ofNobody++;
      else persons.add(p);
      if (day < 0 || day >= days.count - DAY_ENDS) continue;
      const own = complete[s]!;
      own.messages++;
      for (let k = Math.max(0, r - day); k < DAY_ENDS; k++) own.by[k]!++;
    }
    return true;
  },
);

const countsOf = ({ tally, sessions, persons }: Part): Tally => ({ ...tally, sessions: sessions.size, persons: persons.size });

/** Shape: events most frequent first, sources as in the plan. Carried on as messages come, while `from` and the day of `now` are the same.
 *  Units: shares 0..1, ms. Missing values: messages of nobody count as messages alone. Days are those of the workspace's zone.
 *  Source: own definitions; the figures of one source's sessions add up to the whole, those of its persons need not.
 */
export const arrivalCounts = (c: CountsContext): ArrivalCounts => {
  const { plan, people, now, from } = c;
  const { table } = people;
  const { timeZone, weekStartsOn, rules } = settingsOf(plan);
  const withinMs = valuesOf(doubleFire.parameters, rules[doubleFire.id]).within * 1000;
  const days = periodsBetween('day', Math.max(from, earliestOf(slotsOf(table), now)), now, timeZone, weekStartsOn);
  const asked: Asked = {
    from: Number.isFinite(from) ? from : -Number.MAX_VALUE,
    gapMs: sessionGapMs(plan),
    toleranceMs: valuesOf(clockAhead.parameters, rules[clockAhead.id]).tolerance * 60_000,
    expected: Object.fromEntries(entries(plan, 'source').map(([id, s]) => [id, s.expectedLagMs])),
    timeZone,
    weekStartsOn,
    days: [days.starts[0]!, days.starts[days.count - 1]!],
  };
  const state = counted(people, JSON.stringify(asked));
  const time = table.time.raw;
  const twiceOf = new Float64Array(table.sources.values.length);
  const events: EventCounts[] = [];
  table.names.values.forEach((eventName, n) => {
    const own = state.events[n] && countsOf(state.events[n]);
    if (!own || own.messages === 0) return;
    const event = eventNamed(plan, eventName)?.[1];
    for (const row of firedTwice(people, event ?? { name: eventName }, withinMs))
      if (time[row]! >= from) {
        own.firedTwice++;
        twiceOf[table.source.get(row)]!++;
      }
    events.push({ eventName, planned: event !== undefined, ...own });
  });
  const bySource = state.sources.map((own, s) => ({ ...countsOf(own), firedTwice: twiceOf[s]! }));
  const whole: Tally = { ...countsOf(new Part()), persons: state.persons.size };
  // A session is of one source.
  for (const own of bySource)
    for (const k of ['messages', 'sessions', 'firedTwice', 'outOfOrder', 'late', 'ahead', 'otherDay'] as const) whole[k] += own[k];
  const { lags, complete, others, ofNobody } = state;

  const sources: SourceCounts[] = [];
  const known = entries(plan, 'source').map(([id]) => table.sources.find(id));
  const order = [...known.filter((s) => s >= 0), ...table.sources.values.map((_, s) => s).filter((s) => !known.includes(s))];
  for (const s of order) {
    const own = bySource[s];
    if (!own || own.messages === 0) continue;
    const { messages, by } = complete[s]!;
    sources.push({
      sourceId: table.sources.values[s]!,
      ...own,
      lag: { median: lags[s]!.quantile(0.5)!, p95: lags[s]!.quantile(0.95)! },
      expectedLagMs: plan.source[table.sources.values[s]!]?.expectedLagMs ?? 0,
      complete:
        messages === 0 ? undefined : { messages, atEnd: by[0]! / messages, afterOne: by[1]! / messages, afterTwo: by[2]! / messages },
    });
  }
  return { events: events.sort((a, b) => b.messages - a.messages), sources, whole, others, ofNobody };
};

/** How the parts are to the whole. */
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
