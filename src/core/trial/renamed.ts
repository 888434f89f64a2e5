/** Steps that follow what they name. */
import { movedRef, type PropertyRef } from '../plan/property-path';
import type { TrialStep } from './script';

/** The steps with an event under another name. The list given is not changed. */
export const stepsWithEvent = (steps: readonly TrialStep[], old: string, name: string): TrialStep[] =>
  steps.map((s) => ({
    ...s,
    expects: s.expects.map((e) => (e.event === old ? { ...e, event: name } : e)),
    forbids: s.forbids.map((f) => (f === old ? name : f)),
  }));

/** The steps with a property, and what is inside of it, at another place; of these events alone. */
export const stepsWithProperty = (
  steps: readonly TrialStep[],
  events: ReadonlySet<string>,
  from: PropertyRef,
  to: PropertyRef,
): TrialStep[] =>
  steps.map((s) => ({
    ...s,
    expects: s.expects.map((e) =>
      events.has(e.event) ? { ...e, values: e.values.map((v) => ({ ...v, property: movedRef(v.property, from, to) })) } : e,
    ),
  }));
