import { isNumeric } from '../../plan/property-type';
import type { Plan } from '../../plan/plan';
import { lowerWords } from '../../naming/words';
import { UNITS, unitHint } from '../../plan/unit';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { refOfProperty, refText } from '../../plan/property-path';

type Params =
  | { readonly name: string; readonly problem: 'missing'; readonly proposal: string | undefined }
  | { readonly name: string; readonly problem: 'unknown'; readonly unit: string; readonly proposal: undefined };

export const unitMissing = defineRule({
  id: 'unit-missing',
  title: 'Measured property without a unit',
  why: 'A number without a unit is added up across sources that mean minutes and sources that mean seconds.',
  example: { wrong: '`weight`, a number without a unit', right: '`weight` in g' },
  severity: 'caution',
  message: (p: Params) =>
    p.problem === 'missing' ? `\`${p.name}\` is a number without a unit.` : `\`${p.unit}\` on \`${p.name}\` is not a unit of the list.`,
  fix: (p: Params) => `Set the unit to ${p.proposal ?? ''}`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    for (const [id, p] of liveProperties(plan)) {
      if (!isNumeric(p.type)) continue;
      const path = ['property', id, 'unit'];
      if (p.unit !== '') {
        if (!UNITS.has(p.unit))
          yield { path, params: { name: refText(refOfProperty(p)), problem: 'unknown', unit: p.unit, proposal: undefined } };
        continue;
      }
      const proposal = unitHint(lowerWords(p.name));
      yield {
        path,
        params: { name: refText(refOfProperty(p)), problem: 'missing', proposal },
        ...(proposal ? { fix: [{ op: 'set', kind: 'property', id, field: 'unit', before: p.unit, after: proposal } as const] } : {}),
      };
    }
  },
});
