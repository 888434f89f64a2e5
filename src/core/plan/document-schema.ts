/** The shape of edits and of a plan at the boundary: what comes from a browser, a file or the database. */
import { z } from 'zod';
import { CASE_STYLES } from '../naming/case-style';
import { FORMULA_TYPES, PERIODS } from '../questions/formula';
import type { Edit } from './edit';
import { BUILD_STATES, KINDS, PERSONAL_DATA_CLASSES, PROPERTY_TYPES, SOURCE_KINDS, TRIGGER_KINDS, type BodyOf, type Kind } from './plan';

const text = z.string().max(10_000);
const name = z
  .string()
  .max(1000)
  // eslint-disable-next-line no-control-regex
  .refine((s) => !/[\u0000-\u001f\u007f]/.test(s), { error: 'A name holds no control characters.' });
const names = z.array(name).max(10_000);
const id = z.string().min(1).max(100);

const step = z.object({
  eventName: name,
  where: z.array(z.object({ property: name, is: z.union([text, z.number(), z.boolean()]) })).max(20),
});
const formula = z.discriminatedUnion('type', [
  z.object({ type: z.literal(FORMULA_TYPES[0]), events: z.array(step).max(50), period: z.enum(PERIODS) }),
  z.object({
    type: z.literal(FORMULA_TYPES[1]),
    steps: z.array(step).max(20),
    windowMs: z.number().int().positive(),
    overDays: z.number().int().min(1).max(3660),
  }),
]);
const eventProperty = z.object({ propertyId: id, required: z.boolean() });
const share = z.number().min(0).max(1);
const severity = z.enum(['stop', 'caution', 'note']);

const timeZone = z.string().refine(
  (tz) => {
    try {
      new Intl.DateTimeFormat('en', { timeZone: tz });
      return true;
    } catch {
      return false;
    }
  },
  { error: 'Not a time zone; write one such as Europe/London.' },
);

const bodies = {
  settings: z.object({
    name,
    timeZone,
    weekStartsOn: z.number().int().min(1).max(7),
    currency: z.string().regex(/^[A-Z]{3}$/, { error: 'A currency is three capital letters, as in ISO 4217.' }),
    settlingHours: z.number().min(0),
    naming: z.object({
      eventCase: z.enum(CASE_STYLES),
      propertyCase: z.enum(CASE_STYLES),
      userPropertyCase: z.enum(CASE_STYLES),
      wordOrder: z.enum(['object then action', 'action then object']),
      tense: z.enum(['past', 'present']),
      actions: names,
      objects: names,
      vagueNames: names,
      maxLength: z.number().int().min(1).max(1000),
    }),
    identity: z.object({
      links: z.array(z.tuple([name, name])).max(100),
      linking: z.boolean(),
      maxUserIds: z.number().int().min(0),
      placeholderGuard: z.boolean(),
    }),
    rules: z.record(z.string(), z.object({ severity: severity.optional(), off: z.boolean().optional() })),
  }),
  source: z.object({
    name,
    kind: z.enum(SOURCE_KINDS),
    environment: name,
    mark: z.string().max(4),
    owner: name,
    expectedLagMs: z.number().min(0),
    automaticProperties: names,
    idKinds: z.object({ beforeSignIn: names, afterSignIn: names }),
  }),
  question: z.object({
    text,
    decision: text,
    definition: text,
    kind: z.enum(['metric', 'question']),
    owner: name,
    priority: z.number(),
    order: z.number(),
    formula: formula.nullable(),
    thresholds: z.object({ clear: share, caution: share }),
  }),
  event: z.object({
    name,
    object: name,
    action: name,
    description: text,
    trigger: text,
    triggerKind: z.enum(TRIGGER_KINDS),
    flow: name,
    order: z.number(),
    sources: z.array(z.object({ sourceId: id, required: z.boolean(), build: z.enum(BUILD_STATES), since: name.optional() })).max(100),
    properties: z.array(eventProperty).max(1000),
    sharedSets: z.array(id).max(100),
    counterpart: z.object({ eventName: name, keyProperty: name, windowMs: z.number().positive() }).optional(),
    conversion: z.boolean(),
    owner: name,
    notes: text,
    formerNames: names,
  }),
  property: z.object({
    name,
    description: text,
    type: z.enum(PROPERTY_TYPES),
    unit: name,
    allowed: z.array(text).max(10_000),
    min: z.number().optional(),
    max: z.number().optional(),
    pattern: text,
    samples: z.array(text).max(1000),
    describes: name,
    personalData: z.enum(PERSONAL_DATA_CLASSES),
    formerNames: names,
  }),
  sharedSet: z.object({ name, description: text, properties: z.array(eventProperty).max(1000) }),
  userProperty: z.object({
    name,
    description: text,
    type: z.enum(PROPERTY_TYPES),
    allowed: z.array(text).max(10_000),
    sources: z.array(id),
    registered: z.boolean(),
    formerNames: names,
  }),
  identifierKind: z.object({
    name,
    description: text,
    stable: z.boolean(),
    personalData: z.boolean(),
    identifies: z.enum(['person', 'device', 'visit']),
  }),
} as const;

const kind = z.enum(KINDS);
const editShape = z.discriminatedUnion('op', [
  z.object({ op: z.literal('create'), kind, id, body: z.unknown() }),
  z.object({ op: z.literal('remove'), kind, id, body: z.unknown() }),
  z.object({ op: z.literal('set'), kind, id, field: z.string(), before: z.unknown(), after: z.unknown() }),
]);

export type Parsed<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly detail: string };

const problem = (e: z.ZodError): string =>
  e.issues
    .slice(0, 3)
    .map((i) => `${i.path.length > 0 ? `${i.path.join('.')}: ` : ''}${i.message}`)
    .join('; ');

/** A body of this kind, or what is wrong with it. */
export const parseBody = (k: Kind, value: unknown): Parsed<BodyOf[Kind]> => {
  const r = bodies[k].safeParse(value);
  return r.success ? { ok: true, value: r.data as BodyOf[Kind] } : { ok: false, detail: problem(r.error) };
};

/** An edit from outside. A `set` is judged by the shape of its one field. */
export const parseEdit = (value: unknown): Parsed<Edit> => {
  const r = editShape.safeParse(value);
  if (!r.success) return { ok: false, detail: problem(r.error) };
  const e = r.data;
  if (e.op !== 'set') {
    const body = parseBody(e.kind, e.body);
    return body.ok ? { ok: true, value: { ...e, body: body.value } } : body;
  }
  const shape = bodies[e.kind].shape as Record<string, z.ZodType>;
  const field = Object.hasOwn(shape, e.field) ? shape[e.field] : undefined;
  if (!field) return { ok: false, detail: `${e.kind} has no field “${e.field}”` };
  const after = field.safeParse(e.after);
  if (!after.success) return { ok: false, detail: `${e.field}: ${problem(after.error)}` };
  return { ok: true, value: { ...e, before: e.before, after: after.data } };
};
