/** An event drafted from a JSON Schema of its properties. */
import { PLACEHOLDER_PATTERN } from '../identity/placeholder';
import { objectAction } from '../naming/object-action';
import { blank } from '../plan/defaults';
import type { Edit } from '../plan/edit';
import { patternRefused } from '../plan/pattern';
import {
  entries,
  FORMATS,
  settingsOf,
  type EventProperty,
  type Format,
  type Id,
  type Plan,
  type Property,
  type PropertyType,
} from '../plan/plan';
import { indexOf } from '../plan/plan-index';
import { MAX_WITHIN, named, refOf } from '../plan/property-path';

export interface SchemaImport {
  readonly edits: readonly Edit[];
  /** What could not be taken over, by its path in the schema. */
  readonly problems: readonly { readonly path: string; readonly detail: string }[];
  readonly eventName: string;
}

type Schema = Readonly<Record<string, unknown>>;
const isSchema = (v: unknown): v is Schema => typeof v === 'object' && v !== null && !Array.isArray(v);
const textOf = (v: unknown): string => (typeof v === 'string' ? v : '');

/** Keywords that are taken over, on the event, on a property and on the items of a list; the others are named in the report. */
const ON_EVENT = new Set(['$schema', '$id', '$comment', 'title', 'description', 'type', 'properties', 'required', 'examples']);
const ON_PROPERTY = new Set(
  '$schema $comment title description type enum const minimum maximum pattern format items examples default properties required'.split(' '),
);
const ON_ITEMS = new Set(['type', 'enum', 'const', 'description']);

/** The keywords of a schema that say something that is not taken over. That no placeholder may come is understood on its own. */
const notTaken = (s: Schema, taken: ReadonlySet<string>): string[] =>
  Object.keys(s).filter((k) => !taken.has(k) && !(k === 'not' && isSchema(s['not']) && s['not']['pattern'] === PLACEHOLDER_PATTERN));

const FORMAT_OF: Readonly<Record<string, Format>> = { uuid: 'UUID', email: 'e-mail', uri: 'URL', date: 'date', 'date-time': 'date-time' };

const typeOf = (s: Schema): PropertyType | undefined => {
  const types = (Array.isArray(s['type']) ? (s['type'] as unknown[]) : [s['type']]).filter((t) => t !== 'null');
  const [type] = types;
  if (types.length !== 1) return undefined;
  if (type === 'string') return s['format'] === 'date-time' ? 'timestamp' : 'string';
  if (type === 'number' || type === 'integer' || type === 'boolean' || type === 'object') return type;
  if (type !== 'array' || !isSchema(s['items'])) return undefined;
  const item = s['items']['type'];
  return item === 'string' || item === 'number' || item === 'integer' || item === 'boolean' ? `list of ${item}` : undefined;
};

/** Reads a JSON Schema of an object as an event.
 *  Shape: the title is the event's name, each property is found in the plan by its name or drafted; those that are in the plan
 *  already are taken as they are. Edits are properties first, then the event; an event of this name gets the properties added.
 *  Errors: keywords and types that are not understood come back with their path; nothing throws.
 *  Source: JSON Schema Core and Validation 2020-12, the keywords listed above.
 */
export const importSchema = (plan: Plan, schema: unknown, fallbackName: string, newId: () => Id): SchemaImport => {
  const problems: { path: string; detail: string }[] = [];
  if (!isSchema(schema) || !isSchema(schema['properties']))
    return { edits: [], problems: [{ path: '/', detail: 'A schema of an object with `properties` is read.' }], eventName: '' };
  const eventName = (textOf(schema['title']) || fallbackName).trim();
  const edits: Edit[] = [];
  const carried: EventProperty[] = [];
  for (const k of notTaken(schema, ON_EVENT)) problems.push({ path: `/${k}`, detail: `The keyword ${k} is not taken over.` });
  const takeProperties = (outer: Schema, at: string, within: readonly string[]): void => {
    const required = new Set(Array.isArray(outer['required']) ? outer['required'] : []);
    if (isSchema(outer['properties']))
      for (const [name, s] of Object.entries(outer['properties'])) takeProperty(name, s, at, within, required.has(name));
  };
  const takeProperty = (name: string, s: unknown, at: string, within: readonly string[], required: boolean): void => {
    const path = `${at}/properties/${name.replaceAll('~', '~0').replaceAll('/', '~1')}`;
    const ref = refOf([...within, name]);
    if (!isSchema(s)) {
      if (s !== true) problems.push({ path, detail: 'A schema that is `false` allows nothing.' });
    }
    const own = isSchema(s) ? s : {};
    for (const k of notTaken(own, ON_PROPERTY)) problems.push({ path: `${path}/${k}`, detail: `The keyword ${k} is not taken over.` });
    if (isSchema(own['items']))
      for (const k of notTaken(own['items'], ON_ITEMS))
        problems.push({ path: `${path}/items/${k}`, detail: `The keyword ${k} is not taken over.` });
    let id = indexOf(plan).propertyAt.get(ref);
    if (id === undefined) {
      const type = typeOf(own);
      if (type === undefined) problems.push({ path: `${path}/type`, detail: 'The type is not one of the plan’s; it is drafted as text.' });
      const items = isSchema(own['items']) ? own['items'] : own;
      const list = Array.isArray(items['enum']) ? items['enum'] : 'const' in items ? [items['const']] : [];
      const format = FORMAT_OF[textOf(own['format'])] ?? FORMATS.find((f) => f === own['format']);
      const pattern = type === 'string' ? textOf(own['pattern']) : '';
      const refused = patternRefused(pattern);
      if (refused !== undefined) problems.push({ path: `${path}/pattern`, detail: `${refused} It is left out.` });
      const body: Property = blank('property', {
        ...named(ref),
        type: type ?? 'string',
        description: textOf(own['description']),
        allowed: list.filter((v) => v !== null).map(String),
        pattern: refused === undefined ? pattern : '',
        format: type === 'string' ? (format ?? '') : '',
        samples: Array.isArray(own['examples']) ? own['examples'].map((v) => (typeof v === 'object' ? JSON.stringify(v) : String(v))) : [],
        ...(typeof own['minimum'] === 'number' ? { min: own['minimum'] } : {}),
        ...(typeof own['maximum'] === 'number' ? { max: own['maximum'] } : {}),
      });
      id = newId();
      edits.push({ op: 'create', kind: 'property', id, body });
    }
    carried.push({ propertyId: id, required });
    if (typeOf(own) === 'object' && within.length < MAX_WITHIN) takeProperties(own, path, [...within, name]);
    else if ('properties' in own) problems.push({ path: `${path}/properties`, detail: 'The keyword properties is not taken over.' });
  };
  takeProperties(schema, '', []);
  if (eventName === '') problems.push({ path: '/title', detail: 'The schema has no title; the event has no name.' });
  const known = indexOf(plan).eventByName.get(eventName);
  if (known !== undefined) {
    const before = plan.event[known]!.properties;
    const after = [...before, ...carried.filter((c) => !before.some((b) => b.propertyId === c.propertyId))];
    if (after.length > before.length) edits.push({ op: 'set', kind: 'event', id: known, field: 'properties', before, after });
  } else {
    const parts = objectAction(eventName, settingsOf(plan).naming);
    const order = Math.max(0, ...entries(plan, 'event').map(([, e]) => e.order)) + 1;
    const body = blank('event', {
      name: eventName,
      description: textOf(schema['description']),
      object: parts?.object.join(' ') ?? '',
      action: parts?.action.join(' ') ?? '',
      order,
      properties: carried,
    });
    edits.push({ op: 'create', kind: 'event', id: newId(), body });
  }
  return { edits, problems, eventName };
};
