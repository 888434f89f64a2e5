/** JSON Schema 2020-12 of an event's properties. */
import { PLACEHOLDER_PATTERN } from '../identity/placeholder';
import { propertiesOf, type Format, type Plan, type PlanEvent, type PlannedProperty, type Property, type PropertyType } from '../plan/plan';
import { isNumeric } from '../plan/property-type';
import type { PropertyPath } from '../plan/property-path';
import { standingIn, withOuters } from '../plan/outers';

export type JsonSchema = { readonly [keyword: string]: unknown };

const RFC3339 =
  '^\\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\\d|3[01])[Tt ]([01]\\d|2[0-3]):[0-5]\\d:[0-5]\\d(\\.\\d+)?([Zz]|[+-]([01]\\d|2[0-3]):[0-5]\\d)$';

const scalarSchema = (type: PropertyType): JsonSchema =>
  type === 'timestamp' ? { type: 'string', format: 'date-time', pattern: RFC3339 } : { type };

/** Each once. Source: JSON Schema Validation 2020-12, 6.1.2: the elements of `enum` should be unique; draft 7 and AsyncAPI demand it. */
const allowedValues = (p: Property, type: PropertyType): unknown[] => [
  ...new Set<unknown>(p.allowed.map((v) => (isNumeric(type) ? Number(v) : type === 'boolean' ? v === 'true' : v))),
];

/** Formats that JSON Schema has a name for; the others are written under ours, which validators pass over as they must.
 *  Source: JSON Schema Validation 2020-12, section 7.3.
 */
const FORMAT_NAMES: Partial<Record<Format, string>> = {
  UUID: 'uuid',
  'e-mail': 'email',
  URL: 'uri',
  date: 'date',
  'date-time': 'date-time',
};

/** The schema of one property: type, list, range, and no placeholder.
 *  Limits: `timestamp` as a pattern cannot tell 30 February; the format does, where a validator asserts formats.
 *  Source: JSON Schema Validation 2020-12, sections 6 and 7.
 */
export const propertySchema = (p: Property): JsonSchema => {
  const isList = p.type.startsWith('list of ');
  const itemType = (isList ? p.type.slice('list of '.length) : p.type) as PropertyType;
  const item: Record<string, unknown> = { ...scalarSchema(itemType) };
  if (p.allowed.length > 0) item['enum'] = allowedValues(p, itemType);
  else if (p.type === 'string') item['not'] = { pattern: PLACEHOLDER_PATTERN };
  if (!isList && isNumeric(itemType)) {
    if (p.min !== undefined) item['minimum'] = p.min;
    if (p.max !== undefined) item['maximum'] = p.max;
  }
  if (p.type === 'string') {
    if (p.pattern !== '') item['pattern'] = p.pattern;
    if (p.format !== '') item['format'] = FORMAT_NAMES[p.format] ?? p.format;
  }
  const words = [p.description, p.unit === '' ? '' : `Unit: ${p.unit}.`].filter(Boolean).join(' ');
  return {
    ...(words ? { description: words } : {}),
    ...(isList ? { type: 'array', items: item } : item),
    ...(p.samples.length > 0 ? { examples: p.samples.map((s) => (isNumeric(p.type) && s.trim() !== '' ? Number(s) : s)) } : {}),
  };
};

/** The schema of the `properties` of an event's messages. Properties that are not planned are let pass.
 *  Source: JSON Schema Core 2020-12.
 */
export const eventSchema = (plan: Plan, event: PlanEvent): JsonSchema => {
  const planned = withOuters(propertiesOf(plan, event).filter((p) => p.property.name !== ''));
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: event.name,
    ...(event.description ? { description: event.description } : {}),
    type: 'object',
    ...insideOf(planned, []),
  };
};

/** What is at one place, each object with what is planned inside of it. */
const insideOf = (planned: readonly PlannedProperty[], path: PropertyPath): JsonSchema => {
  const own = standingIn(planned, path);
  const schemaOf = (p: Property): JsonSchema => {
    const at = [...path, p.name];
    const hasInner = p.type === 'object' && standingIn(planned, at).length > 0;
    return hasInner ? { ...propertySchema(p), ...insideOf(planned, at) } : propertySchema(p);
  };
  return {
    properties: Object.fromEntries(own.map((p) => [p.property.name, schemaOf(p.property)])),
    required: own.filter((p) => p.required).map((p) => p.property.name),
  };
};
