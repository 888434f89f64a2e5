import { conditionText } from '../../definitions/text';
import { vacuousIn } from '../../definitions/vacuous';
import type { Plan } from '../../plan/plan';
import { liveDefinitions } from '../live';
import { defineRule, type RuleHit } from '../rule';

interface Params {
  readonly name: string;
  readonly condition: string;
}

export const definitionNarrowsNothing = defineRule({
  id: 'definition-narrows-nothing',
  title: 'Condition that always holds',
  why: 'It reads as if it narrowed the definition, and lets everything pass.',
  example: { wrong: 'release is not “8.1” or release is not “8.2”', right: 'release is none of “8.1”, “8.2”' },
  severity: 'caution',
  message: (p: Params) => `Of \`${p.name}\`, every message fulfils ${p.condition}.`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, d] of liveDefinitions(plan)) {
      const vacuous = vacuousIn(d.where);
      if (vacuous?.what !== 'always') continue;
      const condition = vacuous.conditions.map((c) => conditionText(c, (s) => plan.source[s]?.name ?? s)).join(' or ');
      yield { path: ['definition', id, 'where'], params: { name: d.name, condition } };
    }
  },
});
