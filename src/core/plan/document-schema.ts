/** The shape of edits and of a plan at the boundary: what comes from a browser, a file or the database.
 *  Long because the schema of each kind is beside the others that it refers to. */
import { z } from 'zod';
import { CASE_STYLES } from '../naming/case-style';
import { definitionSchema } from '../definitions/definition-schema';
import { formulaSchema } from '../questions/formulas/schemas';
import { DEFAULT_SETTINGS } from './defaults';
import type { Edit } from './edit';
import {
  BUILD_STATES,
  FORMATS,
  KINDS,
  ONCE_PER,
  PERSONAL_DATA_CLASSES,
  PROPERTY_TYPES,
  SOURCE_KINDS,
  TRIGGER_KINDS,
  WRITES,
  type BodyOf,
  type Kind,
  type Plan,
} from './plan';
import { MAX_WITHIN } from './property-path';
import { isStorable, name, names, ref, text } from './text-schema';
import { patternRefused } from './pattern';
import { isTimeZone } from './time-zone';
import { trialSchema } from '../trial/trial-schema';

/** The names of objects on the way to a property. */
const within = z.array(name.min(1)).max(MAX_WITHIN);
const node = z.object({ kind: z.string().min(1).max(200), value: z.string().min(1).max(10_000) });
const id = z
  .string()
  .min(1)
  .max(100)
  // What every object has on its own could not be told from an entity.
  .refine((s) => isStorable(s) && !(s in Object.prototype), { error: 'This cannot be an ID; choose another.' });
const pattern = text.superRefine((s, c) => {
  const refused = patternRefused(s);
  if (refused !== undefined) c.addIssue({ code: 'custom', message: refused });
});

const eventProperty = z.object({ propertyId: id, required: z.boolean(), allowed: z.array(text).max(10_000).optional() });
const hours = z.number().min(0).max(8784);
const limit = z.number().int().min(1).max(1_000_000);
const share = z.number().min(0).max(1);
const percent = z.number().min(0).max(100);
const severity = z.enum(['stop', 'caution', 'note']);

const timeZone = z.string().refine(isTimeZone, { error: 'Not a time zone; write one such as Europe/London.' });

export const bodies = {
  settings: z.object({
    name,
    timeZone,
    weekStartsOn: z.number().int().min(1).max(7),
    currency: z.string().regex(/^[A-Z]{3}$/, { error: 'A currency is three capital letters, as in ISO 4217.' }),
    tooEarlyHours: hours.default(DEFAULT_SETTINGS.tooEarlyHours),
    settlingHours: hours,
    escalationHours: hours,
    sessionGapMinutes: z.number().min(1).max(1440).default(DEFAULT_SETTINGS.sessionGapMinutes),
    clockToleranceSeconds: z.number().min(0).max(3600).default(DEFAULT_SETTINGS.clockToleranceSeconds),
    clearFromPercent: percent.default(DEFAULT_SETTINGS.clearFromPercent),
    cautionFromPercent: percent.default(DEFAULT_SETTINGS.cautionFromPercent),
    historyYears: z.number().min(1).max(20).default(DEFAULT_SETTINGS.historyYears),
    provenance: z
      .record(
        z.string().min(1).max(100),
        z.object({
          source: z.string().max(500),
          asOf: z.string().regex(/^(\d{4}-\d{2}-\d{2})?$/, { error: 'A day is written as 2026-03-01.' }),
        }),
      )
      .default({}),
    limits: z.object({ events: limit, userProperties: limit, conversions: limit }),
    naming: z.object({
      eventCase: z.enum(CASE_STYLES),
      propertyCase: z.enum(CASE_STYLES),
      userPropertyCase: z.enum(CASE_STYLES),
      wordOrder: z.enum(['object then action', 'action then object']),
      tense: z.enum(['past', 'present']),
      actions: names,
      objects: names,
      valueCase: z.enum([...CASE_STYLES, 'any']),
      synonyms: z.array(z.array(name).max(50)).max(500),
      vagueNames: names,
      reservedNames: names,
      plainCharacters: z.boolean(),
      maxLength: z.number().int().min(1).max(1000),
    }),
    identity: z.object({
      links: z.array(z.tuple([name, name])).max(100),
      linking: z.boolean(),
      maxUserIds: z.number().int().min(0),
      placeholderGuard: z.boolean(),
      sharedDeviceUsers: z.number().int().min(0).default(DEFAULT_SETTINGS.identity.sharedDeviceUsers),
      blocked: z.array(z.string().min(1).max(1000)).max(10_000).default([]),
      cuts: z
        .array(z.object({ a: node, b: node, reason: z.string().trim().min(1, { error: 'Say why they are two persons.' }).max(2000) }))
        .max(1000)
        .default([]),
      signOutEvents: z.array(name).max(50).default([]),
      pricePerThousand: z.number().min(0).default(0),
    }),
    identityCases: z
      .array(
        z.object({
          id,
          title: name,
          asks: text,
          steps: z
            .array(
              z.object({
                title: text,
                kind: z.enum(['event', 'identify']),
                name: text,
                source: text,
                ids: z.record(z.string().min(1).max(200), z.string().min(1).max(1000)),
              }),
            )
            .max(200),
          persons: z.number().int().min(0),
        }),
      )
      .max(200)
      .default([]),
    rules: z.record(
      z.string(),
      z.object({
        severity: severity.optional(),
        off: z.boolean().optional(),
        exceptions: z
          .array(z.object({ kind: name, id, reason: text }))
          .max(10_000)
          .optional(),
        parameters: z.record(z.string().min(1).max(40), z.number()).optional(),
      }),
    ),
  }),
  source: z.object({
    name,
    kind: z.enum(SOURCE_KINDS),
    environment: name,
    mark: z.string().max(4),
    owner: name,
    expectedLagMs: z.number().min(0),
    automaticProperties: names,
    automaticEvents: names.optional(),
    prerequisites: z
      .array(
        z.object({
          what: text.min(1),
          kind: z.enum(['built-in value', 'shared setting']),
          notInheritedBy: z.array(id).max(1000),
          done: z.boolean(),
        }),
      )
      .max(100)
      .optional(),
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
    formula: formulaSchema.nullable(),
    thresholds: z
      .object({ clear: share, caution: share, by: name.optional(), why: text.optional() })
      .refine((t) => t.caution <= t.clear, { error: 'Caution begins below clear, not above it.' })
      .optional(),
    precision: share.optional(),
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
    counterpart: z.object({ eventName: name, keyProperty: ref, windowMs: z.number().positive() }).optional(),
    series: z.object({ property: ref, values: z.array(text).max(1000) }).optional(),
    scope: name,
    oncePer: z.enum([...ONCE_PER, '']),
    keepReason: text,
    retired: z.boolean(),
    conversion: z.boolean(),
    owner: name,
    notes: text,
    formerNames: names,
  }),
  property: z.object({
    name,
    within: within.optional(),
    description: text,
    type: z.enum(PROPERTY_TYPES),
    unit: name,
    allowed: z.array(text).max(10_000),
    min: z.number().optional(),
    max: z.number().optional(),
    pattern,
    format: z.enum([...FORMATS, '']),
    distinct: z.number().int().min(1).optional(),
    keepReason: text,
    retired: z.boolean(),
    samples: z.array(text).max(1000),
    describes: name,
    personalData: z.enum(PERSONAL_DATA_CLASSES),
    formerNames: names,
  }),
  sharedSet: z.object({ name, description: text, properties: z.array(eventProperty).max(1000) }),
  userProperty: z.object({
    name,
    within: within.optional(),
    description: text,
    type: z.enum(PROPERTY_TYPES),
    unit: name,
    allowed: z.array(text).max(10_000),
    samples: z.array(text).max(1000),
    buckets: z.array(z.number()).max(1000),
    distinct: z.number().int().min(1).optional(),
    write: z.enum(WRITES),
    personalData: z.enum(PERSONAL_DATA_CLASSES),
    sources: z.array(id),
    registered: z.boolean(),
    registeredAt: z.number().optional(),
    temporary: z.boolean(),
    retired: z.boolean(),
    formerNames: names,
  }),
  identifierKind: z.object({
    name,
    description: text,
    pattern,
    sample: text,
    scope: z.enum(['one source', 'all sources']),
    stable: z.boolean(),
    personalData: z.boolean(),
    identifies: z.enum(['person', 'device', 'visit']),
  }),
  definition: definitionSchema.extend({ description: text, owner: name, conversion: z.boolean(), keepReason: text, retired: z.boolean() }),
  trial: trialSchema,
} as const;

const kind = z.enum(KINDS);
const editShape = z.discriminatedUnion('op', [
  z.object({ op: z.literal('create'), kind, id, body: z.unknown() }),
  z.object({ op: z.literal('remove'), kind, id, body: z.unknown() }),
  // JSON drops what is undefined: a field without a value has no key.
  z.object({ op: z.literal('set'), kind, id, field: z.string(), before: z.unknown().optional(), after: z.unknown().optional() }),
]);

export type Parsed<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly detail: string };

const problem = (e: z.ZodError): string =>
  e.issues
    .slice(0, 3)
    .map((i) => `${i.path.length > 0 ? `${i.path.join('.')}: ` : ''}${i.message}`)
    .join('; ');

const wholePlan = z.object({
  settings: z.record(id, bodies.settings),
  source: z.record(id, bodies.source),
  question: z.record(id, bodies.question),
  event: z.record(id, bodies.event),
  property: z.record(id, bodies.property),
  sharedSet: z.record(id, bodies.sharedSet),
  userProperty: z.record(id, bodies.userProperty),
  identifierKind: z.record(id, bodies.identifierKind),
  definition: z.record(id, bodies.definition).default({}),
  trial: z.record(id, bodies.trial).default({}),
});

/** The JSON Schema of a plan document, 2020-12. */
export const planDocumentSchema = (): Record<string, unknown> => z.toJSONSchema(wholePlan, { io: 'input' });

/** A whole plan, or what is wrong with it. */
export const parsePlan = (v: unknown): Parsed<Plan> => {
  const r = wholePlan.safeParse(v);
  return r.success ? { ok: true, value: r.data as unknown as Plan } : { ok: false, detail: problem(r.error) };
};

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
