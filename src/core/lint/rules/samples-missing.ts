import type { Plan } from '../../plan/plan';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
  readonly has: number;
}

const MIN = 2;

export const samplesMissing = defineRule({
  id: 'samples-missing',
  title: 'Samples missing',
  why: 'Two samples settle more questions of form than a paragraph does.',
  example: { wrong: 'a property with one sample', right: 'a property with two samples' },
  severity: 'note',
  message: (p: Params) => `\`${p.name}\` has ${p.has === 0 ? 'no sample' : 'one sample'}; two are asked for.`,
  fix: () => 'Take the first of its allowed values',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, p] of liveProperties(plan)) {
      if (p.samples.length >= MIN || p.type === 'object') continue;
      const after = p.type === 'boolean' ? ['true', 'false'] : [...new Set([...p.samples, ...p.allowed])].slice(0, MIN);
      yield {
        path: ['property', id, 'samples'],
        params: { name: refText(refOfProperty(p)), has: p.samples.length },
        ...(after.length >= MIN ? { fix: [{ op: 'set', kind: 'property', id, field: 'samples', before: p.samples, after } as const] } : {}),
      };
    }
  },
});
