/** How many persons of a stated base have a user ID, and who has not. */
import type { IdentifierNode } from '../table/nodes';
import { membersOf } from './members';
import { newestOfPersons } from './person-facts';
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

const MAX_OUTSIDERS = 5;

/** Over all messages. Units: persons; times UTC epoch ms. */
export const containment = (persons: Persons, base: string): Containment => {
  const { table, personOfNode, count } = persons;
  const { hasUser } = membersOf(persons);
  const { present } = newestOfPersons(persons, '');
  const { present: inBase, row: newest } = newestOfPersons(persons, base);
  const time = table.time.raw;
  let [withUserId, both] = [0, 0];
  const outsiders: number[] = [];
  for (let p = 0; p < count; p++) {
    if (hasUser[p] === 0) {
      const row = newest[p]! - 1;
      if (row < 0 || (outsiders.length === MAX_OUTSIDERS && time[row]! <= time[outsiders.at(-1)!]!)) continue;
      outsiders.push(row);
      outsiders.sort((a, b) => time[b]! - time[a]!);
      if (outsiders.length > MAX_OUTSIDERS) outsiders.pop();
    } else if (present.has(p)) {
      withUserId++;
      if (inBase.has(p)) both++;
    }
  }
  return {
    base,
    inBase: inBase.size,
    withUserId,
    both,
    outsiders: outsiders.map((row) => {
      const node = [...table.ids.values()].map((c) => c.get(row)).find((n) => n >= 0 && personOfNode[n]! >= 0);
      return { ...table.nodes.get(node ?? 0), at: time[row]! };
    }),
  };
};
