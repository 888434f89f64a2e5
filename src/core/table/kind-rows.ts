/** Rows of messages that are no events, by their kind. */
import { RowList } from './column';
import { following } from './following';
import { MESSAGE_KINDS, type MessageKind } from './message-kinds';
import type { MessageTable } from './message-table';

const byKind = following(
  () => MESSAGE_KINDS.map(() => new RowList()),
  (lists, table, from, to) => {
    const kinds = table.otherKind.rawFor(to);
    for (let row = from; row < to; row++) if (kinds[row]! >= 0) lists[kinds[row]!]!.push(row);
  },
);

/** The rows of messages of a kind, ascending. Events are found by their name. */
export const rowsOfKind = (table: MessageTable, kind: Exclude<MessageKind, 'event'>): Int32Array =>
  byKind(table)[MESSAGE_KINDS.indexOf(kind)]!.rows;
