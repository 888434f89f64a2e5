/** Message tables for tests. */
import { DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { MessageTable, type TableMessage } from '../src/core/table/message-table';

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
