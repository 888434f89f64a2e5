/** Active persons of the last whole day, week and month under each counting basis, counted out from the rows. */
import { expect, test } from 'vitest';
import { activePeriods } from '../../../src/core/identity/active-periods';
import { resolvePersons } from '../../../src/core/identity/persons';
import { create, planWith } from '../../build/plan';
import { RULES, tableOf } from '../../build/messages';

const plan = planWith(
  [
    create('identifierKind', 'device', { name: 'device', identifies: 'device' }),
    create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
  ],
  { timeZone: 'UTC', weekStartsOn: 1 },
);
const minutes = (text: string): number => Date.parse(text) / 60_000;
// A Wednesday: the last whole day is Tuesday the 14th, the last whole week begins on Monday the 6th, the last whole month is March.
const NOW = Date.parse('2026-04-15T10:00:00Z');

test('each in its period, by device, by user ID where it is known, and linked', () => {
  const at = (text: string, ids: Record<string, string>) => ({ at: minutes(text), ids });
  const rows = [
    // March: one person of two devices.
    at('2026-03-01T00:00:00Z', { device: 'd1', user: 'u1' }),
    at('2026-03-31T23:59:00Z', { device: 'd2', user: 'u1' }),
    at('2026-03-15T12:00:00Z', { device: 'd9' }),
    // Before and after March.
    at('2026-02-28T23:59:00Z', { device: 'd3' }),
    at('2026-04-01T00:00:00Z', { device: 'd4' }),
    // The week of the 6th: d1 without its user ID.
    at('2026-04-06T00:00:00Z', { device: 'd1' }),
    at('2026-04-12T23:59:00Z', { device: 'd2', user: 'u1' }),
    // Tuesday the 14th.
    at('2026-04-14T00:00:00Z', { device: 'd5' }),
    at('2026-04-14T23:59:00Z', { device: 'd6' }),
    // Today is not over.
    at('2026-04-15T09:00:00Z', { device: 'd7' }),
  ];
  const persons = resolvePersons(tableOf(rows), { ...RULES, linking: true, links: [['device', 'user']] });
  expect(activePeriods(plan, persons, NOW)).toEqual([
    { period: 'day', at: Date.parse('2026-04-14T00:00:00Z'), persons: { 'device only': 2, 'user ID first': 2, 'fully linked': 2 } },
    { period: 'week', at: Date.parse('2026-04-06T00:00:00Z'), persons: { 'device only': 2, 'user ID first': 2, 'fully linked': 1 } },
    { period: 'month', at: Date.parse('2026-03-01T00:00:00Z'), persons: { 'device only': 3, 'user ID first': 2, 'fully linked': 2 } },
  ]);
});
