/** Devices that several people sign in on: who each stretch of messages belongs to. */
import type { IdentityRules } from '../plan/plan';
import type { MessageTable } from '../table/message-table';
import { keyOf } from './guards';

/** A stretch ends on its own when a shared device is left alone for this long. */
const LEFT_ALONE_MS = 30 * 60_000;

export interface Stretched {
  readonly personOfNode: Int32Array;
  readonly personOfMessage: Int32Array;
  readonly shared: ReadonlySet<number>;
}

/** Gives what devices with several user IDs sent without one to whoever was signed in: from a sign-in to the next sign-out, to the next
 *  sign-in of somebody else, or, on a shared device, until it was left alone; nobody's in between. Before the first sign-in on a device
 *  that is not shared it stays as linked: that history belongs to the first. Changes `personOfMessage`.
 */
export const attributeStretches = (
  table: MessageTable,
  rules: IdentityRules,
  { usersOf, ...c }: Stretched & { readonly usersOf: ReadonlyMap<number, ReadonlySet<number>> },
): void => {
  if (!table.ids.has(table.userKind) || usersOf.size === 0 || !rules.linking) return;
  stretchesOf(table, rules, rowsOfDevices(table, usersOf.keys()), c);
};

/** The rows that carry these identifiers, in order of arrival; those of user IDs are left out. */
export const rowsOfDevices = (table: MessageTable, nodes: Iterable<number>): Map<number, number[]> => {
  const rowsOf = new Map<number, number[]>();
  const several = new Uint8Array(table.nodes.length);
  for (const node of nodes) several[node] = 1;
  for (const [kind, ids] of table.ids) {
    if (kind === table.userKind) continue;
    const column = ids.rawFor(table.length);
    for (let row = 0; row < table.length; row++) {
      const node = column[row]!;
      if (node < 0 || several[node] === 0) continue;
      const rows = rowsOf.get(node);
      if (rows) rows.push(row);
      else rowsOf.set(node, [row]);
    }
  }
  return rowsOf;
};

/** Who is signed in on a device after some of its messages. */
export interface Standing {
  /** The node of a user ID, or one of the two below. */
  readonly user: number;
  /** When the last of them happened, UTC epoch ms. */
  readonly at: number;
}

const NEVER = -2;
const NOBODY = -1;

/** Before the first message of a device. */
export const BEFORE: Standing = { user: NEVER, at: -Infinity };

/** The messages that a table has by now, as devices with several user IDs sent them. */
export const stretcher = (table: MessageTable, rules: IdentityRules) => {
  const user = table.ids.get(table.userKind)!.rawFor(table.length);
  const time = table.time.raw;
  const name = table.name.rawFor(table.length);
  const signOuts = new Set(rules.signOutEvents.map((n) => table.names.find(n)).filter((n) => n >= 0));
  // At one moment a sign-in comes first and a sign-out last, whichever arrived before.
  const rank = (row: number): number => (signOuts.has(name[row]!) ? 2 : user[row]! < 0 ? 1 : 0);
  const userKey = (row: number): string => (user[row]! < 0 ? '' : keyOf(table, user[row]!));
  const tie = (a: number, b: number): number => {
    const by = rank(a) - rank(b);
    if (by !== 0 || user[a] === user[b]) return by;
    const [x, y] = [userKey(a), userKey(b)];
    return x < y ? -1 : x > y ? 1 : 0;
  };
  return {
    /** Puts the rows of a device in the order in which they happened. */
    sort: (rows: number[]): number[] => rows.sort((a, b) => time[a]! - time[b]! || tie(a, b)),
    /** Goes through rows of a device that are in order, and says of each that somebody is known for whose it is; who is signed in afterwards. */
    follow: (
      rows: readonly number[],
      from: Standing,
      isShared: boolean,
      personOfNode: Int32Array,
      say: (row: number, person: number) => void,
    ): Standing => {
      let { user: current, at } = from;
      for (const row of rows) {
        if (isShared && time[row]! - at > LEFT_ALONE_MS && current !== NEVER) current = NOBODY;
        at = time[row]!;
        const u = user[row]!;
        if (u >= 0 && personOfNode[u]! >= 0) current = u;
        else if (current !== NEVER) say(row, current === NOBODY ? -1 : personOfNode[current]!);
        if (signOuts.has(name[row]!) && current !== NEVER) current = NOBODY;
      }
      return { user: current, at };
    },
  };
};

/** Devices in the order of their identifiers, so that a message with two of them does not depend on which came first. */
export const devicesInOrder = <T>(table: MessageTable, devices: ReadonlyMap<number, T>): [number, T][] =>
  [...devices].sort(([a], [b]) => (keyOf(table, a) < keyOf(table, b) ? -1 : 1));

/** As `attributeStretches`, for some devices with the rows that they sent. Changes the lists of rows, too. */
export const stretchesOf = (table: MessageTable, rules: IdentityRules, rowsOf: ReadonlyMap<number, number[]>, c: Stretched): void => {
  const { sort, follow } = stretcher(table, rules);
  for (const [node, rows] of devicesInOrder(table, rowsOf))
    follow(sort(rows), BEFORE, c.shared.has(node), c.personOfNode, (row, person) => (c.personOfMessage[row] = person));
};
