/** How many persons of a stated base have a user ID, and who has not. */
import { Bitset } from '../table/bitset';
import type { IdentifierNode, MessageTable } from '../table/message-table';
import type { Persons } from './persons';

export interface Containment {
  /** Name of the event that makes the base; empty for any message. */
  readonly base: string;
  readonly inBase: number;
  /** All persons with a user ID that sent anything. */
  readonly withUserId: number;
  readonly both: number;
  /** Persons of the base without a user ID, by one identifier each: the newest first. */
  readonly outsiders: readonly (IdentifierNode & { readonly at: number })[];
}

const MOST_OUTSIDERS = 5;

/** Over all messages. Units: persons; times UTC epoch ms. */
export const containment = (table: MessageTable, persons: Persons, base: string): Containment => {
  const { personOfNode, personOfMessage, count } = persons;
  const hasUser = new Uint8Array(count);
  table.nodes.forEach((n, i) => {
    const p = personOfNode[i]!;
    if (p >= 0 && n.kind === table.userKind) hasUser[p] = 1;
  });
  const present = new Bitset(count);
  const inBase = new Bitset(count);
  const name = table.names.find(base);
  const newest = new Map<number, number>();
  for (let row = 0; row < table.length; row++) {
    const p = personOfMessage[row]!;
    if (p < 0) continue;
    present.add(p);
    if (base !== '' && (name < 0 || table.name.get(row) !== name)) continue;
    inBase.add(p);
    if (!hasUser[p]) {
      const known = newest.get(p);
      if (known === undefined || table.time.get(row) >= table.time.get(known)) newest.set(p, row);
    }
  }
  let [withUserId, both] = [0, 0];
  for (let p = 0; p < count; p++) {
    if (!hasUser[p] || !present.has(p)) continue;
    withUserId++;
    if (inBase.has(p)) both++;
  }
  const outsiders = [...newest.values()]
    .sort((a, b) => table.time.get(b) - table.time.get(a))
    .slice(0, MOST_OUTSIDERS)
    .map((row) => {
      const node = [...table.ids.values()].map((c) => c.get(row)).find((n) => n >= 0 && personOfNode[n]! >= 0);
      return { ...table.nodes[node ?? 0]!, at: table.time.get(row) };
    });
  return { base, inBase: inBase.size, withUserId, both, outsiders };
};
