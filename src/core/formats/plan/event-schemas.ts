import { settingsOf, type Plan } from '../../plan/plan';
import { defineFormat } from '../format';
import { eventSchema } from '../json-schema';
import { sentEvents } from '../message-schema';

/** The schemas of all events in one document, each under the name that goes over the wire.
 *  Source: JSON Schema Core 2020-12, 8.2.4 (`$defs`).
 */
export const schemasOfEvents = (plan: Plan): Record<string, unknown> => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  title: `${settingsOf(plan).name}: properties of events`,
  $defs: Object.fromEntries(
    sentEvents(plan).map(([, e]) => {
      const { $schema: _, ...schema } = eventSchema(plan, e) as Record<string, unknown>;
      return [e.name, schema];
    }),
  ),
});

export const eventSchemas = defineFormat({
  id: 'event-schemas',
  title: 'JSON Schema of all events',
  note: 'Properties of each event, by name, in one file.',
  file: { ending: 'events.schema.json', type: 'application/schema+json' },
  write: ({ plan }) => `${JSON.stringify(schemasOfEvents(plan), null, 2)}\n`,
});
