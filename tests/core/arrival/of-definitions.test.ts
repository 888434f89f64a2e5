/** What the views of arrivals show of a defined event is what they show of an event that is sent under its name. */
import { expect, test } from 'vitest';
import { copied } from '../../../src/core/definitions/copied';
import type { Definition } from '../../../src/core/definitions/definition';
import { withDefinitions } from '../../../src/core/definitions/defined-events';
import { arrivedNames, profileOf } from '../../../src/core/arrival/profile';
import { volumeOf } from '../../../src/core/arrival/volume';
import { attributedTo } from '../../../src/core/table/following-persons';
import { MessageTable, type TableMessage } from '../../../src/core/table/message-table';
import { seeded } from '../../../src/demo/random';
import { create, event, planWith, property } from '../../build/plan';

const DAY = 86_400_000;
const NOW = Date.parse('2026-11-23T12:00:00Z');
const definition: Definition = {
  name: 'Heavy Crate Moved',
  source: { of: 'events', names: ['Crate Moved'] },
  where: { match: 'all', conditions: [{ subject: { of: 'property', name: 'weight' }, op: 'at least', values: [50] }], groups: [] },
  changes: [
    { what: 'rename', name: 'hall', to: 'place' },
    { what: 'set', name: 'kind', value: 'heavy' },
    { what: 'drop', name: 'note' },
  ],
};
const parts = [
  create('source', 's', { name: 'Hall', kind: 'web' }),
  create('source', 't', { name: 'Desk', kind: 'server' }),
  property('weight', { type: 'number', unit: 'kg' }),
  property('hall', {}),
  event('e', { name: 'Crate Moved', properties: ['weight', 'hall'].map((propertyId) => ({ propertyId, required: true })) }),
];
const plan = planWith([...parts, create('definition', 'd', definition)], { timeZone: 'Europe/Lisbon' });

const random = seeded(4);
const messages: (Omit<TableMessage, 'seq'> & { person: number })[] = Array.from({ length: 3000 }, (_, i) => ({
  kind: 'event',
  name: random.chance(0.8) ? 'Crate Moved' : 'Hall Opened',
  sourceId: random.chance(0.7) ? 's' : 't',
  release: i < 1500 ? '1' : '2',
  occurredAt: NOW - 60 * DAY + Math.floor((i / 3000) * 60 * DAY),
  page: `/halls/${random.int(1, 9)}`,
  ids: {},
  properties: { weight: random.int(1, 100), hall: `hall ${random.int(1, 4)}`, ...(random.chance(0.3) ? { note: 'x' } : {}) },
  person: random.int(0, 200),
}));
const isOf = (m: Omit<TableMessage, 'seq'>): boolean => m.name === 'Crate Moved' && Number(m.properties['weight']) >= 50;
const tableOf = (rename: boolean): MessageTable => {
  const table = new MessageTable();
  messages.forEach(
    ({ person: _, ...m }, i) =>
    table.append(rename && isOf(m) ? { ...m, name: definition.name, properties: copied(m.properties, definition.changes).values, seq: i + 1 } : { ...m, seq: i + 1 }), // prettier-ignore
  );
  return table;
};
const seen = withDefinitions(tableOf(false), plan);
const sentSo = tableOf(true);

test('its profile: messages, days, pages, releases, and each property as the definition has it', () => {
  const own = profileOf(plan, seen, definition.name, NOW)!;
  const other = profileOf(plan, sentSo, definition.name, NOW)!;
  expect(own.defined).toBe(true);
  const { defined: _, planned: __, properties, ...rest } = own;
  const { defined: ___, planned: ____, properties: others, ...wanted } = other;
  expect(rest).toEqual(wanted);
  const shown = (list: typeof properties) =>
    list.map(({ name, messages: n, distinct, numbers, top, types }) => ({ name, messages: n, distinct, numbers, top: [...top].sort((a, b) => (String(a.value) < String(b.value) ? -1 : 1)), types })).sort((a, b) => (a.name < b.name ? -1 : 1)); // prettier-ignore
  expect(shown(properties)).toEqual(shown(others));
  expect(properties.map((p) => p.name).sort()).toEqual(['kind', 'place', 'weight']);
  // By the plan, too, it has these: nothing of it is unplanned.
  expect(properties.every((p) => p.planned !== undefined)).toBe(true);
});

test('its volume: each day with its band, by source, and the releases that send it', () => {
  const persons = Int32Array.from(messages, (m) => m.person);
  for (const sourceId of [undefined, 's', 't']) {
    const of = { eventName: definition.name, sourceId };
    expect(volumeOf(plan, { ...attributedTo(seen.base, persons), table: seen }, [], NOW, of)).toEqual(
      volumeOf(plan, attributedTo(sentSo, persons), [], NOW, of),
    );
  }
});

test('it is among the names, with its messages, beside those that are sent; the event that it is made of keeps all of its own', () => {
  const names = arrivedNames(plan, seen);
  const n = messages.filter(isOf).length;
  expect(names.find((x) => x.eventName === definition.name)).toEqual({
    eventName: definition.name,
    messages: n,
    planned: true,
    defined: true,
    automatic: false,
    sources: [],
  });
  expect(names.find((x) => x.eventName === 'Crate Moved')!.messages).toBe(messages.filter((m) => m.name === 'Crate Moved').length);
});
