/** The sheet of definitions, loaded when it is opened: its cells bring the words of conditions along. */
import { definitionFields } from './definition';
import type { Sheet } from './sheets';

export const DEFINITION_SHEET: Sheet = {
  id: 'definition',
  title: 'Definitions',
  one: 'definition',
  many: 'definitions',
  kind: 'definition',
  fields: definitionFields,
  rows: (plan) => Object.keys(plan.definition),
};
