/** The sheets of the plan: what is edited as rows, and the fields of each. */
import { allChecks } from '../../arrival/words';
import { allRules } from '../../lint/lint';
import { entries, type Id, type Kind, type Plan } from '../plan';
import { eventFields } from './event';
import type { Field } from './field';
import { namingFields, NAMING_ROWS } from './naming-rules';
import { identifierKindFields, sharedSetFields, sourceFields } from './others';
import { propertyFields } from './property';
import { checkFields, ruleFields } from './rule-settings';
import { userPropertyFields } from './user-property';
import { workspaceFields, WORKSPACE_ROWS } from './workspace';

export interface Sheet {
  readonly id: string;
  readonly title: string;
  readonly one: string;
  readonly many: string;
  /** The kind of the rows; `undefined` where rows are settings and cannot be made or removed. */
  readonly kind: Exclude<Kind, 'settings' | 'question'> | undefined;
  readonly fields: readonly Field[];
  readonly rows: (plan: Plan) => readonly Id[];
}

const byOrder = (plan: Plan): Id[] =>
  entries(plan, 'event')
    .sort(([a, x], [b, y]) => x.order - y.order || (a < b ? -1 : 1))
    .map(([id]) => id);
const idsOf =
  (kind: Kind) =>
  (plan: Plan): Id[] =>
    Object.keys(plan[kind]);

export const SHEETS: readonly Sheet[] = [
  { id: 'event', title: 'Events', one: 'event', many: 'events', kind: 'event', fields: eventFields, rows: byOrder },
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
  { id: 'source', title: 'Sources', one: 'source', many: 'sources', kind: 'source', fields: sourceFields, rows: idsOf('source') },
  {
    id: 'identifierKind',
    title: 'Identifier kinds',
    one: 'identifier kind',
    many: 'identifier kinds',
    kind: 'identifierKind',
    fields: identifierKindFields,
    rows: idsOf('identifierKind'),
  },
  {
    id: 'naming',
    title: 'Naming rules',
    one: 'naming rule',
    many: 'naming rules',
    kind: undefined,
    fields: namingFields,
    rows: () => NAMING_ROWS.map((r) => r.id),
  },
  {
    id: 'rules',
    title: 'Checks of the plan',
    one: 'check',
    many: 'checks',
    kind: undefined,
    fields: ruleFields,
    rows: () => allRules.map((r) => r.id),
  },
  {
    id: 'arrival-checks',
    title: 'Checks of arrivals',
    one: 'check',
    many: 'checks',
    kind: undefined,
    fields: checkFields,
    rows: () => allChecks.map((c) => c.id),
  },
  {
    id: 'workspace',
    title: 'Workspace',
    one: 'setting',
    many: 'settings',
    kind: undefined,
    fields: workspaceFields,
    rows: () => WORKSPACE_ROWS.map((r) => r.id),
  },
];
