import { nearest } from '../../naming/likeness';
import { entries } from '../../plan/plan';
import { defineMessageCheck } from '../check';
import { ownName, pathOf, refOf, refText, type PropertyRef } from '../../plan/property-path';

export interface UnplannedProperty {
  readonly property: PropertyRef;
  readonly nearest: string | undefined;
}

/** `planned`: the names that are in the same place. */
export const unplannedParams = (property: PropertyRef, planned: readonly string[]): UnplannedProperty => {
  const near = nearest(ownName(property), planned);
  return { property, nearest: near === undefined ? undefined : refText(refOf([...pathOf(property).slice(0, -1), near])) };
};

export const unplannedProperty = defineMessageCheck({
  id: 'unplanned-property',
  on: 'unplanned property',
  title: 'Unplanned property',
  why: 'Nobody knows what it means, and it may be a planned one under another name.',
  example: { wrong: '`"toolId": "T-0412"`, where `tool_id` is planned', right: '`"tool_id": "T-0412"`' },
  severity: 'note',
  fixer: (p: UnplannedProperty) => (p.nearest === undefined ? 'plan' : 'source'),
  expected: (p: UnplannedProperty) => (p.nearest === undefined ? 'what is planned on it' : `\`${p.nearest}\``),
  received: (p: UnplannedProperty) => `\`${refText(p.property)}\``,
  message: (p: UnplannedProperty) =>
    `came with \`${refText(p.property)}\`, which is not planned on it${p.nearest === undefined ? '' : `; the nearest planned name is \`${p.nearest}\``}`,
  cause: (p: UnplannedProperty) =>
    p.nearest === undefined ? 'It was added without the plan.' : 'The name was mistyped, or changed on one side.',
  fix: (p: UnplannedProperty) =>
    p.nearest === undefined
      ? `Add \`${refText(p.property)}\` to the plan, or stop sending it.`
      : `Send it as \`${p.nearest}\`, or add it to the plan.`,
  compile(plan) {
    const automatic = new Set(entries(plan, 'source').flatMap(([, s]) => s.automaticProperties));
    // A library adds to the message itself, not to what is inside of an object.
    return (property, planned) =>
      typeof property === 'string' && automatic.has(property) ? undefined : unplannedParams(property, planned);
  },
});
