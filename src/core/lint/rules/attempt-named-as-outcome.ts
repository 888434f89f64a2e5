import { objectAction } from '../../naming/object-action';
import { pastOf } from '../../naming/tense';
import { settingsOf, type Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly action: string;
}

/** Actions that name an outcome. Common practice, no source. */
const OUTCOMES = new Set(
  'completed confirmed purchased paid activated created delivered returned charged booked registered approved sent saved stored published finished cancelled canceled refunded subscribed unsubscribed upgraded installed shared downloaded uploaded attended ended'.split(
    ' ',
  ),
);

export const attemptNamedAsOutcome = defineRule({
  id: 'attempt-named-as-outcome',
  title: 'Attempt under the name of an outcome',
  why: 'Whoever reads the name takes every press for a success.',
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` is marked as an attempt, but “${p.action}” names an outcome.`,
  mend: () => 'Mark it as completed',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    for (const [id, e] of liveEvents(plan)) {
      if (e.triggerKind !== 'attempted') continue;
      const verb = objectAction(e.name, naming)?.action[0];
      if (verb === undefined || !OUTCOMES.has(pastOf(verb))) continue;
      yield {
        path: ['event', id, 'triggerKind'],
        params: { name: e.name, action: verb },
        fix: [{ op: 'set', kind: 'event', id, field: 'triggerKind', before: e.triggerKind, after: 'completed' }],
      };
    }
  },
});
