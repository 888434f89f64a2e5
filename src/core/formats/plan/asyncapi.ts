import { isLive, settingsOf, type Plan } from '../../plan/plan';
import { defineFormat } from '../format';
import { exampleMessage, messageSchema, sentEvents } from '../message-schema';

/** A text as a key of the document. Source: AsyncAPI 3.0.0, "Components Object": letters, digits, `.`, `-` and `_`. */
const keys = (ids: readonly string[]): ReadonlyMap<string, string> => {
  const out = new Map<string, string>();
  const used = new Set<string>();
  for (const id of ids) {
    const base = id.replaceAll(/[^A-Za-z0-9._-]+/g, '-') || 'item';
    let key = base;
    for (let n = 2; used.has(key); n++) key = `${base}-${n}`;
    used.add(key);
    out.set(id, key);
  }
  return out;
};

/** The plan as AsyncAPI: a channel for each source, a message for each event.
 *  Source: AsyncAPI 3.0.0; payloads in its default schema format.
 */
export const asyncApiOf = (plan: Plan, number: number, contentHash: string): Record<string, unknown> => {
  const events = sentEvents(plan);
  const messageKey = keys(events.map(([id]) => id));
  const sources = Object.entries(plan.source).filter(([id]) => events.some(([, e]) => e.sources.some((s) => s.sourceId === id)));
  const channelKey = keys(sources.map(([id]) => id));
  const sentBy = (sourceId: string) =>
    events.filter(([, e]) => isLive(e) && e.sources.some((s) => s.sourceId === sourceId && s.build !== 'retired'));
  const refs = (sourceId: string) =>
    Object.fromEntries(sentBy(sourceId).map(([id]) => [messageKey.get(id)!, { $ref: `#/components/messages/${messageKey.get(id)!}` }]));
  return {
    asyncapi: '3.0.0',
    info: {
      title: `${settingsOf(plan).name}: tracking plan`,
      version: number > 0 ? String(number) : 'draft',
      description: `Events that the sources send. Plan ${contentHash}.`,
    },
    defaultContentType: 'application/json',
    servers: {
      intake: {
        host: '{host}',
        protocol: 'https',
        pathname: '/intake',
        variables: { host: { default: 'localhost', description: 'Where Signal Post answers.' } },
        security: [{ $ref: '#/components/securitySchemes/writeKey' }],
      },
    },
    channels: Object.fromEntries(
      sources.map(([id, s]) => [
        channelKey.get(id)!,
        { address: '/intake', title: s.name, description: `What ${s.name} sends (${s.kind}, ${s.environment}).`, messages: refs(id) },
      ]),
    ),
    operations: Object.fromEntries(
      sources
        .filter(([id]) => sentBy(id).length > 0)
        .map(([id, s]) => [
          `send-${channelKey.get(id)!}`,
          { action: 'send', title: `${s.name} sends its events`, channel: { $ref: `#/channels/${channelKey.get(id)!}` } },
        ]),
    ),
    components: {
      securitySchemes: { writeKey: { type: 'http', scheme: 'bearer', description: 'A write key of the source.' } },
      messages: Object.fromEntries(
        events.map(([id, e]) => [
          messageKey.get(id)!,
          {
            name: e.name,
            title: e.name,
            ...(e.trigger === '' ? {} : { summary: `Trigger: ${e.trigger}` }),
            contentType: 'application/json',
            payload: messageSchema(plan, e),
            examples: [{ name: 'sample', payload: exampleMessage(plan, e) }],
          },
        ]),
      ),
    },
  };
};

export const asyncapi = defineFormat({
  id: 'asyncapi',
  title: 'AsyncAPI 3',
  note: 'A channel for each source, a message for each event, with examples.',
  file: { ending: 'asyncapi.json', type: 'application/vnd.aai.asyncapi+json' },
  write: ({ plan, number, contentHash }) => `${JSON.stringify(asyncApiOf(plan, number, contentHash), null, 2)}\n`,
});
