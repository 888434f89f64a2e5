import { defineFormat } from '../format';
import { planDocument, planYaml } from '../plan-document';

export const yaml = defineFormat({
  id: 'yaml',
  title: 'YAML',
  note: 'The same, easier to read and compare.',
  reads: 'a plan (YAML)',
  isWhole: true,
  file: { ending: 'yaml', type: 'application/yaml' },
  recognise: (fileName, text) => /\.ya?ml$/i.test(fileName) || /^format:/m.test(text.slice(0, 400)),
  write: ({ plan, number, contentHash }) => planYaml(plan, number, contentHash),
  read: planDocument,
});
