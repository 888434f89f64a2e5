import { defineMessageCheck } from '../check';
import { unplannedParams, type UnplannedProperty } from './unplanned-property';
import { refText } from '../../plan/property-path';

const REMEMBERED = 1000;

export const unplannedUserProperty = defineMessageCheck({
  id: 'unplanned-user-property',
  on: 'unplanned user property',
  title: 'Sent, not usable',
  why: 'A user property that is not planned cannot be grouped by.',
  example: {
    wrong: '`"user_properties": {"tier": "gold"}`, where `plan_tier` is planned',
    right: '`"user_properties": {"plan_tier": "gold"}`',
  },
  severity: 'caution',
  shows: 'user properties',
  fixer: (p: UnplannedProperty) => (p.nearest === undefined ? 'plan' : 'source'),
  expected: (p: UnplannedProperty) => (p.nearest === undefined ? 'a user property of the plan' : `\`${p.nearest}\``),
  received: (p: UnplannedProperty) => `\`${refText(p.property)}\``,
  message: (p: UnplannedProperty) =>
    `set the user property \`${refText(p.property)}\`, which is not planned${p.nearest === undefined ? '' : `; the nearest planned name is \`${p.nearest}\``}`,
  cause: (p: UnplannedProperty) => (p.nearest === undefined ? 'It was added without the plan.' : 'The name was written differently.'),
  fix: (p: UnplannedProperty) =>
    p.nearest === undefined ? `Plan \`${refText(p.property)}\`, or stop sending it.` : `Set \`${p.nearest}\` instead.`,
  compile() {
    const known = new Map<string, UnplannedProperty>();
    return (property, _, planned) => {
      const name = refText(property);
      let params = known.get(name);
      if (!params) {
        params = unplannedParams(property, planned);
        if (known.size < REMEMBERED) known.set(name, params);
      }
      return params;
    };
  },
});
