import { defineFormat, outcomeOf, plural } from '../format';
import { importSchema } from '../schema-import';

export const eventSchema = defineFormat({
  id: 'event-schema',
  title: 'JSON Schema of an event',
  reads: 'a JSON Schema of an event',
  // A plan is recognised before.
  recognise: (_, text) => text.startsWith('{'),
  read(plan, text, { fileName, newId }) {
    let schema: unknown;
    try {
      schema = JSON.parse(text);
    } catch (e) {
      return outcomeOf([], [{ where: 'file', detail: `This is not JSON: ${(e as Error).message}` }], '');
    }
    const r = importSchema(plan, schema, fileName.replace(/(\.schema)?\.json$/i, ''), newId);
    const stops = r.edits.length === 0;
    const properties = r.edits.filter((e) => e.kind === 'property').length;
    return outcomeOf(
      r.edits,
      stops ? r.problems.map((p) => ({ where: p.path, detail: p.detail })) : [],
      `The event “${r.eventName}” with ${plural(properties, 'property', 'properties')} new.`,
      stops ? [] : r.problems.map((p) => `${p.path}: ${p.detail}`),
    );
  },
});
