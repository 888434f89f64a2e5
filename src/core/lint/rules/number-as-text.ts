import { isNumeric } from '../../plan/property-type';
import { entries, plannedAt, type Plan } from '../../plan/plan';
import { eventNamed, plannedPropertiesOf } from '../../plan/plan-index';
import { needsOf } from '../../questions/coverage';
import { defineRule, type RuleHit } from '../rule';
import { refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
  readonly question: string;
}

export const numberAsText = defineRule({
  id: 'number-as-text',
  title: 'Number kept as text',
  why: 'Text is not added up: the question gives nothing, or compares letter by letter.',
  example: { wrong: 'a total of `deposit`, whose type is string', right: 'a total of `deposit`, whose type is integer' },
  severity: 'stop',
  message: (p: Params) => `“${p.question}” calculates on \`${p.name}\`, which is kept as text.`,
  fix: () => 'Make it a number',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const found = new Set<string>();
    for (const [, q] of entries(plan, 'question'))
      for (const need of needsOf(q)) {
        const event = eventNamed(plan, need.eventName);
        if (!event) continue;
        for (const n of need.properties) {
          if (!n.numeric) continue;
          const planned = plannedAt(plannedPropertiesOf(plan, event[0]), n.name);
          if (!planned || isNumeric(planned.property.type) || found.has(planned.id)) continue;
          found.add(planned.id);
          const { type } = planned.property;
          yield {
            path: ['property', planned.id, 'type'],
            params: { name: refText(n.name), question: q.text },
            fix: [{ op: 'set', kind: 'property', id: planned.id, field: 'type', before: type, after: 'number' }],
          };
        }
      }
  },
});
