/** What a workspace sets about a rule, and the exceptions from it. */
import type { RuleSetting } from '../../findings/severity';
import { setField } from '../edit';
import { settingsOf, SETTINGS_ID, type Id, type Plan } from '../plan';
import { some, type Written } from './field';

export const settingOf = (plan: Plan, id: Id): RuleSetting => settingsOf(plan).rules[id] ?? {};

/** A rule's setting replaced; one that says nothing is taken out. */
export const withRule = (plan: Plan, id: Id, next: RuleSetting): Written => {
  const { rules } = settingsOf(plan);
  const { [id]: _, ...others } = rules;
  const says = next.severity !== undefined || next.off === true || (next.exceptions?.length ?? 0) > 0 || next.parameters !== undefined;
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
