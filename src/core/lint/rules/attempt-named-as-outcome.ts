import { objectAction } from '../../naming/object-action';
import { pastOf, tenseOf } from '../../naming/tense';
import { settingsOf, type Plan } from '../../plan/plan';
import { liveEvents } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly action: string;
}

/** Actions that are attempts, or name what somebody did and not what came of it. All others in the past name an outcome. Common
 *  practice, no source.
 */
const ATTEMPTS = new Set(
  `requested attempted tried started began initiated asked pressed tapped clicked submitted opened searched entered typed chosen chose selected
   picked viewed visited seen saw scrolled swiped dragged hovered focused failed rejected declined denied refused abandoned dismissed skipped
   invited applied offered proposed retried played`.split(/\s+/),
);

export const attemptNamedAsOutcome = defineRule({
  id: 'attempt-named-as-outcome',
  title: 'Attempt under the name of an outcome',
  why: 'Whoever reads the name takes every press for a success.',
  example: { wrong: '`Loan Started`, marked as an attempt', right: '`Loan Requested`, marked as an attempt' },
  severity: 'caution',
  message: (p: Params) => `\`${p.name}\` is marked as an attempt, but “${p.action}” names an outcome.`,
  fix: () => 'Mark it as completed',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const { naming } = settingsOf(plan);
    for (const [id, e] of liveEvents(plan)) {
      if (e.triggerKind !== 'attempted') continue;
      const verb = objectAction(e.name, naming)?.action[0];
      if (verb === undefined || tenseOf(pastOf(verb)) !== 'past' || ATTEMPTS.has(pastOf(verb))) continue;
      yield {
        path: ['event', id, 'triggerKind'],
        params: { name: e.name, action: verb },
        fix: [{ op: 'set', kind: 'event', id, field: 'triggerKind', before: e.triggerKind, after: 'completed' }],
      };
    }
  },
});
