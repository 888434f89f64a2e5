/** What is worked out of a table's rows once and carried on as rows come: each row is looked at once, however often it is asked for. */
import type { MessageTable } from './message-table';

interface Held<S> {
  readonly state: S;
  length: number;
}

type Read<S> = (state: S, table: MessageTable, from: number, to: number, key: string) => void;

const followingBy = <S>(
  anchorOf: (table: MessageTable) => object,
  readFrom: (table: MessageTable) => MessageTable,
  make: () => S,
  read: Read<S>,
  mostKeys: number,
) => {
  const anchors = new WeakMap<object, Map<string, Held<S>>>();
  return (table: MessageTable, key = ''): S => {
    const anchor = anchorOf(table);
    let own = anchors.get(anchor);
    if (!own) anchors.set(anchor, (own = new Map<string, Held<S>>()));
    let held = own.get(key);
    if (!held) {
      if (own.size >= mostKeys) own.delete(own.keys().next().value!);
      own.set(key, (held = { state: make(), length: 0 }));
    }
    if (held.length === table.length) return held.state;
    // Should reading fail in the midst, nobody goes on from there.
    own.delete(key);
    read(held.state, readFrom(table), held.length, table.length, key);
    held.length = table.length;
    own.set(key, held);
    return held.state;
  };
};

/** A way to follow tables.
 *  Shape: `read` takes the rows from `from` up to `to` into the state that `make` began; `key` says of what, where one way serves several,
 *  such as one property of many; of more than `mostKeys` the oldest go. What is held goes with its table.
 */
export const following = <S>(make: () => S, read: Read<S>, mostKeys = Infinity) =>
  followingBy(
    (table) => table.base,
    (table) => table.base,
    make,
    read,
    mostKeys,
  );

/** The same for what is found on messages, which goes when another version judges them. */
export const followingVerdicts = <S>(make: () => S, read: Read<S>) =>
  followingBy(
    (table) => table.verdicts,
    (table) => table,
    make,
    read,
    Infinity,
  );
