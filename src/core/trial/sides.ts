/** What a script expects, told by who is to send it. */
import type { Plan } from '../plan/plan';
import { eventNamed } from '../plan/plan-index';
import type { Expected, TrialScript } from './script';

/** What is expected of each side.
 *  Shape: where both clients and servers have to send an event for one action, each side sends its own, and what is missing of one is not made up for by
 *  the other; which client it is depends on where the tester is. Where a script names sources, it is as the script says.
 */
const sidesOf = (plan: Plan, e: Expected): Expected[] => {
  const event = eventNamed(plan, e.event)?.[1];
  if (e.sources.length > 0 || !event) return [e];
  const asked = event.sources.filter((s) => plan.source[s.sourceId] && s.build !== 'retired');
  const sides = [false, true].map((server) => asked.filter((s) => (plan.source[s.sourceId]!.kind === 'server') === server));
  if (sides.some((side) => side.length === 0) || !asked.some((s) => s.required)) return [e];
  return sides.map((side) => ({ ...e, min: side.some((s) => s.required) ? e.min : 0, sources: side.map((s) => s.sourceId) }));
};

/** A script with what its steps expect told by sides. */
export const withSides = (plan: Plan, script: TrialScript): TrialScript => ({
  ...script,
  steps: script.steps.map((s) => ({ ...s, expects: s.expects.flatMap((e) => sidesOf(plan, e)) })),
});
