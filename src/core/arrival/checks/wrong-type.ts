import { jsonTypeOf, parseInstant } from '../../plan/property-type';
import type { Property, PropertyType } from '../../plan/plan';
import { defineValueCheck, shown } from '../check';
import { refOfProperty, refText, type PropertyRef } from '../../plan/property-path';

export interface WrongType {
  readonly property: PropertyRef;
  readonly expected: PropertyType;
  readonly received: ReturnType<typeof jsonTypeOf>;
  /** The value is text, but a number is written in it. */
  readonly numberInText: boolean;
  readonly value: string;
}

const NUMBER = /^\s*[+-]?(\d+(\.\d+)?|\.\d+)([eE][+-]?\d+)?\s*$/;

const SCALAR: { readonly [T in PropertyType]?: (v: unknown) => boolean } = {
  string: (v) => typeof v === 'string',
  number: (v) => typeof v === 'number',
  integer: (v) => Number.isInteger(v),
  boolean: (v) => typeof v === 'boolean',
  timestamp: (v) => typeof v === 'string' && parseInstant(v) !== undefined,
  object: (v) => typeof v === 'object' && v !== null && !Array.isArray(v),
};

const testOf = (type: PropertyType): ((v: unknown) => boolean) => {
  const scalar = SCALAR[type];
  if (scalar) return scalar;
  const item = SCALAR[type.slice('list of '.length) as PropertyType]!;
  return (v) => Array.isArray(v) && v.every(item);
};

export const wrongType = defineValueCheck({
  id: 'wrong-type',
  on: 'value',
  title: 'Wrong type',
  why: 'Text cannot be added up, and a store that keeps one type for each column drops or splits the other.',
  example: { wrong: '`"deposit": "50"`, where the plan says integer', right: '`"deposit": 50`' },
  severity: 'stop',
  fixer: () => 'source',
  expected: (p: WrongType) => p.expected,
  received: (p: WrongType) => `${p.received}: ${p.value}`,
  message: (p: WrongType) =>
    p.numberInText
      ? `came with \`${refText(p.property)}\` as a number in text (${p.value}) where the plan says ${p.expected}`
      : `came with \`${refText(p.property)}\` as ${p.received} (${p.value}) where the plan says ${p.expected}`,
  cause: (p: WrongType) =>
    p.numberInText
      ? 'The value is read from a field or an attribute and sent without conversion.'
      : 'The source and the plan mean different types.',
  fix: (p: WrongType) =>
    p.numberInText
      ? `Convert \`${refText(p.property)}\` to a number before sending.`
      : `Send \`${refText(p.property)}\` as ${p.expected}, or change its type in the plan.`,
  compile(property: Property) {
    const ok = testOf(property.type);
    const numeric = property.type === 'number' || property.type === 'integer';
    return (v): WrongType | undefined =>
      ok(v)
        ? undefined
        : {
            property: refOfProperty(property),
            expected: property.type,
            received: jsonTypeOf(v),
            numberInText: numeric && typeof v === 'string' && NUMBER.test(v),
            value: shown(v),
          };
  },
});
