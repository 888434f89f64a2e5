import { patternRefused } from '../../plan/pattern';
import { entries, type Plan } from '../../plan/plan';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
  readonly refused: string;
}

export const patternUnreadable = defineRule({
  id: 'pattern-unreadable',
  title: 'Pattern that nothing is checked by',
  why: 'Values pass that the plan seems to refuse.',
  example: { wrong: 'the pattern `(?<=T-)\\d+`', right: 'the pattern `T-\\d+`' },
  severity: 'caution',
  message: (p: Params) => `Nothing that arrives is held against the pattern of \`${p.name}\`: ${p.refused}`,
  fix: () => 'Take the pattern away',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, p] of liveProperties(plan)) {
      const refused = patternRefused(p.pattern);
      if (refused !== undefined)
        yield {
          path: ['property', id, 'pattern'],
          params: { name: refText(refOfProperty(p)), refused },
          fix: [{ op: 'set', kind: 'property', id, field: 'pattern', before: p.pattern, after: '' }],
        };
    }
    for (const [id, k] of entries(plan, 'identifierKind')) {
      const refused = patternRefused(k.pattern);
      if (refused !== undefined)
        yield {
          path: ['identifierKind', id, 'pattern'],
          params: { name: k.name, refused },
          fix: [{ op: 'set', kind: 'identifierKind', id, field: 'pattern', before: k.pattern, after: '' }],
        };
    }
  },
});
