/** What can be done to the steps of a trial; each gives the new list. */
import { blankStep, type Expected, type TrialStep, type WantedValue } from '../../../core/trial/script';

const at = <T>(list: readonly T[], i: number, next: T): T[] => list.map((x, j) => (j === i ? next : x));

/** A step at another place. Shape: a place outside of the list leaves it as it is. */
export const moved = (steps: readonly TrialStep[], from: number, to: number): TrialStep[] => {
  if (from < 0 || from >= steps.length || to < 0 || to >= steps.length) return [...steps];
  const rest = steps.filter((_, i) => i !== from);
  return [...rest.slice(0, to), steps[from]!, ...rest.slice(to)];
};

/** The step once more, right behind it. */
export const duplicated = (steps: readonly TrialStep[], i: number, id: string): TrialStep[] =>
  steps[i] ? [...steps.slice(0, i + 1), { ...steps[i], id }, ...steps.slice(i + 1)] : [...steps];

export const without = (steps: readonly TrialStep[], i: number): TrialStep[] => steps.filter((_, j) => j !== i);

export const added = (steps: readonly TrialStep[], id: string): TrialStep[] => [...steps, blankStep(id)];

export const changed = (steps: readonly TrialStep[], i: number, next: Partial<TrialStep>): TrialStep[] =>
  steps[i] ? at(steps, i, { ...steps[i], ...next }) : [...steps];

export const expectedChanged = (step: TrialStep, i: number, next: Partial<Expected>): Expected[] =>
  step.expects[i] ? at(step.expects, i, { ...step.expects[i], ...next }) : [...step.expects];

export const valueChanged = (e: Expected, i: number, next: WantedValue | undefined): WantedValue[] =>
  next === undefined ? e.values.filter((_, j) => j !== i) : i >= e.values.length ? [...e.values, next] : at(e.values, i, next);

/** How often, as it is chosen from a list; `undefined` for numbers of one's own. */
export const TIMES = [
  { title: 'exactly once', min: 1, max: 1 },
  { title: 'at most once', min: 0, max: 1 },
  { title: 'once or more', min: 1, max: 1000 },
  { title: 'exactly twice', min: 2, max: 2 },
] as const;

export const timesText = ({ min, max }: Pick<Expected, 'min' | 'max'>): string =>
  TIMES.find((t) => t.min === min && t.max === max)?.title ?? `${min} to ${max} times`;
