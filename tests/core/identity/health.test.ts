/** The figures of identity on messages that are known, and circles with true areas. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { benchCases } from '../../../src/core/identity/cases';
import { eulerOf, lensArea } from '../../../src/core/identity/euler';
import { identityHealth } from '../../../src/core/identity/health';
import { resolvePersons } from '../../../src/core/identity/persons';
import { personGraph } from '../../../src/core/identity/person-graph';
import { rehearse } from '../../../src/core/identity/rehearsal';
import { shapeOf } from '../../../src/core/identity/shapes';
import { situations } from '../../../src/core/identity/situations';
import { whatIf } from '../../../src/core/identity/what-if';
import { settingsOf } from '../../../src/core/plan/plan';
import { create, deepFreeze, event, planWith, question } from '../../build/plan';
import { RULES, tableOf } from '../../build/messages';

const on = (eventName: string) => ({ eventName, where: [] });
const plan = deepFreeze(
  planWith(
    [
      create('source', 's', { name: 'Hall', kind: 'web' }),
      create('source', 'server', { name: 'Office', kind: 'server' }),
      event('e', { name: 'E' }),
      event('done', { name: 'Done' }),
      question('q', {
        text: 'Who finishes?',
        formula: { type: 'conversion', steps: [on('E'), on('Done')], windowMs: 3_600_000, overDays: 7 },
      }),
    ],
    { timeZone: 'UTC', identity: { ...RULES, signOutEvents: ['Out'] } },
  ),
);
const rules = settingsOf(plan).identity;
type Row = Parameters<typeof tableOf>[0][number];
const health = (rows: readonly Row[], now = 3 * 1440) => {
  const table = tableOf(rows);
  return identityHealth(plan, resolvePersons(table, rules), now * 60_000);
};

test('a person with more identifiers than anybody has is flagged; rules that join everybody are warned of before they are published', () => {
  const chain = Array.from({ length: 5000 }, (_, i): Row => ({ at: i, ids: { anonymous: `a-${i}`, device: `d-${i >> 1}` } }));
  const joined = chain.map((r, i): Row => ({ at: 6000 + i, ids: { anonymous: `a-${Math.min(4999, i + 1)}`, device: r.ids['device']! } }));
  const h = health([...chain, ...joined, { at: 1, ids: { user: 'm' } }]);
  expect(h.overgrown).toEqual({ kind: 'anonymous', value: 'a-0', messages: 1, identifiers: 7500 });
  expect(health(chain).overgrown).toBeUndefined();
  const table = tableOf([...chain, ...joined]);
  const steps = whatIf(plan, table, { ...rules, links: [] }, rules, 6e8);
  let step = steps.next();
  while (!step.done) step = steps.next();
  expect(step.value.warnings).toEqual(['One person would hold 7500 of all 7500 identifiers: the rules link what should be apart.']);
});

test('an identifier of ten thousand letters, an empty one and one of blanks: kept as they are, and the latter two stand for nobody', () => {
  const long = 'x'.repeat(10_000);
  const table = tableOf([
    { at: 0, ids: { user: long, anonymous: 'a-1' } },
    { at: 1, ids: { user: '', anonymous: 'a-2' } },
    { at: 2, ids: { user: '   ', anonymous: 'a-2' } },
    { at: 3, ids: { anonymous: 'a-1' } },
  ]);
  const p = resolvePersons(table, rules);
  expect([p.count, [...p.personOfMessage]]).toEqual([2, [0, 1, 1, 0]]);
});

test('orphans, each with its reason', () => {
  const server = (user: string): Row => ({ at: 1, sourceId: 'server', ids: { user } });
  const h = health([
    server('only-server'),
    { at: 1, ids: { user: 'alone' } },
    { at: 2, ids: { user: 'linked', anonymous: 'a-1' } },
    { at: 1, ids: { user: 'first', device: 'd' } },
    { at: 3, ids: { user: 'second', device: 'd' } },
    ...Array.from({ length: 5 }, (_, i) => ({ at: i, ids: { user: `k-${i}`, device: 'kiosk' } })),
  ]);
  expect(h.userIds).toBe(10);
  expect(h.orphans.map((o) => [o.reason, o.count])).toEqual([
    ['only a server sends it', 1],
    ['only shared devices beside it', 5],
    ['its link was refused', 1],
    ['sent without any other ID', 1],
  ]);
  expect(h.orphans[2]!.examples).toEqual([{ kind: 'user', value: 'second', messages: 1 }]);
  expect(h.trend.reduce((n, w) => n + w.orphans, 0)).toBe(8);
  expect(h.shared).toEqual([{ kind: 'device', value: 'kiosk', messages: 5, users: 5 }]);
  expect(h).toMatchObject({ persons: 10, withUserId: 10, serverOnly: 1 });
});

test('dropped: the ID is missing in a stretch that is signed in, and only there; late: a page begins without it', () => {
  const h = health([
    { at: 0, ids: { anonymous: 'a' }, page: '/one' },
    { at: 1, ids: { anonymous: 'a', user: 'u' }, page: '/one' },
    { at: 2, ids: { anonymous: 'a' }, page: '/two', release: '2' },
    { at: 3, ids: { anonymous: 'a', user: 'u' }, page: '/three' },
    { at: 4, name: 'Out', ids: { anonymous: 'a', user: 'u' }, page: '/three' },
    { at: 5, ids: { anonymous: 'a' }, page: '/four' },
    { at: 90, ids: { anonymous: 'a' }, page: '/five' },
  ]);
  expect(h.signedIn).toEqual({ messages: 4, dropped: 1 });
  expect(h.dropped).toEqual([{ sourceId: 's', release: '2', dropped: 1, messages: 1, samples: [3] }]);
  expect(h.latePages).toEqual({ late: 1, pages: 2 });
});

test('an identifier that carries more than a hundredth is named; shapes tell identifiers apart', () => {
  const h = health([
    ...Array.from({ length: 150 }, (_, i) => ({ at: i, ids: { user: 'guest-account' } })),
    ...Array.from({ length: 300 }, (_, i) => ({ at: i, ids: { user: `m-${i}` } })),
  ]);
  expect(h.overCommon).toMatchObject([{ value: 'guest-account', messages: 150, share: 1 / 3 }]);
  expect(h.shapes.map((s) => [s.shape, s.count])).toEqual([
    ['m-‹digits›', 300],
    ['‹letters›-‹letters›', 1],
  ]);
  expect(['a-71f3c2d9', 'ada@example.org', '', 'x'.repeat(300)].map(shapeOf)).toEqual([
    'a-‹hex›',
    '‹letters›@‹letters›.‹letters›',
    'empty',
    'very long',
  ]);
});

test('what if: both sides of a rule that is changed, with every figure', () => {
  const table = tableOf([
    { at: 0, ids: { anonymous: 'a' } },
    { at: 5, name: '', ids: { anonymous: 'a', user: 'u' } },
    { at: 9, name: 'Done', sourceId: 'server', ids: { user: 'u' } },
  ]);
  const run = (before: typeof rules, after: typeof rules) => {
    const work = whatIf(plan, table, before, after, 60 * 60_000);
    let step = work.next();
    let steps = 0;
    for (; !step.done; step = work.next()) steps++;
    return { ...step.value, steps };
  };
  const w = run({ ...rules, links: [] }, rules);
  expect([w.before.persons, w.after.persons, w.before.orphans, w.after.orphans]).toEqual([2, 1, 1, 0]);
  expect(w.figures).toMatchObject([{ questionId: 'q', before: 0, after: 1, userIdFirst: 0, isShare: true }]);
  expect(w.warnings).toEqual([]);
  expect(run(rules, { ...rules, linking: false }).warnings).toHaveLength(1);
});

test('rules that link everything are warned of', () => {
  const table = tableOf(Array.from({ length: 40 }, (_, i) => ({ at: i, ids: { anonymous: `a-${i}`, device: 'd-1' } })));
  const work = whatIf(plan, table, { ...rules, links: [] }, rules, 0);
  let step = work.next();
  while (!step.done) step = work.next();
  expect(step.value.warnings[0]).toMatch(/One person would hold 41 of all 41 identifiers/);
});

describe('circles with true areas', () => {
  test('the common area is the one that is asked for, for any two sets', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 100_000 }),
        fc.integer({ min: 1, max: 100_000 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (a, b, share) => {
          const both = share * Math.min(a, b);
          const e = eulerOf(a, b, both);
          return Math.abs(lensArea(e.a, e.b, e.distance) - both) <= 1e-6 * Math.max(a, b) && Math.abs(Math.PI * e.a * e.a - a) < 1e-6 * a;
        },
      ),
    );
  });
  test('the lens by Weisstein’s formula agrees with strips that are added up', () => {
    const strips = (a: number, b: number, d: number): number => {
      const n = 200_000;
      let sum = 0;
      for (let i = 0; i < n; i++) {
        const x = -a + ((i + 0.5) / n) * 2 * a;
        const [ya, yb] = [a * a - x * x, b * b - (x - d) ** 2];
        if (ya > 0 && yb > 0) sum += 2 * Math.sqrt(Math.min(ya, yb)) * ((2 * a) / n);
      }
      return sum;
    };
    for (const [a, b, d] of [
      [1, 1, 1],
      [3, 2, 4],
      [5, 2, 3.5],
    ] as const)
      expect(lensArea(a, b, d)).toBeCloseTo(strips(a, b, d), 4);
    expect(lensArea(1, 1, 1)).toBeCloseTo((2 * Math.PI) / 3 - Math.sqrt(3) / 2, 12);
  });
  test('a common part that is larger than a set is an error', () => {
    expect(() => eulerOf(1, 2, 1.5)).toThrow(RangeError);
  });
});

test('each case that ships gives the persons that it says, under the rules that ship', () => {
  for (const c of benchCases({ viewed: 'Viewed', started: 'Started', completed: 'Completed' }, 'Out'))
    expect([c.id, rehearse(c.steps, c.steps.length, rules).persons.length]).toEqual([c.id, c.persons]);
});

test('one person as a graph: what is theirs, and whom a refused link leads to', () => {
  const table = tableOf([
    { at: 0, ids: { device: 'd', user: 'one' } },
    { at: 1, ids: { device: 'd', user: 'two' } },
    { at: 2, ids: { anonymous: 'a', user: 'one' } },
    { at: 3, ids: { user: 'null' } },
  ]);
  const persons = resolvePersons(table, rules);
  const g = personGraph(persons, table.nodes.find('user', 'one'));
  expect(g.identifiers.map((i) => [i.value, i.own, i.messages])).toEqual([
    ['one', true, 2],
    ['d', true, 2],
    ['a', true, 1],
    ['two', false, 1],
  ]);
  expect(g.links.map((l) => l.refused).sort()).toEqual(['two user IDs', undefined, undefined]);
  expect(personGraph(persons, table.nodes.find('user', 'null'))).toMatchObject({ nobody: 'placeholder or blocked', links: [] });
});

test('situations: what is expected is derived, and what is often missing is named', () => {
  const kinds = { beforeSignIn: ['anonymous'], afterSignIn: ['anonymous', 'user'] };
  const p = planWith([create('source', 's', { name: 'Hall', kind: 'web', idKinds: kinds })], { identity: rules });
  const rows = Array.from({ length: 40 }, (_, i) => ({ at: i, ids: i % 2 ? { user: `m-${i}` } : { anonymous: `a-${i}` } }));
  const [row] = situations(p, tableOf(rows));
  expect(row!.cells.map((c) => [c.situation, c.expected.join()])).toEqual([
    ['first visit', 'anonymous'],
    ['sign-up', 'anonymous,user'],
    ['sign-in', 'anonymous,user'],
    ['sign-out', 'anonymous'],
    ['second device', 'anonymous,user'],
    ['shared device', 'anonymous,user'],
  ]);
  expect(row!.messages).toEqual({ without: 20, with: 20 });
  expect(row!.lacks).toEqual(['`anonymous` is missing on 100 % of messages with one']);
  expect(row!.cells[1]!.leadsTo).toBe('joins the history under anonymous');
});
