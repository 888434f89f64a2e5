/** What a workspace sets about a rule: kept while it says anything, gone once it says nothing, and exceptions by entity. */
import { expect, test } from 'vitest';
import type { RuleSetting } from '../../../src/core/findings/severity';
import { applyEdits, type Edit } from '../../../src/core/plan/edit';
import { except, settingOf, unexcept, withRule } from '../../../src/core/plan/fields/exceptions';
import type { Written } from '../../../src/core/plan/fields/field';
import { settingsOf, type Plan } from '../../../src/core/plan/plan';
import { planWith } from '../../build/plan';

const after = (plan: Plan, written: Written): Plan => {
  const r = applyEdits(plan, written as readonly Edit[]);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};
const other = { severity: 'stop' } as const;
const begin = planWith([], { rules: { other } });

test.each<[string, RuleSetting, boolean]>([
  ['a severity', { severity: 'note' }, true],
  ['that it is off', { off: true }, true],
  ['that it is on, as all are', { off: false }, false],
  ['an exception', { exceptions: [{ kind: 'event', id: 'e', reason: 'old' }] }, true],
  ['no exception', { exceptions: [] }, false],
  ['a number', { parameters: { min: 3 } }, true],
  ['nothing', {}, false],
])('%s', (_, setting, isKept) => {
  const plan = after(begin, withRule(begin, 'r', setting));
  expect(settingsOf(plan).rules).toEqual(isKept ? { other, r: setting } : { other });
  expect(settingOf(plan, 'r')).toEqual(isKept ? setting : {});
  // Taken back, it is as it was; set again as it is, there is nothing to do.
  expect(settingsOf(after(plan, withRule(plan, 'r', {}))).rules).toEqual({ other });
  expect(withRule(plan, 'r', settingOf(plan, 'r'))).toEqual([]);
});

test('exceptions are of an entity: another kind of the same ID and another ID stay; the reason is the newest; the rest of the setting stays', () => {
  let plan = after(begin, withRule(begin, 'r', { severity: 'note' }));
  for (const [kind, id, reason] of [['event', 'x', 'a'], ['property', 'x', 'b'], ['event', 'y', 'c'], ['event', 'x', 'd']] as const) plan = after(plan, except(plan, 'r', kind, id, reason)); // prettier-ignore
  expect(settingOf(plan, 'r')).toEqual({
    severity: 'note',
    exceptions: [
      { kind: 'property', id: 'x', reason: 'b' },
      { kind: 'event', id: 'y', reason: 'c' },
      { kind: 'event', id: 'x', reason: 'd' },
    ],
  });
  plan = after(plan, unexcept(plan, 'r', 'event', 'x'));
  expect(settingOf(plan, 'r').exceptions).toEqual([
    { kind: 'property', id: 'x', reason: 'b' },
    { kind: 'event', id: 'y', reason: 'c' },
  ]);
  const none = after(begin, except(begin, 'r', 'event', 'x', 'a'));
  expect(settingsOf(after(none, unexcept(none, 'r', 'event', 'x'))).rules).toEqual({ other });
});
