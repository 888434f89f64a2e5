import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { identifiersOfMe, isMine } from '../../../src/core/arrival/me';
import { MessageTable } from '../../../src/core/table/message-table';
import { identifierOn, mayMissValue, rowsOfTester, rowsWithValue, testerSeen } from '../../../src/core/trial/tester';
import { create, planWith } from '../../build/plan';

const plan = planWith([create('source', 's', { name: 'Hall', environment: 'production' })]);

interface Sent {
  readonly ids: Record<string, string>;
  readonly properties?: Record<string, unknown>;
}
const tableOf = (all: readonly Sent[]): MessageTable => {
  const table = new MessageTable();
  all.forEach((m, i) =>
    table.append({ seq: i + 1, kind: 'event', name: 'E', sourceId: 's', release: '', occurredAt: i, properties: {}, ...m }),
  );
  return table;
};

const all: readonly Sent[] = [
  { ids: { device: 'd-1x' } },
  { ids: { device: 'd-1x', user: 'm-1x' } },
  { ids: { user: 'm-1x' } },
  { ids: { device: 'd-2x' }, properties: { order: { code: 7 }, flag: true, text: '7' } },
  { ids: { device: 'd-1x', user: 'm-2x' } },
];

test('by an identifier: with what was beside it; whoever else was on the device is counted, and none of theirs taken', () => {
  expect(rowsOfTester(tableOf(all), 0, 'm-1x', 'user')).toEqual({ rows: [0, 1, 2], users: 2 });
  expect(rowsOfTester(tableOf(all), 2, 'm-1x', 'user')).toEqual({ rows: [2], users: 1 });
  expect(rowsOfTester(tableOf(all), 0, 'nobody', 'user')).toEqual({ rows: [], users: 0 });
});

test('what stands for nobody joins nobody', () => {
  const shared = tableOf([{ ids: { device: 'd-1x', user: 'null' } }, { ids: { device: 'd-2x', user: 'null' } }]);
  expect(rowsOfTester(shared, 0, 'd-1x', 'user')).toEqual({ rows: [0], users: 0 });
  expect(identifierOn(tableOf([{ ids: { user: 'null' } }, { ids: {} }, { ids: { device: 'd-9x' } }]), [0, 1, 2])).toBe('d-9x');
  expect(identifierOn(shared, [])).toBeUndefined();
});

describe('by a property', () => {
  it.each<[string, string, number[]]>([
    ['order.code', '7', [3]],
    ['order.code', '07', []],
    ['flag', 'true', [3]],
    ['text', '7', [3]],
    ['text', '8', []],
    ['no such', '7', []],
  ])('%s = %s', (name, value, rows) => {
    expect(rowsWithValue(tableOf(all), 0, name, value)).toEqual(rows);
    expect(rowsWithValue(tableOf(all), 4, name, value)).toEqual([]);
  });

  it('is found behind thousands of others’ messages, and with what they send without it', () => {
    const others = Array.from({ length: 6000 }, (_, i): Sent => ({ ids: { device: `d-o${i}` } }));
    const table = tableOf([{ ids: { device: 'd-1x' }, properties: { code: 'mine' } }, ...others, { ids: { device: 'd-1x' } }]);
    const sure = rowsWithValue(table, 0, 'code', 'mine');
    expect(rowsOfTester(table, 0, identifierOn(table, sure)!, 'user').rows).toEqual([0, 6001]);
  });
});

test('where a value may have come without being kept, that is known', () => {
  const deep = Array.from({ length: 12 }).reduce<object>((inner) => ({ in: inner }), { end: 'x' });
  const table = tableOf([{ ids: {}, properties: { deep, flat: 1 } }]);
  expect(rowsWithValue(table, 0, `deep${'.in'.repeat(12)}.end`, 'x')).toEqual([]);
  expect(mayMissValue(table, `deep${'.in'.repeat(12)}.end`)).toBe(true);
  expect([mayMissValue(table, 'flat'), mayMissValue(table, 'nowhere'), mayMissValue(table, 'flat.x')]).toEqual([false, false, false]);
});

test('another environment is apart, and counted', () => {
  const at = (n: number, environment?: string) => ({ sourceId: 's', release: '', body: { n, ids: { device: 'd' }, ...(environment ? { environment } : {}) } }); // prettier-ignore
  const seen = testerSeen(plan, [at(1), at(2, 'staging'), at(3)], 'production');
  expect([seen.mine.map((m) => m.body.n), [...seen.elsewhere], [...seen.kinds]]).toEqual([[1, 3], [['staging', 1]], ['device']]);
});

test('at random: the same messages as by reading every one of them', () => {
  const id = fc.constantFrom('a-1', 'a-2', 'a-3', 'null', '0');
  const user = fc.constantFrom('u-1', 'u-2', 'u-3', 'undefined');
  const sent = fc.record({ ids: fc.record({ device: id, anonymous: id, user }, { requiredKeys: [] }) });
  fc.assert(
    fc.property(fc.array(sent, { maxLength: 25 }), fc.constantFrom('a-1', 'u-1', 'u-2'), (messages, start) => {
      const bodies = messages.map((m, row) => ({ row, body: m as { [k: string]: unknown } }));
      const mine = identifiersOfMe(start, bodies, 'user');
      const expected = bodies.filter((m) => isMine(mine, m, 'user')).map((m) => m.row);
      expect(rowsOfTester(tableOf(messages as Sent[]), 0, start, 'user').rows).toEqual(expected);
    }),
  );
});
