/** How far persons get along steps: the messages of all steps, walked once by time.
 *  Long because the walk and what it hands on to the exact search share their state.
 */
import type { EventView } from '../table/event-view';
import { inAnyOrderExactly, inOrderExactly, isAfter, type StepMessage } from './step-search';

/** Messages of the steps of one event: a stretch of a view, each with the bits of the steps that it fulfils. */
export interface StepList {
  readonly view: EventView;
  readonly from: number;
  readonly to: number;
  readonly bits: Uint32Array | number;
}

export interface Walk {
  readonly lists: readonly StepList[];
  readonly steps: number;
  readonly windowMs: number;
  /** One more than the greatest person. */
  readonly persons: number;
  /** Messages of different sources that are reversed by no more than this are in order. 0 where all are of one source. */
  readonly toleranceMs: number;
  readonly sourceOf: (row: number) => number;
}

/** By person: how many steps were reached, counted from the first; and when the first was done last, −Infinity for never. */
export interface Progress {
  readonly reached: Uint8Array;
  readonly lastFirst: Float64Array;
  /** By step: its messages; of further steps those within the window of a first one. Those of nobody are left out of further steps. */
  readonly messages: Float64Array;
  /** Persons who got as far as they did only by the tolerance. */
  readonly byTolerance: number;
}

/** Takes messages of one list, which all fulfil the same or their own bits, from a position up to another. */
type Take = (list: StepList, from: number, to: number) => void;

/** Gives the messages of all lists in runs: by time, and by arrival where times are equal; each run from the list that is next, as far as
 *  no other list comes before. Backward, runs begin at the end.
 */
const inRuns = (lists: readonly StepList[], backward: boolean, take: Take): void => {
  const n = lists.length;
  const at = Int32Array.from(lists, (l) => (backward ? l.to - 1 : l.from));
  const past = Int32Array.from(lists, (l) => (backward ? l.from - 1 : l.to));
  const by = backward ? -1 : 1;
  // The time that each list is at, turned so that the least is next.
  const key = Float64Array.from(lists, (l, i) => (at[i] === past[i] ? Infinity : by * l.view.time[at[i]!]!));
  for (;;) {
    let next = 0;
    let other = Infinity;
    for (let l = 1; l < n; l++) {
      const ahead = key[l]! - key[next]!;
      if (ahead < 0 || (ahead === 0 && by * (lists[l]!.view.rows[at[l]!]! - lists[next]!.view.rows[at[next]!]!) < 0)) {
        other = key[next]!;
        next = l;
      } else if (key[l]! < other) other = key[l]!;
    }
    if (key[next] === Infinity) return;
    const { time } = lists[next]!.view;
    const first = at[next]!;
    const end = past[next]!;
    let i = first + by;
    while (i !== end && by * time[i]! < other) i += by;
    take(lists[next]!, first, i);
    at[next] = i;
    key[next] = i === end ? Infinity : by * time[i]!;
  }
};

const bitsAt = ({ bits }: StepList, i: number): number => (typeof bits === 'number' ? bits : bits[i]!);

/** The messages of the steps of some persons, each person's by time, then by arrival. */
const messagesOf = (w: Walk, wanted: Uint8Array): Map<number, StepMessage[]> => {
  const out = new Map<number, StepMessage[]>();
  for (const list of w.lists) {
    const { person, time, rows } = list.view;
    for (let i = list.from; i < list.to; i++) {
      const p = person[i]!;
      if (p < 0 || wanted[p] === 0) continue;
      const m = { at: time[i]!, row: rows[i]!, source: w.sourceOf(rows[i]!), bits: bitsAt(list, i) };
      const own = out.get(p);
      if (own) own.push(m);
      else out.set(p, [m]);
    }
  }
  for (const list of out.values()) list.sort((a, b) => a.at - b.at || a.row - b.row);
  return out;
};

/** How many of a person's messages of each further step lie within the window of a first one. */
const withinWindow = (list: readonly StepMessage[], w: Walk, toleranceMs: number, into: Float64Array, by: 1 | -1): void => {
  for (const m of list)
    for (let s = 1; s < w.steps; s++) {
      if (!(m.bits & (1 << s))) continue;
      const hit = list.some((f) => f !== m && f.bits & 1 && isAfter(f, m, toleranceMs) && m.at - f.at <= w.windowMs);
      if (hit) into[s]! += by;
    }
};

/** What the strict walk found, with the persons judged anew for whom the tolerance may make a difference. */
const refined = (
  w: Walk,
  walked: Omit<Progress, 'byTolerance'>,
  maybe: Uint8Array | undefined,
  search: (list: readonly StepMessage[], w: Walk, known: number) => number,
): Progress => {
  let byTolerance = 0;
  if (maybe)
    for (const [p, list] of messagesOf(w, maybe)) {
      const known = walked.reached[p]!;
      const reached = search(list, w, known);
      if (reached > known) {
        walked.reached[p] = reached;
        byTolerance++;
      }
      withinWindow(list, w, 0, walked.messages, -1);
      withinWindow(list, w, w.toleranceMs, walked.messages, 1);
    }
  return { ...walked, byTolerance };
};

/** When a step was come upon last, in the direction of the walk, and when last from another source than that. */
class LastDone {
  readonly at: Float64Array;
  private readonly source: Int32Array;
  private readonly other: Float64Array;
  /** `never` is what means not yet. */
  constructor(persons: number, never: number) {
    this.at = new Float64Array(persons).fill(never);
    this.source = new Int32Array(persons).fill(-1);
    this.other = new Float64Array(persons).fill(never);
  }
  note(p: number, at: number, source: number): void {
    if (this.source[p] !== source) {
      this.other[p] = this.at[p]!;
      this.source[p] = source;
    }
    this.at[p] = at;
  }
  byOthers(p: number, than: number): number {
    return this.source[p] === than ? this.other[p]! : this.at[p]!;
  }
}

/** Steps in order. For each person and step the latest first step is kept from which a chain leads there: it is enough, since an
 *  earlier one leaves less of the window. A message that fulfils several steps means one of them in a chain, so later steps are
 *  looked at before earlier ones. Where a step comes within the tolerance before the one that should lead to it, the person is judged
 *  anew by an exact search.
 *  Shape: `persons` entries each. Missing values: messages of nobody are left out; whoever never did the first step reached 0.
 */
export const walkInOrder = (w: Walk): Progress => {
  const { lists, steps, windowMs, persons, toleranceMs } = w;
  const reached = new Uint8Array(persons);
  const begun = Array.from({ length: steps }, () => new Float64Array(persons).fill(-Infinity));
  const lastFirst = begun[0]!;
  const messages = new Float64Array(steps);
  const maybe = toleranceMs > 0 ? new Uint8Array(persons) : undefined;
  const done = maybe && Array.from({ length: steps }, () => new LastDone(persons, -Infinity));
  inRuns(lists, false, (list, from, to) => {
    const { person, time, rows } = list.view;
    const { bits } = list;
    for (let i = from; i < to; i++) {
      const p = person[i]!;
      const own = typeof bits === 'number' ? bits : bits[i]!;
      if (own & 1) messages[0]!++;
      if (p < 0) continue;
      const t = time[i]!;
      for (let s = 31 - Math.clz32(own); s > 0; s--) {
        if (!(own & (1 << s))) continue;
        if (t - lastFirst[p]! <= windowMs) messages[s]!++;
        if (done) done[s]!.note(p, t, w.sourceOf(rows[i]!));
        const first = begun[s - 1]![p]!;
        if (t - first > windowMs) continue;
        begun[s]![p] = first;
        if (s >= reached[p]!) reached[p] = s + 1;
      }
      if (own & 1) lastFirst[p] = t;
      // Only the clocks of two sources can differ.
      if (done)
        for (let s = 1; s < steps; s++)
          if (own & (1 << (s - 1)) && t - done[s]!.at[p]! <= toleranceMs && t - done[s]!.byOthers(p, w.sourceOf(rows[i]!)) <= toleranceMs)
            maybe[p] = 1;
    }
  });
  for (let p = 0; p < persons; p++) if (reached[p] === 0 && lastFirst[p]! > -Infinity) reached[p] = 1;
  return refined(w, { reached, lastFirst, messages }, maybe, inOrderExactly);
};

/** Further steps in any order after a first step, counted from the first without a gap: walked from the last message back, so that at
 *  each first step it is known when each further step comes next.
 *  Shape: as `walkInOrder`.
 */
export const walkInAnyOrder = (w: Walk): Progress => {
  const { lists, steps, windowMs, persons, toleranceMs } = w;
  const reached = new Uint8Array(persons);
  const lastFirst = new Float64Array(persons).fill(-Infinity);
  const next = Array.from({ length: steps }, () => new Float64Array(persons).fill(Infinity));
  const messages = new Float64Array(steps);
  const maybe = toleranceMs > 0 ? new Uint8Array(persons) : undefined;
  const first = maybe && new LastDone(persons, Infinity);
  inRuns(lists, true, (list, from, to) => {
    const { view } = list;
    for (let i = from; i > to; i--) {
      const p = view.person[i]!;
      if (p < 0) continue;
      const t = view.time[i]!;
      const own = bitsAt(list, i);
      if (own & 1) {
        let done = 1;
        while (done < steps && next[done]![p]! - t <= windowMs) done++;
        if (done > reached[p]!) reached[p] = done;
        if (lastFirst[p] === -Infinity) lastFirst[p] = t;
      }
      for (let s = 1; s < steps; s++) if (own & (1 << s)) next[s]![p] = t;
      if (first) {
        const source = w.sourceOf(view.rows[i]!);
        if (own >> 1 && first.byOthers(p, source) - t <= toleranceMs) maybe[p] = 1;
        if (own & 1) first.note(p, t, source);
      }
    }
  });
  const latest = new Float64Array(persons).fill(-Infinity);
  inRuns(lists, false, (list, from, to) => {
    const { person, time } = list.view;
    for (let i = from; i < to; i++) {
      const p = person[i]!;
      const own = bitsAt(list, i);
      if (own & 1) messages[0]!++;
      if (p < 0) continue;
      for (let s = 1; s < steps; s++) if (own & (1 << s) && time[i]! - latest[p]! <= windowMs) messages[s]!++;
      if (own & 1) latest[p] = time[i]!;
    }
  });
  return refined(w, { reached, lastFirst, messages }, maybe, inAnyOrderExactly);
};
