import { defineFormat } from '../format';
import { planDocument } from '../plan-document';
import { planJson } from '../plan-json';

export const json = defineFormat({
  id: 'json',
  title: 'JSON',
  note: 'The whole plan.',
  reads: 'a plan (JSON)',
  isWhole: true,
  file: { ending: 'json', type: 'application/json' },
  recognise: (_, text) => text.startsWith('{') && /"format"\s*:\s*"signal-post-plan/.test(text.slice(0, 400)),
  write: ({ plan, number, contentHash }) => planJson(plan, number, contentHash),
  read: planDocument,
});
