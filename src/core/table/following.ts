/** What is worked out of a table's rows once and carried on as rows come: each row is looked at once, however often it is asked for. */
import type { MessageTable } from './message-table';

interface Held<S> {
  readonly state: S;
  length: number;
}

/** A way to follow tables.
 *  Shape: `read` takes the rows from `from` up to `to` into the state that `make` began; `key` says of what, where one way serves several,
 *  such as one property of many; of more than `mostKeys` the oldest go. What is held goes with its table.
 */
export const following = <S>(
  make: () => S,
  read: (state: S, table: MessageTable, from: number, to: number, key: string) => void,
  mostKeys = Infinity,
) => {
  const tables = new WeakMap<MessageTable, Map<string, Held<S>>>();
  return (table: MessageTable, key = ''): S => {
    let ofTable = tables.get(table);
    if (!ofTable) tables.set(table, (ofTable = new Map()));
    let held = ofTable.get(key);
    if (!held && ofTable.size >= mostKeys) ofTable.delete(ofTable.keys().next().value!);
    if (!held) ofTable.set(key, (held = { state: make(), length: 0 }));
    if (held.length < table.length) read(held.state, table, held.length, table.length, key);
    held.length = table.length;
    return held.state;
  };
};
