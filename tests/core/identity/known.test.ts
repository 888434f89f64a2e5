/** Containment of a stated base, spellings, how a person came together, and the control of what was left out. */
import { expect, test } from 'vitest';
import { containment } from '../../../src/core/identity/containment';
import { personGraph } from '../../../src/core/identity/person-graph';
import { resolvePersons } from '../../../src/core/identity/persons';
import { variantsIn } from '../../../src/core/identity/variants';
import { answerOf } from '../../../src/core/questions/compute-figure';
import type { Formula } from '../../../src/core/questions/formula';
import { RULES, tableOf } from '../../build/messages';

test('the base of containment is stated: any message, or an event; who is outside is named', () => {
  const table = tableOf([
    { at: 0, name: 'Seen', ids: { anonymous: 'a', user: 'u' } },
    { at: 1, name: 'Seen', ids: { anonymous: 'b' } },
    { at: 2, name: 'Bought', ids: { anonymous: 'c' } },
    { at: 3, name: 'Paid', ids: { user: 'v' } },
    { at: 4, name: 'Seen', ids: { anonymous: 'b' } },
  ]);
  const p = resolvePersons(table, RULES);
  expect(containment(p, '')).toMatchObject({ inBase: 4, withUserId: 2, both: 2 });
  expect(containment(p, 'Seen')).toEqual({
    base: 'Seen',
    inBase: 2,
    withUserId: 2,
    both: 1,
    outsiders: [{ kind: 'anonymous', value: 'b', at: 4 * 60_000 }],
  });
  expect(containment(p, 'Never')).toMatchObject({ inBase: 0, both: 0, outsiders: [] });
});

test('identifiers that differ only in case, blanks or Unicode form are kept apart, and flagged', () => {
  const table = tableOf(['Ada@x.org', 'ada@x.org', 'Zoe\u0301', 'Zo\u00e9', 'other', ' other'].map((user, at) => ({ at, ids: { user } })));
  expect(resolvePersons(table, RULES).count).toBe(6);
  expect(variantsIn(table)).toEqual({
    groups: 3,
    examples: [
      { kind: 'user', values: ['Ada@x.org', 'ada@x.org'] },
      { kind: 'user', values: ['Zoe\u0301', 'Zo\u00e9'] },
      { kind: 'user', values: ['other', ' other'] },
    ],
  });
});

test('how a person came together: merges by time with what each side had, and what was kept apart', () => {
  const table = tableOf([
    { at: 5, ids: { anonymous: 'a', device: 'd' } },
    { at: 1, ids: { device: 'd', user: 'u' } },
    { at: 7, ids: { anonymous: 'a', user: 'u' } },
    { at: 9, ids: { anonymous: 'a', user: 'w' } },
  ]);
  const g = personGraph(resolvePersons(table, RULES), table.nodes.find('user', 'u'));
  const name = (i: number) => g.identifiers[i]!.value;
  expect(g.history.map((h) => [h.at / 60_000, [name(h.a), name(h.b)].sort().join(), h.what, Math.max(...h.sides)])).toEqual([
    [1, 'd,u', 'merged', 1],
    [5, 'a,d', 'merged', 2],
    [9, 'a,w', 'two user IDs', 3],
  ]);
});

test('the control finds what is left of X after leaving X out: messages of nobody, and a twin of its name', () => {
  const rows = (twin: string) => [
    { at: 0, name: 'Tool Viewed', ids: { anonymous: 'a' } },
    { at: 1, name: 'Loan Started', ids: { anonymous: 'a' } },
    { at: 2, name: 'Tool Viewed', ids: { anonymous: 'b' } },
    { at: 3, name: twin, ids: { anonymous: 'b' } },
    { at: 4, name: 'Loan Started', ids: { user: 'null' } },
  ];
  const formula: Formula = {
    type: 'average per person',
    event: { eventName: 'Tool Viewed', where: [] },
    per: 'persons with it',
    active: [],
    period: 'day',
    filters: [{ mode: 'leaving out', who: 'persons', did: { eventName: 'Loan Started', where: [] } }],
  };
  const controls = (twin: string) => {
    const table = tableOf(rows(twin));
    const people = resolvePersons(table, RULES);
    return answerOf(formula, {
      people,
      settings: { timeZone: 'UTC', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 0 },
      now: 3_600_000,
    }).controls;
  };
  expect(controls('Guide Read')).toEqual([{ eventName: 'Loan Started', who: 'persons', left: 1, alike: [], traces: [], notCompared: [] }]);
  expect(controls('loan_started')[0]!.alike).toEqual([{ name: 'loan_started', messages: 1 }]);
});
