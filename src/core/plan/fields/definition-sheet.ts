/** The sheet of definitions, loaded when it is opened: its cells bring the words of conditions along. */
import { definitionFields } from './definition';
import type { Sheet } from './sheets';

export const DEFINITION_SHEET: Sheet = {
  id: 'definition',
  title: 'Definitions',
  one: 'definition',
  many: 'definitions',
  about: 'A name for what arrives already: views, interactions or other events, over all that was recorded.',
  kind: 'definition',
  fields: definitionFields,
  rows: (plan) => Object.keys(plan.definition),
};
