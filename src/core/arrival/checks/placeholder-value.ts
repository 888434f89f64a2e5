import { isPlaceholder, isPlaceholderId } from '../../identity/placeholder';
import type { Property } from '../../plan/plan';
import { defineValueCheck, type PlannedKind } from '../check';
import { refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface PlaceholderValue {
  readonly property: PropertyRef;
  readonly value: string;
  /** It is where an identifier should. */
  readonly identifier: boolean;
  /** It is the plan's own sample value. */
  readonly sample?: boolean;
}

export const placeholderValue = defineValueCheck({
  id: 'placeholder-value',
  on: 'value',
  title: 'Placeholder instead of a value',
  why: 'A placeholder looks like data: as an identifier it makes thousands of people one person.',
  example: { wrong: '`"user": "{{member_id}}"`', right: '`"user": "m-7"`' },
  severity: 'stop',
  variant: (p: PlaceholderValue) => p.value,
  fixer: () => 'source',
  expected: () => 'a value, or nothing at all',
  received: (p: PlaceholderValue) => `“${p.value}”`,
  message: (p: PlaceholderValue) =>
    p.sample
      ? `came with “${p.value}” as its ${refText(p.property)} ID, which is the sample in the plan`
      : p.identifier
        ? `came with the placeholder “${p.value}” as its ${refText(p.property)} ID`
        : `came with the placeholder “${p.value}” in \`${refText(p.property)}\``,
  cause: (p: PlaceholderValue) =>
    p.sample
      ? 'The example was copied from the plan and never replaced.'
      : /[{$<%#[_:]/.test(p.value)
        ? 'A template was sent before it was filled in.'
        : 'The value was not known yet when the message was made.',
  fix: (p: PlaceholderValue) =>
    p.identifier
      ? `Leave the ${refText(p.property)} ID out until it is known.`
      : `Fill in \`${refText(p.property)}\` before sending, or leave it out.`,
  compile(property: Property) {
    if (property.type !== 'string') return undefined;
    const allowed = new Set(property.allowed);
    return (v): PlaceholderValue | undefined =>
      typeof v === 'string' && isPlaceholder(v) && !allowed.has(v)
        ? { property: refOfProperty(property), value: v.slice(0, 60), identifier: false }
        : undefined;
  },
});

/** The same of an identifier: a placeholder, or the sample of the plan. */
export const placeholderIdentifier = ({ sample }: PlannedKind): ((value: string, kind: string) => PlaceholderValue | undefined) => {
  const own = sample.trim();
  return (value, kind) => {
    const isSample = own !== '' && value.trim() === own;
    if (!isSample && !isPlaceholderId(value)) return undefined;
    return { property: kind, value: value.slice(0, 60), identifier: true, ...(isSample ? { sample: true } : {}) };
  };
};
