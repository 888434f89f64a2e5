import { wilson } from '../../stats/wilson';
import { groupRows } from '../../table/sessions';
import type { FormulaDefinition } from '../definition';
import type { FigureContext, FigureOf } from '../figure';
import { DAY_MS, EMPTY_STEP, spanText, type Conversion } from '../formula';
import { personCount, rowsOfStep } from '../select';
import { choicePart, eventList, eventPart, numberPart, words } from '../sentence';

/** Rows of any step by person and time, with the bits of the steps that each fulfils. */
interface Hits {
  readonly order: Int32Array;
  readonly time: Float64Array;
  readonly bits: Uint32Array;
}

/** How many steps in order are reached from a first step on: the earliest following message is taken each time,
 *  which loses nothing, since every later choice leaves less of the window. */
const reachInOrder = ({ order, time, bits }: Hits, from: number, to: number, steps: number, windowMs: number): number => {
  const limit = time[order[from]!]! + windowMs;
  let next = 1;
  for (let i = from + 1; i < to && next < steps && time[order[i]!]! <= limit; i++) if (bits[order[i]!]! & (1 << next)) next++;
  return next;
};

/** How many steps, counted from the first without a gap, are done in any order after a first step. */
const reachInAnyOrder = ({ order, time, bits }: Hits, from: number, to: number, steps: number, windowMs: number): number => {
  const limit = time[order[from]!]! + windowMs;
  let done = 1;
  for (let i = from + 1; i < to && time[order[i]!]! <= limit; i++) done |= bits[order[i]!]!;
  let reached = 1;
  while (reached < steps && done & (1 << reached)) reached++;
  return reached;
};

/** Persons who did the first step in the last `overDays` days, and of these who did the further steps within the window that begins
 *  at that first step, in this order or, where asked, in any. Any first step of a person may be the one that leads on.
 *  Shape: persons per step never grow from step to step. Units: shares 0..1.
 *  Missing values: messages without a person are counted apart as `unattributed`. Without a first step the share is undefined.
 *  Source: own definition; interval by Wilson (stats/wilson).
 */
const compute = (f: Conversion, c: FigureContext): FigureOf<'conversion'> => {
  const since = c.now - f.overDays * DAY_MS;
  const perStep = f.steps.map((s, i) => rowsOfStep(c, s, since, i === 0));
  const bits = new Uint32Array(c.table.length);
  perStep.forEach((rows, i) => {
    for (let k = 0; k < rows.length; k++) bits[rows[k]!]! |= 1 << i;
  });
  const any = perStep.length === 1 ? perStep[0]! : merge(perStep);
  const { personOfMessage } = c;
  const time = c.table.time.raw;
  let unattributed = 0;
  for (let i = 0; i < any.length; i++) if (personOfMessage[any[i]!]! < 0) unattributed++;
  const count = personCount(c);
  const { order, start } = groupRows(any, (row) => personOfMessage[row]!, count, time);
  const hits: Hits = { order, time, bits };
  const reach = f.anyOrder ? reachInAnyOrder : reachInOrder;
  const steps = f.steps.length;
  const persons = new Array<number>(steps).fill(0);
  let open = 0;
  for (let p = 0; p < count; p++) {
    const to = start[p + 1]!;
    let reached = 0;
    let stillOpen = false;
    for (let i = start[p]!; i < to && reached < steps; i++) {
      if (!(bits[order[i]!]! & 1)) continue;
      const n = reach(hits, i, to, steps, f.windowMs);
      if (n > reached) reached = n;
      stillOpen = time[order[i]!]! + f.windowMs > c.now;
    }
    for (let s = 0; s < reached; s++) persons[s]!++;
    if (reached > 0 && reached < steps && stillOpen) open++;
  }
  const first = persons[0] ?? 0;
  const last = persons.at(-1) ?? 0;
  return {
    type: 'conversion',
    steps: f.steps.map((s, i) => ({ eventName: s.eventName, persons: persons[i]!, messages: perStep[i]!.length })),
    share: first === 0 ? undefined : last / first,
    interval: wilson(last, first),
    open,
    unattributed,
  };
};

/** Sorted rows of several sorted lists, each once. */
const merge = (lists: readonly Int32Array[]): Int32Array => {
  const all = new Int32Array(lists.reduce((n, l) => n + l.length, 0));
  let at = 0;
  for (const l of lists) {
    all.set(l, at);
    at += l.length;
  }
  all.sort();
  let n = 0;
  for (let i = 0; i < all.length; i++) if (i === 0 || all[i] !== all[i - 1]) all[n++] = all[i]!;
  return all.subarray(0, n);
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
