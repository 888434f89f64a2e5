import { wilson } from '../../stats/wilson';
import type { EventView } from '../../table/event-view';
import type { FormulaDefinition } from '../definition';
import type { FigureContext, FigureOf } from '../figure';
import { DAY_MS, EMPTY_STEP, spanText, type Conversion } from '../formula';
import { byPerson, personCount, select, stretchOf, unattributedIn, type ByPerson } from '../select';
import { choicePart, eventList, eventPart, numberPart, words } from '../sentence';

/** The hits of one person by time: when, and the bits of the steps that each fulfils. */
interface Hits {
  readonly time: Float64Array;
  readonly bits: Uint32Array;
  readonly rows: Int32Array;
}

/** How many steps in order are reached from a first step on: the earliest following message is taken each time,
 *  which loses nothing, since every later choice leaves less of the window.
 */
const reachInOrder = ({ time, bits }: Hits, from: number, to: number, steps: number, windowMs: number): number => {
  const limit = time[from]! + windowMs;
  let next = 1;
  for (let i = from + 1; i < to && next < steps && time[i]! <= limit; i++) if (bits[i]! & (1 << next)) next++;
  return next;
};

/** How many steps, counted from the first without a gap, are done in any order after a first step. */
const reachInAnyOrder = ({ time, bits }: Hits, from: number, to: number, steps: number, windowMs: number): number => {
  const limit = time[from]! + windowMs;
  let done = 1;
  for (let i = from + 1; i < to && time[i]! <= limit; i++) done |= bits[i]!;
  let reached = 1;
  while (reached < steps && done & (1 << reached)) reached++;
  return reached;
};

/** Messages of the steps of one event: a stretch of a view, each with the bits of the steps that it fulfils. */
interface List {
  readonly view: EventView;
  readonly from: number;
  readonly to: number;
  readonly bits: Uint32Array | number;
}

/** The messages of all steps, an event at a time, so that no message comes twice. */
const hitsOf = (f: Conversion, c: FigureContext, since: number): List[] => {
  const whole = (view: EventView, bits: Uint32Array | number): List => ({ view, from: 0, to: view.rows.length, bits });
  const names = [...new Set(f.steps.map((s) => s.eventName))];
  return names.map((name) => {
    const own = f.steps.flatMap((s, i) => (s.eventName === name ? [{ step: s, bit: 1 << i, main: i === 0 }] : []));
    const [only] = own;
    if (own.length === 1 && only) {
      const stretch = stretchOf(c, only.step, since, only.main);
      return stretch ? { ...stretch, bits: only.bit } : whole(select(c, only.step, since, only.main), only.bit);
    }
    // Several steps of one event: every message of any of them once, with all its bits.
    const bitOf = new Map<number, number>();
    for (const { step, bit, main } of own) for (const row of select(c, step, since, main).rows) bitOf.set(row, (bitOf.get(row) ?? 0) | bit);
    const all = select({ ...c, inGroup: (row) => bitOf.has(row) }, { eventName: name, where: [] }, since);
    return whole(
      all,
      Uint32Array.from(all.rows, (row) => bitOf.get(row)!),
    );
  });
};

/** Persons who did the first step in the last `overDays` days, and of these who did the further steps within the window that begins
 *  at that first step, in this order or, where asked, in any. Any first step of a person may be the one that leads on.
 *  Shape: persons per step never grow from step to step. Units: shares 0..1.
 *  Missing values: messages without a person are counted apart as `unattributed`. Without a first step the share is undefined.
 *  Source: own definition; interval by Wilson (stats/wilson).
 */
const compute = (f: Conversion, c: FigureContext): FigureOf<'conversion'> => {
  const since = c.now - f.overDays * DAY_MS;
  const lists = hitsOf(f, c, since);
  const layouts = lists.map((l) => byPerson(c, l.view));
  const unattributed = lists.reduce((n, l) => n + unattributedIn(l.view, l.from, l.to), 0);
  const count = personCount(c);
  const most = layouts.reduce((n, l) => n + longest(l.start), 0);
  const hits: Hits = { time: new Float64Array(most), bits: new Uint32Array(most), rows: new Int32Array(most) };
  const reach = f.anyOrder ? reachInAnyOrder : reachInOrder;
  const steps = f.steps.length;
  const persons = new Array<number>(steps).fill(0);
  const messages = f.steps.map((_, i) => lists.reduce((n, l) => n + countBit(l, 1 << i), 0));
  let open = 0;
  // Which of a person's messages carry the first step is known by list: who has none of it is passed over.
  const firstLists = lists.flatMap((l, i) => (typeof l.bits === 'number' && !(l.bits & 1) ? [] : [i]));
  for (let p = 0; p < count; p++) {
    if (!firstLists.some((i) => layouts[i]!.start[p] !== layouts[i]!.start[p + 1])) continue;
    const n = gather(hits, lists, layouts, p, since, c.now);
    let reached = 0;
    let stillOpen = false;
    for (let i = 0; i < n && reached < steps; i++) {
      if (!(hits.bits[i]! & 1)) continue;
      const r = reach(hits, i, n, steps, f.windowMs);
      if (r > reached) reached = r;
      stillOpen = hits.time[i]! + f.windowMs > c.now;
    }
    for (let s = 0; s < reached; s++) persons[s]!++;
    if (reached > 0 && reached < steps && stillOpen) open++;
  }
  const first = persons[0] ?? 0;
  const last = persons.at(-1) ?? 0;
  return {
    type: 'conversion',
    steps: f.steps.map((s, i) => ({ eventName: s.eventName, persons: persons[i]!, messages: messages[i]! })),
    share: first === 0 ? undefined : last / first,
    interval: wilson(last, first),
    open,
    unattributed,
  };
};

const longest = (start: Int32Array): number => {
  let most = 0;
  for (let p = 0; p + 1 < start.length; p++) most = Math.max(most, start[p + 1]! - start[p]!);
  return most;
};

const countBit = ({ from, to, bits }: List, bit: number): number => {
  if (typeof bits === 'number') return bits & bit ? to - from : 0;
  let n = 0;
  for (const b of bits) if (b & bit) n++;
  return n;
};

/** Puts the messages of one person from all lists together by time, and by arrival where times are equal; how many. */
const gather = (hits: Hits, lists: readonly List[], layouts: readonly ByPerson[], p: number, since: number, now: number): number => {
  let n = 0;
  for (let l = 0; l < lists.length; l++) {
    const { bits } = lists[l]!;
    const { order, start, time, rows } = layouts[l]!;
    const end = start[p + 1]!;
    for (let k = start[p]!; k < end; k++) {
      const t = time[k]!;
      if (t < since) continue;
      if (t > now) break;
      const row = rows[k]!;
      // Each list is in order: what it adds belongs near the end of what is there.
      let j = n++;
      while (j > 0 && (hits.time[j - 1]! > t || (hits.time[j - 1]! === t && hits.rows[j - 1]! > row))) {
        hits.time[j] = hits.time[j - 1]!;
        hits.bits[j] = hits.bits[j - 1]!;
        hits.rows[j] = hits.rows[j - 1]!;
        j--;
      }
      hits.time[j] = t;
      hits.bits[j] = typeof bits === 'number' ? bits : bits[order[k]!]!;
      hits.rows[j] = row;
    }
  }
  return n;
};

const HOUR_MS = 3_600_000;
const WINDOWS = [60_000 * 10, HOUR_MS, 6 * HOUR_MS, DAY_MS, 3 * DAY_MS, 5 * DAY_MS, 7 * DAY_MS, 14 * DAY_MS, 28 * DAY_MS, 90 * DAY_MS];
const ORDERS = ['in this order', 'in any order'] as const;

export const conversion: FormulaDefinition<'conversion'> = {
  type: 'conversion',
  title: 'Conversion',
  asks: 'Of those who did one thing, how many did another within so long?',
  start: (steps) => ({ type: 'conversion', steps, windowMs: 7 * DAY_MS, overDays: 28 }),
  open: (f) => (f.steps.length < 2 ? 'a conversion needs a first and a later event' : undefined),
  named: () => [],
  parts: (f) => {
    const [first = EMPTY_STEP, ...later] = f.steps;
    return [
      words('Of persons with '),
      eventPart('Step 1', first, (s) => ({ ...f, steps: [s, ...later] })),
      words(' in the last '),
      numberPart('Days looked at', f.overDays, 1, 3660, (overDays) => ({ ...f, overDays })),
      words(' days, the share with '),
      ...eventList(
        (i) => `Step ${i + 2}`,
        later,
        1,
        f.anyOrder ? 'and' : 'then',
        (l) => ({ ...f, steps: [first, ...l] }),
      ),
      words(' '),
      choicePart('Order', f.anyOrder ? ORDERS[1] : ORDERS[0], ORDERS, String, (o) => ({ ...f, anyOrder: o === ORDERS[1] })),
      words(' within '),
      choicePart('Window', f.windowMs, WINDOWS.includes(f.windowMs) ? WINDOWS : [f.windowMs, ...WINDOWS], spanText, (windowMs) => ({
        ...f,
        windowMs,
      })),
    ];
  },
  compute,
};
