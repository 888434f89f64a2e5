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
  /** What such rows are, for whoever has none yet. */
  readonly about?: string;
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
    about: 'What happens, and when it is sent. A question adds what it needs with one action, too.',
    kind: 'event',
    fields: eventFields,
    rows: byOrder,
  },
  {
    id: 'property',
    title: 'Properties',
    one: 'property',
    many: 'properties',
    about: 'What events carry: a type, a unit, allowed values. An event takes them in its own row.',
    kind: 'property',
    fields: propertyFields,
    rows: idsOf('property'),
  },
  {
    id: 'userProperty',
    title: 'User properties',
    one: 'user property',
    many: 'user properties',
    about: 'What is known of a person, such as a membership: set by sources, and registered where figures are grouped by it.',
    kind: 'userProperty',
    fields: userPropertyFields,
    rows: idsOf('userProperty'),
  },
  {
    id: 'sharedSet',
    title: 'Shared sets',
    one: 'shared set',
    many: 'shared sets',
    about: 'Properties that several events carry alike, kept in one place.',
    kind: 'sharedSet',
    fields: sharedSetFields,
    rows: idsOf('sharedSet'),
  },
  {
    id: 'source',
    title: 'Sources',
    one: 'source',
    many: 'sources',
    about: 'Where messages come from: a site, an app, a kiosk, a server. Each gets write keys of its own.',
    kind: 'source',
    fields: sourceFields,
    rows: idsOf('source'),
  },
  {
    id: 'identifierKind',
    title: 'Identifier kinds',
    one: 'identifier kind',
    many: 'identifier kinds',
    about: 'By what a visit, a device or a person is told. Each source says which it carries.',
    kind: 'identifierKind',
    fields: identifierKindFields,
    rows: idsOf('identifierKind'),
  },
];
