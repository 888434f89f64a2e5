/** How far persons get along steps: the messages of all steps, walked once by time. */
import type { EventView } from '../table/event-view';

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
}

/** By person: how many steps were reached, counted from the first; and when the first was done last, −Infinity for never. */
export interface Progress {
  readonly reached: Uint8Array;
  readonly lastFirst: Float64Array;
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
  // The time that each list stands at, turned so that the least is next.
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

/** Steps in order. For each person and step the latest first step is kept from which a chain leads there: it is enough, since an
 *  earlier one leaves less of the window. A message that fulfils several steps stands for one of them in a chain, so later steps are
 *  looked at before earlier ones.
 *  Shape: `persons` entries each. Missing values: messages of nobody are left out; whoever never did the first step reached 0.
 */
export const walkInOrder = ({ lists, steps, windowMs, persons }: Walk): Progress => {
  const reached = new Uint8Array(persons);
  const begun = Array.from({ length: steps }, () => new Float64Array(persons).fill(-Infinity));
  const lastFirst = begun[0]!;
  inRuns(lists, false, ({ view, bits }, from, to) => {
    const { person, time } = view;
    for (let i = from; i < to; i++) {
      const p = person[i]!;
      if (p < 0) continue;
      const t = time[i]!;
      const own = typeof bits === 'number' ? bits : bits[i]!;
      for (let s = 31 - Math.clz32(own); s > 0; s--) {
        if (!(own & (1 << s))) continue;
        const first = begun[s - 1]![p]!;
        if (t - first > windowMs) continue;
        begun[s]![p] = first;
        if (s >= reached[p]!) reached[p] = s + 1;
      }
      if (own & 1) lastFirst[p] = t;
    }
  });
  for (let p = 0; p < persons; p++) if (reached[p] === 0 && lastFirst[p]! > -Infinity) reached[p] = 1;
  return { reached, lastFirst };
};

/** Further steps in any order after a first step, counted from the first without a gap: walked from the last message back, so that at
 *  each first step it is known when each further step comes next.
 *  Shape: as `walkInOrder`.
 */
export const walkInAnyOrder = ({ lists, steps, windowMs, persons }: Walk): Progress => {
  const reached = new Uint8Array(persons);
  const lastFirst = new Float64Array(persons).fill(-Infinity);
  const next = Array.from({ length: steps }, () => new Float64Array(persons).fill(Infinity));
  inRuns(lists, true, ({ view, bits }, from, to) => {
    for (let i = from; i > to; i--) {
      const p = view.person[i]!;
      if (p < 0) continue;
      const t = view.time[i]!;
      const own = typeof bits === 'number' ? bits : bits[i]!;
      if (own & 1) {
        let done = 1;
        while (done < steps && next[done]![p]! - t <= windowMs) done++;
        if (done > reached[p]!) reached[p] = done;
        if (lastFirst[p] === -Infinity) lastFirst[p] = t;
      }
      for (let s = 1; s < steps; s++) if (own & (1 << s)) next[s]![p] = t;
    }
  });
  return { reached, lastFirst };
};
