import { nearest } from '../../naming/likeness';
import { defineMessageCheck } from '../check';

export interface UnplannedProperty {
  readonly property: string;
  readonly nearest: string | undefined;
}

export const unplannedParams = (property: string, planned: readonly string[]): UnplannedProperty => ({
  property,
  nearest: nearest(property, planned),
});

export const unplannedProperty = defineMessageCheck({
  id: 'unplanned-property',
  on: 'message',
  title: 'Unplanned property',
  why: 'Nobody knows what it means, and it may be a planned one under another name.',
  severity: 'note',
  mender: (p: UnplannedProperty) => (p.nearest === undefined ? 'plan' : 'source'),
  expected: (p: UnplannedProperty) => (p.nearest === undefined ? 'what is planned on it' : `\`${p.nearest}\``),
  received: (p: UnplannedProperty) => `\`${p.property}\``,
  message: (p: UnplannedProperty) =>
    `came with \`${p.property}\`, which is not planned on it${p.nearest === undefined ? '' : `; the nearest planned name is \`${p.nearest}\``}`,
  cause: (p: UnplannedProperty) =>
    p.nearest === undefined ? 'It was added without the plan.' : 'The name was mistyped, or changed on one side.',
  mend: (p: UnplannedProperty) =>
    p.nearest === undefined
      ? `Add \`${p.property}\` to the plan, or stop sending it.`
      : `Send it as \`${p.nearest}\`, or add it to the plan.`,
});
