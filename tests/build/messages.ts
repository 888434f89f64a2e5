/** Message tables for tests. */
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { isScalar, MessageTable, type TableMessage } from '../../src/core/table/message-table';
import { refKey } from '../../src/core/plan/property-path';

export const RULES = DEFAULT_SETTINGS.identity;

/** A table of messages written short: name ('' for an identify call), minutes, ids, and what else is wanted. */
export const tableOf = (rows: readonly (Partial<TableMessage> & { at: number; ids: Record<string, string> })[]): MessageTable => {
  const table = new MessageTable();
  rows.forEach(({ at, ...r }, i) =>
    table.append({
      seq: i + 1,
      kind: r.name === '' ? 'identify' : 'event',
      name: 'E',
      sourceId: 's',
      release: '',
      properties: {},
      occurredAt: at * 60_000,
      ...r,
    }),
  );
  return table;
};

/** What a table says, with nothing of how it is laid out. */
export const said = (t: MessageTable): unknown => ({
  rows: Array.from({ length: t.length }, (_, row) => ({
    seq: t.seq.get(row),
    at: t.time.get(row),
    received: t.received.get(row),
    kind: t.kindOf(row),
    name: t.names.values[t.name.get(row)],
    source: t.sources.values[t.source.get(row)],
    release: t.releases.values[t.release.get(row)],
    page: t.pages.values[t.page.get(row)],
    ids: Object.fromEntries([...t.ids].flatMap(([k, c]) => (c.get(row) < 0 ? [] : [[k, t.nodes.valueOf(c.get(row))]]))),
    properties: Object.fromEntries(
      [...t.properties].flatMap(([k, p]) => {
        const v = p.values.values[p.column.get(row)];
        return v === undefined ? [] : [[refKey(k), isScalar(v) ? v : `${String(v)} ${v.hash}`]];
      }),
    ),
    tier: t.userProperties.get('tier')?.values.values[t.userProperties.get('tier')!.column.get(row)],
    reused: t.reused.has(row),
    verdicts: t.verdicts.get(row)?.map((v) => v.code) ?? [],
  })),
  byName: Object.fromEntries(t.names.values.map((n) => [n, [...t.rowsOf(n)]])),
  nodes: t.nodes.length,
});
