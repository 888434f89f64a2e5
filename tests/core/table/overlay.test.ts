/** A table said otherwise reads as one into which the messages came so. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { refKey } from '../../../src/core/plan/property-path';
import { MessageTable, type TableMessage } from '../../../src/core/table/message-table';
import { overlaid } from '../../../src/core/table/overlay';

const value = fc.oneof(fc.integer({ min: 0, max: 3 }), fc.constantFrom('a', 'b'), fc.boolean(), fc.constant([1, 2]), fc.record({ w: fc.integer({ min: 0, max: 3 }) })); // prettier-ignore
const message = fc.record({
  name: fc.constantFrom('Seen', 'seen', 'Other', ''),
  at: fc.nat(9),
  ids: fc.dictionary(fc.constantFrom('device', 'user'), fc.constantFrom('1', '2', '3')),
  properties: fc.dictionary(fc.constantFrom('weight', 'size', 'note'), value),
  isLeftOut: fc.boolean(),
  ahead: fc.constantFrom(0, 5),
  halved: fc.boolean(),
});

const filled = (list: readonly Omit<TableMessage, 'seq' | 'sourceId' | 'release' | 'kind'>[]): MessageTable => {
  const table = new MessageTable();
  list.forEach((m, i) => table.append({ seq: i + 1, kind: m.name === '' ? 'view' : 'event', sourceId: 's', release: '1', ...m }));
  return table;
};

/** What the rows of each event say, and who is behind them, by the row's number in the order of those that count. */
const said = (t: MessageTable, rows: readonly number[]): unknown => {
  const place = new Map(rows.map((row, i) => [row, i]));
  const at = (row: number) => ({
    at: t.time.get(row),
    ids: Object.fromEntries([...t.ids].flatMap(([kind, c]) => (c.get(row) < 0 ? [] : [[kind, t.nodes.valueOf(c.get(row))]]))),
    values: Object.fromEntries([...t.properties].flatMap(([ref, p]) => (p.column.get(row) < 0 ? [] : [[refKey(ref), JSON.stringify(p.values.values[p.column.get(row)])]]))), // prettier-ignore
  });
  return ['Seen', 'seen', 'Other', 'SEEN'].map((name) =>
    [...t.rowsOf(name)].map((row) => [place.get(row), t.names.values[t.name.get(row)], at(row)]),
  );
};

test('as many messages that came so', () => {
  fc.assert(
    fc.property(fc.array(message, { maxLength: 25 }), fc.constantFrom('Seen', 'SEEN'), (list, present) => {
      const table = filled(list.map((m) => ({ ...m, occurredAt: m.at })));
      const before = JSON.stringify([
        table.names.values,
        said(table, [...list.keys()]),
        [...table.properties].map(([, p]) => p.values.values),
      ]);
      const isHalved = (m: (typeof list)[number]): boolean => m.halved && typeof m.properties['weight'] === 'number';
      const over = overlaid(table, {
        leftOut: new Set(list.flatMap((m, row) => (m.isLeftOut ? [row] : []))),
        times: new Map(list.flatMap((m, row): [number, number][] => (m.ahead > 0 ? [[row, m.at - m.ahead]] : []))),
        names: new Map([['seen', present]]),
        values: new Map([[refKey('weight'), new Map(list.flatMap((m, row): [number, number][] => (isHalved(m) ? [[row, Number(m.properties['weight']) / 2]] : [])))]]), // prettier-ignore
      });
      const kept = list.flatMap((m, row) => (m.isLeftOut ? [] : [row]));
      const fresh = filled(
        kept.map((row) => {
          const m = list[row]!;
          const properties = isHalved(m) ? { ...m.properties, weight: Number(m.properties['weight']) / 2 } : m.properties;
          return { ...m, properties, name: m.name === 'seen' ? present : m.name, occurredAt: m.at - m.ahead };
        }),
      );
      expect(said(over, kept)).toEqual(said(fresh, [...kept.keys()]));
      expect(over.rowsOf('seen')).toHaveLength(0);
      for (const [row, m] of list.entries()) if (m.isLeftOut) expect([...over.ids.values()].map((c) => c.get(row)).every((n) => n === -1)).toBe(true); // prettier-ignore
      // What came stays as it came, and what comes later is not in it.
      expect(JSON.stringify([table.names.values, said(table, [...list.keys()]), [...table.properties].map(([, p]) => p.values.values)])).toBe(before); // prettier-ignore
      table.append({ seq: 99, kind: 'event', name: 'Seen', sourceId: 's', release: '', occurredAt: 1, ids: {}, properties: {} });
      expect(over.length).toBe(list.length);
    }),
    { seed: 5, numRuns: 600 },
  );
});
