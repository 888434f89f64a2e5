import { sameValue } from '../../plan/edit';
import { areCompatible } from '../../plan/unit';
import type { Id, Plan, Property } from '../../plan/plan';
import { carriersOf } from '../../plan/plan-index';
import { liveProperties } from '../live';
import { defineRule, type RuleHit } from '../rule';
import { PathMap, refOfProperty, refText } from '../../plan/property-path';

interface Params {
  readonly name: string;
  readonly differs: 'type' | 'unit' | 'values';
  readonly here: string;
  readonly there: string;
  readonly on: string;
  readonly convertible: boolean;
}

const conflict = (a: Property, b: Property): Pick<Params, 'differs' | 'here' | 'there' | 'convertible'> | undefined => {
  if (a.type !== b.type) return { differs: 'type', here: b.type, there: a.type, convertible: false };
  if (a.unit !== b.unit)
    return { differs: 'unit', here: b.unit || 'none', there: a.unit || 'none', convertible: areCompatible(a.unit, b.unit) };
  if (!sameValue([...a.allowed].sort(), [...b.allowed].sort()))
    return { differs: 'values', here: b.allowed.join(', ') || 'any', there: a.allowed.join(', ') || 'any', convertible: false };
  return undefined;
};

export const propertyConflict = defineRule({
  id: 'property-conflict',
  title: 'Same property, defined otherwise on another event',
  why: 'A column that holds two types, units or lists cannot be compared, and nobody sees it in the figure.',
  example: { wrong: '`weight` in kg on one event, in g on another', right: '`weight` in g on both' },
  severity: 'caution',
  message: (p: Params) =>
    `\`${p.name}\` has another ${p.differs === 'values' ? 'list of values' : p.differs} here (${p.here}) than on ${p.on} (${p.there}).${p.convertible ? ' The one can be converted to the other.' : ''}`,
  fix: (p: Params) => `Take the ${p.differs === 'values' ? 'values' : p.differs} of ${p.on}`,
  *check(plan: Plan): Iterable<RuleHit<Params>> {
    const first = new PathMap<[Id, Property]>();
    for (const [id, p] of liveProperties(plan)) {
      const other = first.get(refOfProperty(p));
      if (!other) {
        first.add(refOfProperty(p), [id, p]);
        continue;
      }
      const found = conflict(other[1], p);
      if (!found) continue;
      const carrier = carriersOf(plan, other[0])[0];
      const field = found.differs === 'values' ? 'allowed' : found.differs;
      yield {
        path: ['property', id, field],
        params: { name: refText(refOfProperty(p)), ...found, on: carrier === undefined ? 'its twin' : `\`${plan.event[carrier]!.name}\`` },
        fix: [{ op: 'set', kind: 'property', id, field, before: p[field], after: other[1][field] }],
      };
    }
  },
});
