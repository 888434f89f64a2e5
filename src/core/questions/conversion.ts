import { wilson } from '../stats/wilson';
import { compileStep } from '../table/matcher';
import type { Figure, FigureContext } from './figure';
import { DAY_MS, type Conversion } from './formula';

/** How many steps in order a person reaches from this first step on: the earliest following message is taken each time,
 *  which loses nothing, since every later choice leaves less of the window. */
const reach = (hits: readonly { at: number; step: number }[], from: number, steps: number, windowMs: number): number => {
  const limit = hits[from]!.at + windowMs;
  let next = 1;
  for (let i = from + 1; i < hits.length && next < steps && hits[i]!.at <= limit; i++) if (hits[i]!.step & (1 << next)) next++;
  return next;
};

/** Persons who did the first step in the last `overDays` days, and of these who did the further steps in this order, all
 *  within the window that begins at that first step. Any first step of a person may be the one that leads on.
 *  Shape: persons per step never grow from step to step. Units: shares 0..1.
 *  Missing values: messages without a person are counted apart as `unattributed`. Without a first step the share is undefined.
 */
export const conversion = (formula: Conversion, { table, personOfMessage, now }: FigureContext): Figure => {
  const tests = formula.steps.map((s) => compileStep(table, s));
  const since = now - formula.overDays * DAY_MS;
  const messages = new Array<number>(tests.length).fill(0);
  const byPerson = new Map<number, { at: number; step: number; row: number }[]>();
  let unattributed = 0;
  for (let row = 0; row < table.length; row++) {
    let step = 0;
    for (let i = 0; i < tests.length; i++) if (tests[i]!(row)) step |= 1 << i;
    if (step === 0) continue;
    const at = table.time.get(row);
    if (at < since || at > now) continue;
    for (let i = 0; i < tests.length; i++) if (step & (1 << i)) messages[i]!++;
    const person = personOfMessage[row]!;
    if (person < 0) {
      unattributed++;
      continue;
    }
    const hit = { at, step, row };
    const list = byPerson.get(person);
    if (list) list.push(hit);
    else byPerson.set(person, [hit]);
  }
  const persons = new Array<number>(tests.length).fill(0);
  let open = 0;
  for (const hits of byPerson.values()) {
    hits.sort((a, b) => a.at - b.at || a.row - b.row);
    let reached = 0;
    let stillOpen = false;
    for (let i = 0; i < hits.length && reached < tests.length; i++) {
      if (!(hits[i]!.step & 1)) continue;
      reached = Math.max(reached, reach(hits, i, tests.length, formula.windowMs));
      stillOpen = hits[i]!.at + formula.windowMs > now;
    }
    for (let s = 0; s < reached; s++) persons[s]!++;
    if (reached > 0 && reached < tests.length && stillOpen) open++;
  }
  const first = persons[0] ?? 0;
  const last = persons.at(-1) ?? 0;
  return {
    type: 'conversion',
    steps: formula.steps.map((s, i) => ({ eventName: s.eventName, persons: persons[i]!, messages: messages[i]! })),
    share: first === 0 ? undefined : last / first,
    interval: wilson(last, first),
    open,
    unattributed,
  };
};
