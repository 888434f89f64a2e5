import { describe, expect, test } from 'vitest';
import { logbookOf, personOfIdentifier } from '../../../src/core/arrival/logbook';
import { profileOf } from '../../../src/core/arrival/profile';
import { userPropertiesAt, userPropertyReport } from '../../../src/core/arrival/user-properties';
import { resolvePersons } from '../../../src/core/identity/persons';
import { create, deepFreeze, event, planWith } from '../../build/plan';
import { RULES, tableOf } from '../../build/messages';

const userProperty = (id: string, body: object) => create('userProperty', id, { name: id, sources: ['s'], registered: true, ...body });
const plan = deepFreeze(
  planWith([
    create('source', 's', { name: 'Hall', kind: 'web', automaticProperties: ['page', 'screen_width'] }),
    create('source', 'k', { name: 'Gate', kind: 'kiosk', automaticProperties: [] }),
    create('property', 'fee', { name: 'fee', type: 'integer', unit: 'minor units' }),
    create('property', 'currency', { name: 'currency', format: 'currency' }),
    create('property', 'price', { name: 'price', type: 'integer', unit: 'minor units' }),
    event('e', { name: 'E', triggerKind: 'viewed', properties: [{ propertyId: 'price', required: false }] }),
    event('paid', {
      name: 'Paid',
      triggerKind: 'completed',
      properties: ['fee', 'currency'].map((propertyId) => ({ propertyId, required: true })),
    }),
    userProperty('hall', { allowed: ['North', 'South'] }),
    userProperty('favourite_branch', {}),
    userProperty('tier', { allowed: ['gold', 'plain'], registered: false }),
    userProperty('trial', { temporary: true, registered: false }),
    userProperty('gone', { retired: true }),
    userProperty('unheard', { sources: [] }),
  ]),
);
const rows: Parameters<typeof tableOf>[0] = [
  { at: 0, ids: { anonymous: 'a' } },
  { at: 10, ids: { anonymous: 'a', user: 'm' }, userProperties: { hall: 'North', branch_favourite: 'X' } },
  { at: 20, ids: { user: 'm' } },
  { at: 30, ids: { user: 'm' }, userProperties: { hall: 'South', tier: 'gold', trial: 1 }, sourceId: 'k' },
  { at: 40, ids: { user: 'm' } },
  { at: 50, ids: { user: 'n' }, userProperties: { gold: 'tier', hall: 'Yard' } },
];
const table = tableOf(rows);
const persons = resolvePersons(table, { ...RULES, links: [['anonymous', 'user']] });

describe('how user properties stand', () => {
  const reports = userPropertyReport(plan, persons);
  const of = (name: string) => reports.find((r) => r.name === name);

  test('usable, sent and not usable, missing or misspelt with the nearest name, for tests; a swapped call is known as such', () => {
    expect(reports.map((r) => [r.name, r.state, r.nearest, r.swappedFor])).toEqual([
      ['branch_favourite', 'sent, not usable', 'favourite_branch', undefined],
      ['gold', 'sent, not usable', undefined, 'tier'],
      ['tier', 'sent, not usable', undefined, undefined],
      ['favourite_branch', 'missing or misspelt', 'branch_favourite', undefined],
      ['unheard', 'waiting', undefined, undefined],
      ['hall', 'usable', undefined, undefined],
      ['trial', 'for tests', undefined, undefined],
    ]);
  });

  test('values by source, those off the list marked, and persons by what they have now', () => {
    expect(of('hall')).toMatchObject({ messages: 3, persons: 2, distinct: 3 });
    expect(of('hall')!.bySource).toEqual([
      { sourceId: 's', messages: 2, expected: true },
      { sourceId: 'k', messages: 1, expected: false },
    ]);
    expect(of('hall')!.values.map((v) => [v.value, v.persons, v.planned, v.bySource.map((s) => s.sourceId)])).toEqual([
      ['North', 0, true, ['s']],
      ['South', 1, true, ['k']],
      ['Yard', 1, false, ['s']],
    ]);
    expect(of('trial')!.numbers).toEqual([{ value: 1, weight: 1 }]);
    expect(of('hall')!.numbers).toEqual([]);
  });
});

test('a value set, then changed: none before the first, the first in between, the second later; now is always the last', () => {
  const hallAt = (row: number) => userPropertiesAt(persons, table.seq.get(row))!.find((p) => p.name === 'hall')!;
  expect([0, 1, 2, 3, 4].map((row) => [hallAt(row).then, hallAt(row).now, hallAt(row).differs])).toEqual([
    [undefined, 'South', true],
    ['North', 'South', true],
    ['North', 'South', true],
    ['South', 'South', false],
    ['South', 'South', false],
  ]);
  expect(userPropertiesAt(persons, 999)).toBeUndefined();
});

test('money of completed events by currency, in major units; a price that an event only shows is none', () => {
  const paid = tableOf([
    { at: 0, name: 'E', ids: { user: 'm' }, properties: { price: 99_999 } },
    { at: 1, name: 'Paid', ids: { user: 'm' }, properties: { fee: 150, currency: 'EUR' } },
    { at: 2, name: 'Paid', ids: { user: 'm' }, properties: { fee: 250, currency: 'EUR' } },
    { at: 3, name: 'Paid', ids: { user: 'm' }, properties: { fee: 300, currency: 'JPY' } },
    { at: 4, name: 'Paid', ids: { user: 'm' }, properties: { fee: 'much', currency: 'EUR' } },
  ]);
  const p = resolvePersons(paid, RULES);
  // ISO 4217: the yen has no minor unit.
  expect(logbookOf(plan, p, personOfIdentifier(p, 'user', 'm'))!.money).toEqual([
    { eventName: 'Paid', property: 'fee', currency: 'EUR', sum: 4, messages: 2 },
    { eventName: 'Paid', property: 'fee', currency: 'JPY', sum: 300, messages: 1 },
  ]);
});

test('what a library adds by itself stands apart, by source, declared or not', () => {
  const sent = tableOf([
    { at: 0, ids: {}, page: '/a', properties: { screen_width: 800, colour: 'red' } },
    { at: 1, ids: {}, page: '/b' },
    { at: 2, ids: {}, sourceId: 'k', properties: { screen_width: 640 } },
  ]);
  const profile = profileOf(plan, sent, 'E', 60_000)!;
  expect(profile.automatic).toEqual([
    {
      name: 'page',
      sources: [
        { sourceId: 's', declared: true, messages: 2, of: 2 },
        { sourceId: 'k', declared: false, messages: 0, of: 1 },
      ],
    },
    {
      name: 'screen_width',
      sources: [
        { sourceId: 's', declared: true, messages: 1, of: 2 },
        { sourceId: 'k', declared: false, messages: 1, of: 1 },
      ],
    },
  ]);
  expect(profile.properties.map((p) => p.name)).toEqual(['price', 'colour']);
});
