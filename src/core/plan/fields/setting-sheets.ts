/** The sheets of settings: naming rules, what a workspace sets about each rule and each check, and the workspace itself. */
import { allChecks } from '../../arrival/words';
import { allRules } from '../../lint/lint';
import { namingEditor, namingFields, NAMING_ROWS } from './naming-rules';
import { checkFields, ruleFields } from './rule-settings';
import type { Sheet } from './sheets';
import { workspaceEditor, workspaceFields, WORKSPACE_ROWS } from './workspace';

export const SETTING_SHEETS: readonly Sheet[] = [
  {
    id: 'naming',
    title: 'Naming rules',
    one: 'naming rule',
    many: 'naming rules',
    kind: undefined,
    fields: namingFields,
    rows: () => NAMING_ROWS.map((r) => r.id),
    editorOf: namingEditor,
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
    editorOf: workspaceEditor,
  },
];
