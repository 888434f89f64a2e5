import type { Property } from '../../plan/plan';
import { defineValueCheck } from '../check';
import { refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface EmptyValue {
  readonly property: PropertyRef;
  readonly value: 'empty text' | 'blanks' | 'null';
}

export const emptyValue = defineValueCheck({
  id: 'empty-value',
  on: 'value',
  title: 'Empty value',
  why: 'An empty text is a value of its own in every ranking, and hides that the property is missing.',
  example: { wrong: '`"branch": ""`', right: 'no `branch` at all, or `"branch": "Quayside"`' },
  severity: 'caution',
  fixer: () => 'source',
  expected: () => 'a value, or nothing at all',
  received: (p: EmptyValue) => p.value,
  message: (p: EmptyValue) => `came with ${p.value} in \`${refText(p.property)}\``,
  cause: () => 'The field was not filled in when the message was made.',
  fix: (p: EmptyValue) => `Leave \`${refText(p.property)}\` out where there is nothing to say.`,
  compile(planned: Property) {
    const { allowed } = planned;
    const property = refOfProperty(planned);
    if (allowed.includes('')) return undefined;
    return (v): EmptyValue | undefined =>
      v === null
        ? { property, value: 'null' }
        : typeof v === 'string' && v.trim() === ''
          ? { property, value: v === '' ? 'empty text' : 'blanks' }
          : undefined;
  },
});
