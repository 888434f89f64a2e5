import { misfitOf, type Misfit } from '../../plan/sample';
import type { Plan } from '../../plan/plan';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
  readonly sample: string;
  readonly misfit: Misfit;
}

const TEXT: Record<Misfit, string> = {
  type: 'is not of its type',
  range: 'lies outside its range',
  values: 'is not among its allowed values',
  pattern: 'does not match its pattern',
  format: 'is not of its format',
};

export const sampleMisfit = defineRule({
  id: 'sample-misfit',
  title: 'Sample that breaks its own definition',
  why: 'One of the two is wrong, and whoever builds it will follow the wrong one.',
  example: { wrong: 'the sample “blue” of a list that has red and green', right: 'the sample “red”' },
  severity: 'caution',
  message: (p: Params) => `The sample “${p.sample}” of \`${p.name}\` ${TEXT[p.misfit]}.`,
  fix: (p: Params) => (p.misfit === 'values' ? `Allow “${p.sample}”` : `Drop the sample “${p.sample}”`),
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, p] of liveProperties(plan))
      for (const sample of p.samples) {
        const misfit = misfitOf(p, sample);
        if (!misfit || (misfit === 'type' && sample.includes('%'))) continue;
        yield {
          path: ['property', id, 'samples'],
          params: { name: refText(refOfProperty(p)), sample, misfit },
          fix: [
            misfit === 'values'
              ? { op: 'set', kind: 'property', id, field: 'allowed', before: p.allowed, after: [...p.allowed, sample] }
              : {
                  op: 'set',
                  kind: 'property',
                  id,
                  field: 'samples',
                  before: p.samples,
                  after: p.samples.filter((s) => misfitOf(p, s) !== misfit),
                },
          ],
        };
        break;
      }
  },
});
