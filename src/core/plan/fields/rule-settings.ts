/** The rules over the plan as rows: severity, off switch and exceptions of each. */
import { SEVERITIES, type RuleSetting } from '../../findings/severity';
import { ruleOf } from '../../lint/lint';
import { setField } from '../edit';
import { settingsOf, SETTINGS_ID, type Id, type Plan } from '../plan';
import { flagOf, readOnly, some, type Field, type Written } from './field';

const settingOf = (plan: Plan, id: Id): RuleSetting => settingsOf(plan).rules[id] ?? {};

/** A rule's setting replaced; one that says nothing is taken out. */
export const withRule = (plan: Plan, id: Id, next: RuleSetting): Written => {
  const { rules } = settingsOf(plan);
  const { [id]: _, ...others } = rules;
  const says = next.severity !== undefined || next.off === true || (next.exceptions?.length ?? 0) > 0;
  return some(setField(plan, 'settings', SETTINGS_ID, 'rules', says ? { ...others, [id]: next } : others));
};

/** The edits that except an entity from a rule, with the reason. */
export const except = (plan: Plan, rule: string, kind: string, id: Id, reason: string): Written => {
  const set = settingOf(plan, rule);
  const others = (set.exceptions ?? []).filter((x) => x.kind !== kind || x.id !== id);
  return withRule(plan, rule, { ...set, exceptions: [...others, { kind, id, reason }] });
};

/** The edits that take an exception back. */
export const unexcept = (plan: Plan, rule: string, kind: string, id: Id): Written => {
  const set = settingOf(plan, rule);
  return withRule(plan, rule, { ...set, exceptions: (set.exceptions ?? []).filter((x) => x.kind !== kind || x.id !== id) });
};

export const ruleFields: readonly Field[] = [
  readOnly('title', { title: 'Rule', width: 320 }, (_, id) => ruleOf(id)?.title ?? id),
  {
    key: 'severity',
    title: 'Severity',
    width: 90,
    editor: 'choice',
    options: () => SEVERITIES,
    read: (plan, id) => settingOf(plan, id).severity ?? ruleOf(id)?.severity ?? '',
    write: (plan, id, text) => {
      const found = SEVERITIES.find((s) => s === text.trim().toLowerCase());
      if (!found) return `“${text}” is not a severity; choose ${SEVERITIES.join(', ')}.`;
      const { severity: _, ...rest } = settingOf(plan, id);
      return withRule(plan, id, found === ruleOf(id)?.severity ? rest : { ...rest, severity: found });
    },
  },
  {
    key: 'on',
    title: 'On',
    width: 60,
    editor: 'flag',
    options: () => ['yes', 'no'],
    read: (plan, id) => (settingOf(plan, id).off ? 'no' : 'yes'),
    write: (plan, id, text) => {
      const on = flagOf(text);
      if (on === undefined) return `“${text}” is neither yes nor no.`;
      const { off: _, ...rest } = settingOf(plan, id);
      return withRule(plan, id, on ? rest : { ...rest, off: true });
    },
  },
  readOnly('exceptions', { title: 'Exceptions', width: 90 }, (plan, id) => String(settingOf(plan, id).exceptions?.length ?? 0)),
  readOnly('why', { title: 'Why it matters', width: 780 }, (_, id) => ruleOf(id)?.why ?? ''),
];
