/** How the figure of “conversion” is worked out, and which of its numbers leads. */
import { wilson } from '../../../stats/wilson';
import type { EventView } from '../../../table/event-view';
import type { FigureContext, FigureOf } from '../../figure';
import type { Conversion, Step } from '../../formula';
import { outsideOf, personCount, select, stretchOf, unattributedIn } from '../../select';
import { walkInAnyOrder, walkInOrder, type StepList } from '../../step-walk';
import { DAY_MS } from '../../../time';
import type { FormulaComputation } from '../../definition';

/** The messages of all steps, an event at a time, so that no message comes twice. */
const hitsOf = (f: Conversion, c: FigureContext, since: number): StepList[] => {
  const whole = (view: EventView, bits: Uint32Array | number): StepList => ({ view, from: 0, to: view.rows.length, bits });
  const names = [...new Set(f.steps.map((s) => s.eventName))];
  // A message may be of several defined events, and comes once all the same.
  const union = c.people.table.unionOf(names);
  if (union !== undefined) return [severalSteps(f, c, since, union)];
  return names.map((name) => {
    const own = f.steps.flatMap((s, i) => (s.eventName === name ? [{ step: s, bit: 1 << i, main: i === 0 }] : []));
    const [only] = own;
    if (own.length === 1 && only) {
      const stretch = stretchOf(c, only.step, since, only.main);
      return stretch ? { ...stretch, bits: only.bit } : whole(select(c, only.step, since, only.main), only.bit);
    }
    return severalSteps({ steps: f.steps.map((s) => (s.eventName === name ? s : undefined)) }, c, since, name);
  });
};

/** Several steps of one event, or of events that share messages: every message of any of them once, with the bits of all its steps. */
const severalSteps = (
  f: { readonly steps: readonly (Step | undefined)[] },
  c: FigureContext,
  since: number,
  eventName: string,
): StepList => {
  const bitOf = new Map<number, number>();
  f.steps.forEach((step, i) => {
    if (step) for (const row of select(c, step, since, i === 0).rows) bitOf.set(row, (bitOf.get(row) ?? 0) | (1 << i));
  });
  const view = select({ ...c, inGroup: (row) => bitOf.has(row) }, { eventName, where: [] }, since);
  return { view, from: 0, to: view.rows.length, bits: Uint32Array.from(view.rows, (row) => bitOf.get(row)!) };
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
  const { table } = c.people;
  const { length } = table.sources.values;
  if (length < 2) return false;
  const source = table.source.rawFor(table.length);
  let first = -1;
  for (const name of new Set(f.steps.map((s) => s.eventName)))
    for (const row of table.rowsOf(name)) {
      if (first < 0) first = source[row]!;
      else if (source[row]! !== first) return true;
    }
  return false;
};

export const conversionComputation: FormulaComputation<'conversion'> = {
  type: 'conversion',
  compute,
  headline: (f) => ({ value: f.share, interval: f.interval }),
};
