import { entries, type Plan } from '../../plan/plan';
import { userPropertiesOf } from '../../questions/coverage';
import { liveUserProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { PathMap, refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly text: string;
  readonly name: string;
}

export const comparedByUserProperty = defineRule({
  id: 'compared-by-user-property',
  title: 'Groups by a user property that is not registered',
  why: 'Its values begin when it is first set and reported: what came before has none, and cannot be had later.',
  example: {
    wrong: 'the question “Borrowers by `plan_tier`”, where `plan_tier` is not registered',
    right: 'the same question, with `plan_tier` registered before it is asked',
  },
  severity: 'caution',
  message: (p: Params) => `“${p.text}” compares groups by \`${p.name}\`, which is not registered: values begin when it is first set.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const registered = new PathMap(liveUserProperties(plan).map(([, u]) => [refOfProperty(u), u.registered] as const));
    for (const [id, q] of entries(plan, 'question'))
      for (const ref of q.formula ? userPropertiesOf(q.formula) : [])
        if (registered.get(ref) === false) yield { path: ['question', id, 'formula'], params: { text: q.text, name: refText(ref) } };
  },
});
