import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { countingBases, personsByBasis } from '../../../src/core/identity/counting-basis';
import { resolvePersons } from '../../../src/core/identity/persons';
import { isPlaceholderId } from '../../../src/core/identity/placeholder';
import { fourMessageCase, rehearse } from '../../../src/core/identity/rehearsal';
import { figureOf } from '../../../src/core/questions/compute-figure';
import type { MessageTable } from '../../../src/core/table/message-table';
import { RULES, tableOf } from '../../build/messages';

const NAMES = { viewed: 'Viewed', started: 'Started', completed: 'Completed' };
const rows = (identify: boolean) =>
  fourMessageCase(NAMES, identify).map((s, at) => ({ at, name: s.kind === 'identify' ? '' : s.name, ids: s.ids }));

const share = (table: MessageTable, a: string, b: string) => {
  const people = resolvePersons(table, RULES);
  const f = figureOf(
    {
      type: 'conversion',
      steps: [
        { eventName: a, where: [] },
        { eventName: b, where: [] },
      ],
      windowMs: 3_600_000,
      overDays: 1,
    },
    {
      people,
      settings: { timeZone: 'UTC', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 0 },
      now: 3_600_000,
    },
  );
  return f.type === 'conversion' ? f.steps.map((s) => s.persons) : [];
};

const monthly = (table: MessageTable) => {
  const people = resolvePersons(table, RULES);
  const events = ['Viewed', 'Started', 'Completed'].map((eventName) => ({ eventName, where: [] }));
  const f = figureOf(
    { type: 'active persons', events, period: 'month' },
    {
      people,
      settings: { timeZone: 'UTC', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 0 },
      now: 3_600_000,
    },
  );
  return f.type === 'active persons' ? f.points.at(-1)!.persons : 0;
};

describe('the four-message case', () => {
  test('before linking two persons, of three messages and one', () => {
    const s = rehearse(fourMessageCase(NAMES, false), 4, RULES);
    expect(s.persons.map((p) => p.messages)).toEqual([[0, 1, 3], [2]]);
  });
  test('after the identify call one person, two identifiers, four messages in order of time, the call apart', () => {
    const s = rehearse(fourMessageCase(NAMES, true), 5, RULES);
    expect(s.persons).toHaveLength(1);
    expect(s.persons[0]).toMatchObject({ messages: [0, 1, 2, 4], identifyCalls: [3] });
    expect(s.persons[0]!.identifiers).toHaveLength(2);
  });
  test('its consequences: monthly persons and both conversions', () => {
    const apart = tableOf(rows(false));
    const linked = tableOf(rows(true));
    expect([monthly(apart), monthly(linked)]).toEqual([2, 1]);
    expect(share(apart, 'Started', 'Completed')).toEqual([1, 0]);
    expect(share(linked, 'Started', 'Completed')).toEqual([1, 1]);
    expect(share(apart, 'Completed', 'Viewed')).toEqual([1, 0]);
    expect(share(linked, 'Completed', 'Viewed')).toEqual([1, 1]);
    // Without the last message it stays at none, linked or not.
    expect(share(tableOf(rows(true).slice(0, 4)), 'Completed', 'Viewed')).toEqual([1, 0]);
  });
});

describe('guards', () => {
  test('two devices with one user ID are one person; a device never signed in stays apart', () => {
    const p = resolvePersons(
      tableOf([
        { at: 0, ids: { device: 'd1', user: 'u' } },
        { at: 1, ids: { device: 'd2', user: 'u' } },
        { at: 2, ids: { device: 'd3' } },
      ]),
      RULES,
    );
    expect([...p.personOfMessage]).toEqual([0, 0, 1]);
  });
  test('two user IDs on one device are not merged; what it sends without one is of who is signed in, and nobody’s after a sign-out', () => {
    const p = resolvePersons(
      tableOf([
        { at: 5, ids: { device: 'd', user: 'late' } },
        { at: 1, ids: { device: 'd', user: 'early' } },
        { at: 9, ids: { device: 'd' } },
      ]),
      RULES,
    );
    expect(p.personOfMessage[0]).not.toBe(p.personOfMessage[1]);
    expect(p.personOfMessage[2]).toBe(p.personOfMessage[0]);
    expect(p.refused).toHaveLength(1);
    const table = tableOf([
      { at: 0, ids: { device: 'd' } },
      { at: 1, ids: { device: 'd', user: 'early' } },
      { at: 2, ids: { device: 'd' } },
      { at: 3, name: 'Out', ids: { device: 'd', user: 'early' } },
      { at: 4, ids: { device: 'd' } },
      { at: 5, ids: { device: 'd', user: 'late' } },
      { at: 6, ids: { device: 'd' } },
    ]);
    const { personOfMessage: of } = resolvePersons(table, { ...RULES, signOutEvents: ['Out'] });
    const [early, late] = [of[1], of[5]];
    expect([...of]).toEqual([early, early, early, early, -1, late, late]);
  });
  test('a device that many sign in on never links and is nobody; each stretch is of who was signed in, until it is left alone', () => {
    const rows = Array.from({ length: 5 }, (_, i) => [
      { at: i * 100, ids: { device: 'kiosk', user: `m-${i}` } },
      { at: i * 100 + 5, ids: { device: 'kiosk' } },
      { at: i * 100 + 60, ids: { device: 'kiosk' } },
    ]).flat();
    const p = resolvePersons(tableOf([{ at: -50, ids: { device: 'kiosk' } }, ...rows]), RULES);
    expect(p.links).toEqual([]);
    expect(p.shared).toHaveLength(1);
    expect([...p.personOfMessage]).toEqual([-1, ...Array.from({ length: 5 }, (_, i) => [i, i, -1]).flat()]);
    // With the guard off the first one gets the device.
    expect(resolvePersons(tableOf(rows), { ...RULES, sharedDeviceUsers: 0 }).shared).toEqual([]);
  });
  test('a cut holds whichever way its ends are joined, and a blocked identifier joins nobody', () => {
    const table = tableOf([
      { at: 0, ids: { anonymous: 'a', device: 'd' } },
      { at: 1, ids: { device: 'd', user: 'u' } },
      { at: 2, ids: { anonymous: 'a', user: 'u' } },
    ]);
    const cut = { a: { kind: 'anonymous', value: 'a' }, b: { kind: 'user', value: 'u' }, reason: 'a sold phone' };
    const p = resolvePersons(table, { ...RULES, cuts: [cut] });
    expect(p.personOfNode[table.nodes.find('anonymous', 'a')]).not.toBe(p.personOfNode[table.nodes.find('user', 'u')]);
    expect(p.refused.map((r) => r.why)).toEqual(['cut', 'cut']);
    const blocked = resolvePersons(table, { ...RULES, blocked: ['d'] });
    expect(blocked.personOfNode[table.nodes.find('device', 'd')]).toBe(-1);
    expect(blocked.count).toBe(1);
  });
  test('a template links nobody, and is nobody', () => {
    const table = tableOf([
      { at: 0, ids: { anonymous: 'a', user: '{{member_id}}' } },
      { at: 1, ids: { anonymous: 'b', user: '{{member_id}}' } },
      { at: 2, ids: { user: '{{member_id}}' } },
    ]);
    expect([...resolvePersons(table, RULES).personOfMessage]).toEqual([0, 1, -1]);
    expect(resolvePersons(table, { ...RULES, placeholderGuard: false }).count).toBe(1);
  });
  test.each(['null', 'undefined', '0', 'anonymous', 'Test', '{{user.id}}', '${id}', ' ', '00000000-0000-0000-0000-000000000000'])(
    '“%s” is a placeholder',
    (v) => expect(isPlaceholderId(v)).toBe(true),
  );
  test.each(['m-1', 'nullify', '10', 'testament', 'a{{b', '0a'])('“%s” is none', (v) => expect(isPlaceholderId(v)).toBe(false));
});

const message = fc.record({
  at: fc.nat(20),
  ids: fc.dictionary(fc.constantFrom('anonymous', 'device', 'user'), fc.constantFrom('x1', 'x2', 'x3', 'x4'), { minKeys: 1 }),
});

test('the persons do not depend on the order of arrival', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(message, fc.nat()), { maxLength: 25 }), (list) => {
      const turned = list.map((v, i) => ({ v, i })).sort((a, b) => a.v[1] - b.v[1] || a.i - b.i);
      const a = resolvePersons(tableOf(list.map(([m]) => m)), RULES);
      const b = resolvePersons(tableOf(turned.map(({ v }) => v[0])), RULES);
      const partner = (p: number, of: Int32Array) => [...of].map((x) => x === p);
      const inA = list.map((_, i) => partner(a.personOfMessage[i]!, a.personOfMessage));
      const place = new Map(turned.map(({ i }, at) => [i, at]));
      const inB = list.map((_, i) => list.map((__, j) => b.personOfMessage[place.get(i)!] === b.personOfMessage[place.get(j)!]));
      expect(inA).toEqual(inB);
      for (const person of new Set(a.personOfNode))
        if (person >= 0)
          expect(
            [...a.personOfNode].filter((p, n) => p === person && n >= 0 && tableOf(list.map(([m]) => m)).nodes.kindOf(n) === 'user').length,
          ).toBeLessThanOrEqual(1);
    }),
    { seed: 3, numRuns: 150 },
  );
});

test('three counting bases on the same messages', () => {
  const table = tableOf([
    { at: 0, ids: { anonymous: 'a' } },
    { at: 1, ids: { anonymous: 'a', user: 'u' } },
    { at: 2, ids: { user: 'u' } },
    { at: 3, ids: { anonymous: 'b', user: 'u' } },
  ]);
  expect(countingBases(resolvePersons(table, RULES))).toEqual([
    { basis: 'device only', persons: 2, unattributed: 1 },
    { basis: 'user ID first', persons: 2, unattributed: 0 },
    { basis: 'fully linked', persons: 1, unattributed: 0 },
  ]);
  for (const { basis, persons, unattributed } of countingBases(resolvePersons(table, RULES))) {
    const of = [...personsByBasis(resolvePersons(table, RULES))[basis].personOfMessage];
    expect([new Set(of.filter((p) => p >= 0)).size, of.filter((p) => p < 0).length]).toEqual([persons, unattributed]);
  }
});
