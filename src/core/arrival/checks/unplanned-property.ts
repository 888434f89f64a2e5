import { nearest } from '../../naming/likeness';
import { defineMessageCheck } from '../check';
import { ownName, pathOf, refOf, refText, type PropertyRef } from '../../plan/property-path';

export interface UnplannedProperty {
  readonly property: PropertyRef;
  readonly nearest: string | undefined;
}

/** `planned`: the names that stand in the same place. */
export const unplannedParams = (property: PropertyRef, planned: readonly string[]): UnplannedProperty => {
  const near = nearest(ownName(property), planned);
  return { property, nearest: near === undefined ? undefined : refText(refOf([...pathOf(property).slice(0, -1), near])) };
};

export const unplannedProperty = defineMessageCheck({
  id: 'unplanned-property',
  on: 'message',
  title: 'Unplanned property',
  why: 'Nobody knows what it means, and it may be a planned one under another name.',
  severity: 'note',
  mender: (p: UnplannedProperty) => (p.nearest === undefined ? 'plan' : 'source'),
  expected: (p: UnplannedProperty) => (p.nearest === undefined ? 'what is planned on it' : `\`${p.nearest}\``),
  received: (p: UnplannedProperty) => `\`${refText(p.property)}\``,
  message: (p: UnplannedProperty) =>
    `came with \`${refText(p.property)}\`, which is not planned on it${p.nearest === undefined ? '' : `; the nearest planned name is \`${p.nearest}\``}`,
  cause: (p: UnplannedProperty) =>
    p.nearest === undefined ? 'It was added without the plan.' : 'The name was mistyped, or changed on one side.',
  mend: (p: UnplannedProperty) =>
    p.nearest === undefined
      ? `Add \`${refText(p.property)}\` to the plan, or stop sending it.`
      : `Send it as \`${p.nearest}\`, or add it to the plan.`,
});
