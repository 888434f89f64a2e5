import { wilson } from '../../stats/wilson';
import { cubeOf } from '../../table/cube';
import type { EventView } from '../../table/event-view';
import type { FormulaDefinition } from '../definition';
import type { FigureContext, FigureOf } from '../figure';
import { DAY_MS, EMPTY_STEP, spanText, type Conversion } from '../formula';
import { outsideOf, personCount, select, stretchOf, unattributedIn } from '../select';
import { walkInAnyOrder, walkInOrder, type StepList } from '../step-walk';
import { choicePart, eventList, eventPart, numberPart, words } from '../sentence';

/** The messages of all steps, an event at a time, so that no message comes twice. */
const hitsOf = (f: Conversion, c: FigureContext, since: number): StepList[] => {
  const whole = (view: EventView, bits: Uint32Array | number): StepList => ({ view, from: 0, to: view.rows.length, bits });
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
 *  at that first step, in this order or, where asked, in any. Any first step of a person may be the one that leads on. Messages of
 *  different sources that are reversed by no more than the workspace's tolerance count as in order.
 *  Shape: persons per step never grow from step to step; messages of a further step are those within the window of a first one. Units: shares 0..1.
 *  Missing values: messages without a person are counted apart as `unattributed`. Without a first step the share is undefined.
 *  Source: own definition; interval by Wilson (stats/wilson).
 */
const compute = (f: Conversion, c: FigureContext): FigureOf<'conversion'> => {
  const since = c.now - f.overDays * DAY_MS;
  const lists = hitsOf(f, c, since);
  const unattributed = lists.reduce((n, l) => n + unattributedIn(l.view, l.from, l.to), 0);
  const walk = f.anyOrder ? walkInAnyOrder : walkInOrder;
  const steps = f.steps.length;
  const toleranceMs = c.settings.clockToleranceSeconds * 1000;
  const { reached, lastFirst, messages, byTolerance } = walk({
    lists,
    steps,
    windowMs: f.windowMs,
    persons: personCount(c),
    toleranceMs: severalSources(c, f) ? toleranceMs : 0,
    sourceOf: (row) => c.people.table.source.get(row),
  });
  const persons = new Array<number>(steps).fill(0);
  let open = 0;
  for (let p = 0; p < reached.length; p++) {
    const done = reached[p]!;
    for (let i = 0; i < done; i++) persons[i]!++;
    if (done > 0 && done < steps && lastFirst[p]! + f.windowMs > c.now) open++;
  }
  const first = persons[0] ?? 0;
  const last = persons.at(-1) ?? 0;
  return {
    type: 'conversion',
    steps: f.steps.map((s, i) => ({ eventName: s.eventName, persons: persons[i]!, messages: messages[i]! })),
    share: first === 0 ? undefined : last / first,
    interval: wilson(last, first),
    open,
    byTolerance,
    toleranceMs,
    unattributed,
    outside: outsideOf(
      c,
      lists.map((l) => l.view),
      -Infinity,
    ),
  };
};

/** Whether the events of the steps come from more than one source: else no two clocks can differ. */
const severalSources = (c: FigureContext, f: Conversion): boolean => {
  const names = new Set(f.steps.map((s) => c.people.table.names.find(s.eventName)));
  const sources = new Set<number>();
  for (const cell of cubeOf(c.people.table)) if (names.has(cell.name)) sources.add(cell.source);
  return sources.size > 1;
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
