import { defineMessageCheck } from '../check';
import type { UnplannedProperty } from './unplanned-property';
import { refText } from '../../plan/property-path';

export const unplannedUserProperty = defineMessageCheck({
  id: 'unplanned-user-property',
  on: 'message',
  title: 'Sent, not usable',
  why: 'A user property that is not planned cannot be grouped by.',
  severity: 'caution',
  shows: 'user properties',
  mender: (p: UnplannedProperty) => (p.nearest === undefined ? 'plan' : 'source'),
  expected: (p: UnplannedProperty) => (p.nearest === undefined ? 'a user property of the plan' : `\`${p.nearest}\``),
  received: (p: UnplannedProperty) => `\`${refText(p.property)}\``,
  message: (p: UnplannedProperty) =>
    `set the user property \`${refText(p.property)}\`, which is not planned${p.nearest === undefined ? '' : `; the nearest planned name is \`${p.nearest}\``}`,
  cause: (p: UnplannedProperty) => (p.nearest === undefined ? 'It was added without the plan.' : 'The name was written differently.'),
  mend: (p: UnplannedProperty) =>
    p.nearest === undefined ? `Plan \`${refText(p.property)}\`, or stop sending it.` : `Set \`${p.nearest}\` instead.`,
});
