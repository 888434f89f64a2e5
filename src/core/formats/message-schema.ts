/** JSON Schema of a whole message, as the intake takes it: the envelope, with an event's properties inside. */
import { entries, isLive, type Id, type Plan, type PlanEvent } from '../plan/plan';
import { CONSENTS, MARKS } from '../table/message-kinds';
import { eventSchema, propertySchema, type JsonSchema } from './json-schema';
import { sampleMessage } from './ticket';

/** The events that are still sent, in the order of the plan. */
export const sentEvents = (plan: Plan): [Id, PlanEvent][] =>
  entries(plan, 'event')
    .filter(([, e]) => e.name !== '' && isLive(e))
    .sort(([i, a], [j, b]) => a.order - b.order || (i < j ? -1 : 1));

/** Schema of the identifiers of the plan. */
const idsSchema = (plan: Plan): JsonSchema => ({
  type: 'object',
  description: 'Identifier kind → value.',
  properties: Object.fromEntries(
    entries(plan, 'identifierKind')
      .filter(([, k]) => k.name !== '')
      .map(([, k]) => [
        k.name,
        {
          type: 'string',
          ...(k.description === '' ? {} : { description: k.description }),
          ...(k.pattern === '' ? {} : { pattern: k.pattern }),
        },
      ]),
  ),
  additionalProperties: { type: ['string', 'number'] },
});

/** The schema of a message of an event.
 *  Source: JSON Schema; no keyword is used whose meaning differs between draft 7 and 2020-12, and no `$schema` says which, so that it can be inside
 *  of documents of either.
 */
export const messageSchema = (plan: Plan, event: PlanEvent): JsonSchema => {
  const { $schema: _, title, description, ...properties } = eventSchema(plan, event) as Record<string, unknown>;
  return {
    title,
    ...(description === undefined ? {} : { description }),
    type: 'object',
    required: ['id', 'name', 'time', 'properties'],
    properties: {
      id: { type: 'string', minLength: 1, maxLength: 200, description: 'Stays the same when a message is sent again.' },
      name: { const: event.name },
      time: { type: 'string', format: 'date-time', description: 'When it happened, with a zone.' },
      ids: idsSchema(plan),
      properties,
      user_properties: {
        type: 'object',
        properties: Object.fromEntries(
          entries(plan, 'userProperty')
            .filter(([, u]) => u.name !== '' && !u.retired && (u.within ?? []).length === 0)
            .map(([, u]) => [u.name, propertySchema({ ...u, pattern: '', format: '', describes: '', keepReason: '' })]),
        ),
      },
      release: { type: 'string', maxLength: 200 },
      page: { type: 'string' },
      environment: { type: 'string' },
      marks: { type: 'array', items: { enum: MARKS } },
      consent: { enum: CONSENTS },
      // Whatever else they say is left alone.
      sample_rate: { description: 'The share of devices that send such messages, more than 0 and less than 1.' },
      dropped_before: { description: 'How many messages the sender let go before this one.' },
    },
  };
};

/** Identifiers of a message as samples of the plan have them. */
const sampleIds = (plan: Plan, event: PlanEvent): Record<string, string> => {
  const source = plan.source[event.sources[0]?.sourceId ?? ''];
  return Object.fromEntries(
    entries(plan, 'identifierKind')
      .filter(([, k]) => k.sample !== '' && source?.idKinds.afterSignIn.includes(k.name))
      .map(([, k]) => [k.name, k.sample]),
  );
};

/** A message of an event out of the samples of the plan, with all of its envelope filled in. `time` in RFC 3339. */
export const exampleMessage = (plan: Plan, event: PlanEvent, time = '2026-03-01T09:30:00Z'): Record<string, unknown> => ({
  ...sampleMessage(plan, event, undefined),
  id: '0195f3c8-6c00-7000-8000-000000000001',
  time,
  ids: sampleIds(plan, event),
  release: '1.0.0',
});
