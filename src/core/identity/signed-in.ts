/** The user ID while somebody is signed in: dropped in between, or late on a page. */
import type { MessageTable } from '../table/message-table';

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

/** The rows of each client device or anonymous ID, in order of time: by the first kind that is no user ID. */
function* clientRows(table: MessageTable, isServer: readonly boolean[], shared: ReadonlySet<number>): Iterable<number[]> {
  const kinds = [...table.ids.keys()].filter((k) => k !== table.userKind).sort();
  const rows = new Map<number, number[]>();
  for (let row = 0; row < table.length; row++) {
    if (isServer[table.source.get(row)] || table.name.get(row) < 0) continue;
    for (const kind of kinds) {
      const node = table.ids.get(kind)!.get(row);
      if (node < 0 || shared.has(node)) continue;
      const list = rows.get(node);
      if (list) list.push(row);
      else rows.set(node, [row]);
      break;
    }
  }
  for (const list of rows.values()) yield list.sort((a, b) => table.time.get(a) - table.time.get(b));
}

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
  /** Whether a node stands for somebody: a template in place of the user ID is none. */
  isUsable: (node: number) => boolean,
): SignedIn => {
  const user = table.ids.get(table.userKind);
  // Stretches that are signed in, device by device.
  const perRelease = new Map<
    string,
    Map<string, { sourceId: string; release: string; dropped: number; messages: number; rows: number[] }>
  >();
  let [inStretch, dropped, late, pages] = [0, 0, 0, 0];
  const signOuts = new Set(signOutEvents.map((n) => table.names.find(n)).filter((n) => n >= 0));
  if (user)
    for (const rows of clientRows(table, isServer, shared)) {
      let [signedIn, last] = [false, -Infinity];
      let page: { at: number; first: boolean; seen: boolean } | undefined;
      const closePage = (): void => {
        if (!page?.seen) return;
        pages++;
        if (!page.first) late++;
      };
      for (const row of rows) {
        const at = table.time.get(row);
        const node = user.get(row);
        const has = node >= 0 && isUsable(node);
        if (at - last > gapMs) {
          signedIn = false;
          closePage();
          page = undefined;
        }
        last = at;
        const where = table.page.get(row);
        if (where >= 0 && where !== page?.at) {
          closePage();
          page = { at: where, first: has, seen: has };
        } else if (page && has) page.seen = true;
        // Whoever sends a template says that somebody is signed in.
        if (node >= 0) signedIn = true;
        if (signedIn) {
          inStretch++;
          const [sourceId, release] = [table.sources.values[table.source.get(row)]!, table.releases.values[table.release.get(row)]!];
          let ofSource = perRelease.get(sourceId);
          if (!ofSource) perRelease.set(sourceId, (ofSource = new Map()));
          let own = ofSource.get(release);
          if (!own) ofSource.set(release, (own = { sourceId, release, dropped: 0, messages: 0, rows: [] }));
          own.messages++;
          if (!has) {
            dropped++;
            own.dropped++;
            own.rows.push(row);
          }
        }
        if (signOuts.has(table.name.get(row))) signedIn = false;
      }
      closePage();
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
        samples: rows
          .slice(-EXAMPLES)
          .reverse()
          .map((row) => table.seq.get(row)),
      })),
    latePages: { late, pages },
  };
};
