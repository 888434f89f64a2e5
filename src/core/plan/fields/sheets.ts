/** The sheets of a plan's entities. Those of its settings and its definitions are files of their own (setting-sheets.ts, definition-sheet.ts), which
 *  are loaded when one is opened.
 */
import { entries, type Id, type Kind, type Plan } from '../plan';
import { eventFields } from './event';
import type { Editor, Field } from './field';
import { identifierKindFields, sharedSetFields, sourceFields } from './others';
import { propertyFields } from './property';
import { userPropertyFields } from './user-property';

export interface Sheet {
  readonly id: string;
  readonly title: string;
  readonly one: string;
  readonly many: string;
  /** The kind of the rows; `undefined` where rows are settings and cannot be made or removed. */
  readonly kind: Exclude<Kind, 'settings' | 'question'> | undefined;
  readonly fields: readonly Field[];
  readonly rows: (plan: Plan) => readonly Id[];
  /** Where each row's value has an editor of its own. */
  readonly editorOf?: (id: Id) => { readonly editor: Editor; readonly options: readonly string[] };
}

const byOrder = (plan: Plan): Id[] =>
  entries(plan, 'event')
    .sort(([a, x], [b, y]) => x.order - y.order || (a < b ? -1 : 1))
    .map(([id]) => id);
const idsOf =
  (kind: Kind) =>
  (plan: Plan): Id[] =>
    Object.keys(plan[kind]);

export const ENTITY_SHEETS: readonly Sheet[] = [
  {
    id: 'event',
    title: 'Events',
    one: 'event',
    many: 'events',
    kind: 'event',
    fields: eventFields,
    rows: byOrder,
  },
  {
    id: 'property',
    title: 'Properties',
    one: 'property',
    many: 'properties',
    kind: 'property',
    fields: propertyFields,
    rows: idsOf('property'),
  },
  {
    id: 'userProperty',
    title: 'User properties',
    one: 'user property',
    many: 'user properties',
    kind: 'userProperty',
    fields: userPropertyFields,
    rows: idsOf('userProperty'),
  },
  {
    id: 'sharedSet',
    title: 'Shared sets',
    one: 'shared set',
    many: 'shared sets',
    kind: 'sharedSet',
    fields: sharedSetFields,
    rows: idsOf('sharedSet'),
  },
  {
    id: 'source',
    title: 'Sources',
    one: 'source',
    many: 'sources',
    kind: 'source',
    fields: sourceFields,
    rows: idsOf('source'),
  },
  {
    id: 'identifierKind',
    title: 'Identifier kinds',
    one: 'identifier kind',
    many: 'identifier kinds',
    kind: 'identifierKind',
    fields: identifierKindFields,
    rows: idsOf('identifierKind'),
  },
];
