import { defineFormat } from '../format';
import { planSchema as schemaOfPlan } from '../plan-document';

export const planSchema = defineFormat({
  id: 'schema',
  title: 'JSON Schema of the JSON file',
  note: 'For checking or writing a plan file.',
  isFixed: true,
  file: { ending: 'schema.json', type: 'application/schema+json' },
  write: () => `${JSON.stringify(schemaOfPlan(), null, 2)}\n`,
});
