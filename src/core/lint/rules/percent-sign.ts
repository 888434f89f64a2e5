import type { Plan } from '../../plan/plan';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
  readonly sample: string;
}

const WITH_SIGN = /^\s*[+-]?\d+([.,]\d+)?\s*%\s*$/;
const without = (s: string): string => s.replace('%', '').replace(',', '.').trim();

export const percentSign = defineRule({
  id: 'percent-sign',
  title: 'Percent sign in the value',
  why: 'The sign belongs to the display; in the value it turns a number into text.',
  example: { wrong: '`discount` with the sample “15%”', right: '`discount` with the sample 15 and the unit %' },
  severity: 'caution',
  message: (p: Params) => `The sample “${p.sample}” of \`${p.name}\` carries its percent sign.`,
  fix: () => 'Keep the number, with % as its unit',
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, p] of liveProperties(plan)) {
      const sample = p.samples.find((s) => WITH_SIGN.test(s));
      if (sample === undefined) continue;
      const set = (field: string, before: unknown, after: unknown) => ({ op: 'set', kind: 'property', id, field, before, after }) as const;
      yield {
        path: ['property', id, 'samples'],
        params: { name: refText(refOfProperty(p)), sample },
        fix: [
          set(
            'samples',
            p.samples,
            p.samples.map((s) => (WITH_SIGN.test(s) ? without(s) : s)),
          ),
          ...(p.type === 'number' || p.type === 'integer' ? [] : [set('type', p.type, 'number')]),
          ...(p.unit === '%' ? [] : [set('unit', p.unit, '%')]),
        ],
      };
    }
  },
});
