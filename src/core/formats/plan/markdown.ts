import { defineFormat } from '../format';
import { planMarkdown } from '../plan-markdown';

export const markdown = defineFormat({
  id: 'md',
  title: 'Markdown',
  note: 'A document for readers.',
  file: { ending: 'md', type: 'text/markdown; charset=utf-8' },
  write: ({ plan, number }) => planMarkdown(plan, number),
});
