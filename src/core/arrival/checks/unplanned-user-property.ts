import { nearest } from '../../naming/likeness';
import { defineMessageCheck } from '../check';

export interface UnplannedUserProperty {
  readonly property: string;
  readonly nearest: string | undefined;
}

export const unplannedUserParams = (property: string, planned: readonly string[]): UnplannedUserProperty => ({
  property,
  nearest: nearest(property, planned),
});

export const unplannedUserProperty = defineMessageCheck({
  id: 'unplanned-user-property',
  on: 'message',
  title: 'Sent, not usable',
  why: 'A user property that is not planned cannot be grouped by.',
  severity: 'caution',
  message: (p: UnplannedUserProperty) =>
    `set the user property \`${p.property}\`, which is not planned${p.nearest === undefined ? '' : `; the nearest planned name is \`${p.nearest}\``}`,
  cause: (p: UnplannedUserProperty) => (p.nearest === undefined ? 'It was added without the plan.' : 'The name was written differently.'),
  mend: (p: UnplannedUserProperty) =>
    p.nearest === undefined ? `Plan \`${p.property}\`, or stop sending it.` : `Set \`${p.nearest}\` instead.`,
});
