import { describe, expect, test } from 'vitest';
import { lintPlan, allRules } from '../../../../src/core/lint/lint';
import { comparedByUserProperty } from '../../../../src/core/lint/rules/compared-by-user-property';
import { firstEventWithoutId } from '../../../../src/core/lint/rules/first-event-without-id';
import { identifierAsUserProperty } from '../../../../src/core/lint/rules/identifier-as-user-property';
import { limitExceeded } from '../../../../src/core/lint/rules/limit-exceeded';
import { limitNear } from '../../../../src/core/lint/rules/limit-near';
import { questionTermUndefined } from '../../../../src/core/lint/rules/question-term-undefined';
import { questionWithoutFormula } from '../../../../src/core/lint/rules/question-without-formula';
import { sourceNotLinked } from '../../../../src/core/lint/rules/source-not-linked';
import { sourceWithoutUserId } from '../../../../src/core/lint/rules/source-without-user-id';
import { userIdChangeable } from '../../../../src/core/lint/rules/user-id-changeable';
import { userIdPersonal } from '../../../../src/core/lint/rules/user-id-personal';
import { userPropertyDiffers } from '../../../../src/core/lint/rules/user-property-differs';
import { userPropertyNotRegistered } from '../../../../src/core/lint/rules/user-property-not-registered';
import { userPropertyTooManyValues } from '../../../../src/core/lint/rules/user-property-too-many-values';
import { DEFAULT_SETTINGS } from '../../../../src/core/plan/defaults';
import { applyEdits, type Edit } from '../../../../src/core/plan/edit';
import { except } from '../../../../src/core/plan/fields/exceptions';
import type { IdentifierKind, Source, UserProperty } from '../../../../src/core/plan/plan';
import { create, event, planWith, question } from '../../../build/plan';
import { testRule } from '../test-rule';

const user = (id: string, fields: Partial<UserProperty>): Edit => create('userProperty', id, { name: id, ...fields });
const kind = (id: string, fields: Partial<IdentifierKind>): Edit => create('identifierKind', id, { name: id, ...fields });
const source = (id: string, fields: Partial<Source>): Edit => create('source', id, { name: id, ...fields });

testRule(userPropertyTooManyValues, {
  valid: [
    { name: 'a list', plan: planWith([user('u', { allowed: ['a', 'b'] })]) },
    { name: 'buckets', plan: planWith([user('u', { type: 'integer', buckets: [1, 5] })]) },
  ],
  invalid: [
    {
      name: 'a number without buckets',
      plan: planWith([user('tools_borrowed', { type: 'integer' })]),
      path: ['userProperty', 'tools_borrowed', 'buckets'],
      params: { name: 'tools_borrowed', because: 'it is a number without buckets', bounds: [0, 1, 5, 10, 20, 50] },
      says: '`tools_borrowed` has too many values to group by: it is a number without buckets.',
      fixes: true,
    },
    {
      name: 'text of many values',
      plan: planWith([user('u', { distinct: 400 })]),
      path: ['userProperty', 'u', 'buckets'],
      params: { name: 'u', because: '400 are expected', bounds: [0, 1, 5, 10, 20, 50] },
      says: '`u` has too many values to group by: 400 are expected.',
      fixes: false,
    },
  ],
});

testRule(identifierAsUserProperty, {
  valid: [{ name: 'a trait', plan: planWith([kind('user', {}), user('home_branch', {})]) }],
  invalid: [
    {
      name: 'the ID as a property',
      plan: planWith([user('member_id', {})]),
      path: ['userProperty', 'member_id', 'name'],
      params: { name: 'member_id' },
      says: '`member_id` is an identifier, not a user property: it belongs to the identifiers of every message.',
      fixes: false,
    },
  ],
});

testRule(userPropertyNotRegistered, {
  valid: [
    { name: 'registered', plan: planWith([user('u', { registered: true })]) },
    { name: 'for a test only', plan: planWith([user('u', { temporary: true })]) },
  ],
  invalid: [
    {
      name: 'sent, not usable',
      plan: planWith([user('u', {})]),
      path: ['userProperty', 'u', 'registered'],
      params: { name: 'u' },
      says: '`u` is not registered for reporting: sent, not usable. Registering locks its name.',
      fixes: false,
    },
  ],
});

testRule(userPropertyDiffers, {
  valid: [{ name: 'one for all', plan: planWith([user('a', { name: 'home_branch', sources: ['w', 'x'] })]) }],
  invalid: [
    {
      name: 'words swapped on another source',
      plan: planWith([user('a', { name: 'home_branch', sources: ['w'] }), user('b', { name: 'branch_home', sources: ['x'] })]),
      path: ['userProperty', 'b', 'name'],
      params: { name: 'branch_home', other: 'home_branch', differs: 'name' },
      says: '`home_branch` and `branch_home` say the same under two names, from different sources.',
      fixes: false,
    },
    {
      name: 'other values on another source',
      plan: planWith([
        user('a', { name: 'tier', sources: ['w'], allowed: ['maker'] }),
        user('b', { name: 'tier', sources: ['x'], allowed: ['Maker'] }),
      ]),
      path: ['userProperty', 'b', 'allowed'],
      params: { name: 'tier', other: 'tier', differs: 'values' },
      says: '`tier` is set with other values by another source.',
      fixes: false,
    },
  ],
});

const grouped = question('q', {
  text: 'By tier?',
  formula: {
    type: 'active persons',
    events: [{ eventName: 'E', where: [] }],
    period: 'week',
    groupBy: { of: 'user property', name: 'tier' },
  },
});

testRule(comparedByUserProperty, {
  valid: [{ name: 'registered', plan: planWith([event('e', { name: 'E' }), user('u', { name: 'tier', registered: true }), grouped]) }],
  invalid: [
    {
      name: 'not registered',
      plan: planWith([event('e', { name: 'E' }), user('u', { name: 'tier' }), grouped]),
      path: ['question', 'q', 'formula'],
      params: { text: 'By tier?', name: 'tier' },
      says: '“By tier?” compares groups by `tier`, which is not registered: values begin when it is first set.',
      fixes: false,
    },
  ],
});

testRule(userIdPersonal, {
  valid: [{ name: 'a number', plan: planWith([kind('user', { sample: 'm-20417' })]) }],
  invalid: [
    {
      name: 'an e-mail address',
      plan: planWith([kind('user', { sample: 'ines@example.org' })]),
      path: ['identifierKind', 'user', 'personalData'],
      params: { name: 'user', because: 'it is an e-mail address' },
      says: 'The identifier `user` is personal data: it is an e-mail address. Use a number without meaning.',
      fixes: false,
    },
  ],
});

testRule(userIdChangeable, {
  valid: [{ name: 'a visit may change', plan: planWith([kind('anonymous', { stable: false, identifies: 'visit' })]) }],
  invalid: [
    {
      name: 'a person may not',
      plan: planWith([kind('user', { stable: false })]),
      path: ['identifierKind', 'user', 'stable'],
      params: { name: 'user' },
      says: 'The identifier `user` identifies a person and may change.',
      fixes: false,
    },
  ],
});

const ids = (beforeSignIn: string[], afterSignIn: string[]) => ({ idKinds: { beforeSignIn, afterSignIn } });
const unlinked = { identity: { ...DEFAULT_SETTINGS.identity, links: [] } };

testRule(sourceNotLinked, {
  valid: [
    {
      name: 'they carry the same',
      plan: planWith([source('w', ids(['anonymous'], ['user'])), source('s', { kind: 'server', ...ids([], ['user']) })], unlinked),
    },
    {
      name: 'a rule links them',
      plan: planWith([source('w', ids(['anonymous'], [])), source('s', { kind: 'server', ...ids([], ['user']) })]),
    },
  ],
  invalid: [
    {
      name: 'nothing leads from one to the other',
      plan: planWith([source('w', ids(['anonymous'], [])), source('s', { kind: 'server', ...ids([], ['user']) })], unlinked),
      path: ['source', 's', 'idKinds'],
      params: { source: 's', other: 'w', pair: ['anonymous', 'user'] },
      says: 'No rule links the identifiers of s with those of w: its persons will be orphaned.',
      fixes: true,
    },
  ],
});

testRule(sourceWithoutUserId, {
  valid: [{ name: 'it is asked', plan: planWith([kind('user', {}), source('w', ids([], ['user']))]) }],
  invalid: [
    {
      name: 'it is not',
      plan: planWith([kind('user', {}), source('w', ids(['anonymous'], ['anonymous']))]),
      path: ['source', 'w', 'idKinds'],
      params: { source: 'w', kind: 'user' },
      says: 'w is not asked to send `user` after sign-in.',
      fixes: true,
    },
  ],
});

testRule(firstEventWithoutId, {
  valid: [{ name: 'a server knows its members', plan: planWith([source('s', { kind: 'server', ...ids([], ['user']) })]) }],
  invalid: [
    {
      name: 'a client before sign-in',
      plan: planWith([source('w', ids([], ['user']))]),
      path: ['source', 'w', 'idKinds'],
      params: { source: 'w' },
      says: 'w carries no identifier before sign-in, so its first events are nobody’s.',
      fixes: false,
    },
  ],
});

const registered = (n: number, fields: Partial<UserProperty> = {}) =>
  planWith(Array.from({ length: n }, (_, i) => user(`u${i}`, { registered: true, ...fields })));

testRule(limitNear, {
  valid: [
    { name: 'room enough', plan: registered(19) },
    { name: 'over it has a graver finding', plan: registered(26) },
    { name: 'temporary ones never count', plan: registered(24, { temporary: true }) },
  ],
  invalid: [
    {
      name: 'four fifths are used, retired ones too',
      plan: registered(20, { retired: true }),
      path: ['settings', 'settings', 'limits'],
      params: { key: 'userProperties', what: 'registered user properties', used: 20, limit: 25 },
      says: '20 of 25 registered user properties are used; 5 left.',
      fixes: false,
    },
  ],
});

testRule(limitExceeded, {
  valid: [{ name: 'just full', plan: registered(25) }],
  invalid: [
    {
      name: 'one too many',
      plan: planWith([event('a', { name: 'A', conversion: true }), event('b', { name: 'B', conversion: true })], {
        limits: { ...DEFAULT_SETTINGS.limits, conversions: 1 },
      }),
      path: ['settings', 'settings', 'limits'],
      params: { key: 'conversions', what: 'conversion events', used: 2, limit: 1 },
      says: '2 conversion events, and the limits profile allows 1.',
      fixes: false,
    },
  ],
});

testRule(questionWithoutFormula, {
  valid: [{ name: 'it has one', plan: planWith([grouped]) }],
  invalid: [
    {
      name: 'words alone',
      plan: planWith([question('q', { text: 'Who?' })]),
      path: ['question', 'q', 'formula'],
      params: { text: 'Who?' },
      says: '“Who?” has no formula yet.',
      fixes: false,
    },
  ],
});

testRule(questionTermUndefined, {
  valid: [{ name: 'complete', plan: planWith([grouped]) }],
  invalid: [
    {
      name: '“per person” without which',
      plan: planWith([
        question('q', {
          text: 'Loans each?',
          formula: { type: 'average per person', event: { eventName: 'E', where: [] }, per: 'open', active: [], period: 'week' },
        }),
      ]),
      path: ['question', 'q', 'formula'],
      params: { text: 'Loans each?', reason: '“per person” does not say which persons: those with the event, or all active ones' },
      says: '“Loans each?” is not defined yet: “per person” does not say which persons: those with the event, or all active ones.',
      fixes: false,
    },
    {
      name: '“active” without an event',
      plan: planWith([question('q', { text: 'Active?', formula: { type: 'active persons', events: [], period: 'week' } })]),
      path: ['question', 'q', 'formula'],
      params: { text: 'Active?', reason: '“active” needs the event that makes a person active' },
      says: '“Active?” is not defined yet: “active” needs the event that makes a person active.',
      fixes: false,
    },
  ],
});

describe('what a workspace changes about a rule', () => {
  const plan = planWith([user('a', {}), user('b', {})]);
  const found = (p: typeof plan) => lintPlan(p).filter((f) => f.code === 'user-property-not-registered');
  test('severity, off, and exceptions with a reason', () => {
    expect(found(plan).map((f) => f.severity)).toEqual(['note', 'note']);
    const edits = except(plan, 'user-property-not-registered', 'userProperty', 'a', 'The pilot decides.');
    const r = applyEdits(plan, edits as readonly Edit[]);
    expect(r.ok && found(r.plan).map((f) => f.path[1])).toEqual(['b']);
    expect(found(planWith([user('a', {})], { rules: { 'user-property-not-registered': { off: true } } }))).toEqual([]);
    expect(found(planWith([user('a', {})], { rules: { 'user-property-not-registered': { severity: 'stop' } } }))[0]?.severity).toBe('stop');
  });
  test('every rule has an id of its own, a title and a reason', () => {
    expect(new Set(allRules.map((r) => r.id)).size).toBe(allRules.length);
    for (const r of allRules)
      expect(
        [r.title, r.why].every((s) => s.length > 10),
        r.id,
      ).toBe(true);
  });
});
