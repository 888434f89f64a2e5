/** The user ID while somebody is signed in: dropped in between, or late on a page. */
import type { MessageTable } from '../table/message-table';
import { groupByKey } from '../table/sessions';

export interface SignedIn {
  /** Client messages in a stretch that is signed in, and those of them that lack the user ID, by source and release. */
  readonly signedIn: { readonly messages: number; readonly dropped: number };
  readonly dropped: readonly {
    readonly sourceId: string;
    readonly release: string;
    readonly dropped: number;
    readonly messages: number;
    /** Rows that lack it, device by device. */
    readonly rows: readonly number[];
    /** Sequence numbers, newest first. */
    readonly samples: readonly number[];
  }[];
  /** Pages within a session whose first message lacks the user ID that a later one on it has. */
  readonly latePages: { readonly late: number; readonly pages: number };
}

const EXAMPLES = 5;

/** Row → the client device or anonymous ID that it is of: the node of the first kind that is no user ID; −1 for none. */
const deviceOfRows = (table: MessageTable, isServer: readonly boolean[], shared: ReadonlySet<number>): Int32Array => {
  const kinds = [...table.ids.keys()].filter((k) => k !== table.userKind).sort();
  const rows = table.length;
  const of = new Int32Array(rows).fill(-1);
  const isShared = new Uint8Array(table.nodes.length);
  for (const node of shared) isShared[node] = 1;
  for (const kind of kinds) {
    const column = table.ids.get(kind)!.rawFor(rows);
    for (let row = 0; row < rows; row++) {
      const node = column[row]!;
      if (node >= 0 && of[row]! < 0 && isShared[node] === 0) of[row] = node;
    }
  }
  const source = table.source.rawFor(rows);
  const name = table.name.rawFor(rows);
  for (let row = 0; row < rows; row++) if (name[row]! < 0 || isServer[source[row]!]) of[row] = -1;
  return of;
};

interface Release {
  readonly sourceId: string;
  readonly release: string;
  dropped: number;
  messages: number;
  readonly rows: number[];
}

/** Sequence numbers of the newest of some rows, newest first. */
const newestOf = (table: MessageTable, rows: readonly number[]): number[] => {
  const time = table.time.raw;
  const newest: number[] = [];
  for (const row of rows) {
    if (newest.length === EXAMPLES && time[row]! < time[newest.at(-1)!]!) continue;
    newest.push(row);
    newest.sort((a, b) => time[b]! - time[a]! || b - a);
    if (newest.length > EXAMPLES) newest.pop();
  }
  return newest.map((row) => table.seq.get(row));
};

/** Goes over the messages of each client device that is not shared.
 *  Shape: a stretch is signed in from a message with a user ID, or with a placeholder in its place, until its sign-out, or until the device
 *  is quiet for `gapMs`. A placeholder does not count as carried.
 */
export const signedInStretches = (
  table: MessageTable,
  isServer: readonly boolean[],
  shared: ReadonlySet<number>,
  signOutEvents: readonly string[],
  gapMs: number,
  /** Node → 1 where it stands for somebody: a template in place of the user ID is none. */
  usable: Uint8Array,
): SignedIn => {
  const rows = table.length;
  const user = table.ids.get(table.userKind)?.rawFor(rows);
  const perRelease = new Map<number, Map<number, Release>>();
  let [inStretch, dropped, late, pages] = [0, 0, 0, 0];
  const signsOut = new Uint8Array(table.names.values.length + 1);
  for (const n of signOutEvents) signsOut[table.names.find(n) + 1] = 1;
  signsOut[0] = 0;
  if (user) {
    const time = table.time.raw;
    const name = table.name.rawFor(rows);
    const source = table.source.rawFor(rows);
    const release = table.release.rawFor(rows);
    const pageOf = table.page.rawFor(rows);
    const { order, start } = groupByKey(deviceOfRows(table, isServer, shared), table.nodes.length, time);
    // Of the message before: most have the same.
    let [lastSource, lastRelease] = [-1, -1];
    let own!: Release;
    for (let d = 0; d + 1 < start.length; d++) {
      const [begin, end] = [start[d]!, start[d + 1]!];
      if (begin === end) continue;
      let [signedIn, last] = [false, -Infinity];
      // The page that is open, −1 for none; whether its first message had the user ID, and whether any had.
      let [page, first, seen] = [-1, false, false];
      for (let i = begin; i < end; i++) {
        const row = order[i]!;
        const at = time[row]!;
        const node = user[row]!;
        const has = node >= 0 && usable[node] === 1;
        const where = pageOf[row]!;
        const isQuiet = at - last > gapMs;
        if (isQuiet) signedIn = false;
        if (page >= 0 && (isQuiet || (where >= 0 && where !== page))) {
          if (seen) {
            pages++;
            if (!first) late++;
          }
          page = -1;
        }
        last = at;
        if (where >= 0 && page < 0) [page, first, seen] = [where, has, has];
        else if (page >= 0 && has) seen = true;
        // Whoever sends a template says that somebody is signed in.
        if (node >= 0) signedIn = true;
        if (signedIn) {
          inStretch++;
          if (source[row] !== lastSource || release[row] !== lastRelease) {
            [lastSource, lastRelease] = [source[row]!, release[row]!];
            let ofSource = perRelease.get(lastSource);
            if (!ofSource) perRelease.set(lastSource, (ofSource = new Map()));
            let found = ofSource.get(lastRelease);
            if (!found) {
              const [sourceId, release] = [table.sources.values[lastSource]!, table.releases.values[lastRelease]!];
              ofSource.set(lastRelease, (found = { sourceId, release, dropped: 0, messages: 0, rows: [] }));
            }
            own = found;
          }
          own.messages++;
          if (!has) {
            dropped++;
            own.dropped++;
            own.rows.push(row);
          }
        }
        if (signsOut[name[row]! + 1] === 1) signedIn = false;
      }
      if (page >= 0 && seen) {
        pages++;
        if (!first) late++;
      }
    }
  }

  return {
    signedIn: { messages: inStretch, dropped },
    dropped: [...perRelease.values()]
      .flatMap((m) => [...m.values()])
      .filter((r) => r.dropped > 0)
      .sort((a, b) => b.dropped / b.messages - a.dropped / a.messages)
      .map(({ rows, ...r }) => ({
        ...r,
        rows,
        samples: newestOf(table, rows),
      })),
    latePages: { late, pages },
  };
};
