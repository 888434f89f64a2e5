/** The user ID while somebody is signed in: dropped in between, or late on a page. */
import { canonicalJson } from '../plan/content-hash';
import { GrowingCounts } from '../table/column';
import { following } from '../table/following';
import type { MessageTable } from '../table/message-table';
import { groupRows } from '../table/sessions';
import { usableNodes } from './node-facts';
import type { PersonRules } from './person-rules';

export interface SignedIn {
  /** Client messages in a stretch that is signed in, and those of them that lack the user ID, by source and release. */
  readonly signedIn: { readonly messages: number; readonly dropped: number };
  readonly dropped: readonly {
    readonly sourceId: string;
    readonly release: string;
    readonly dropped: number;
    readonly messages: number;
    /** Rows that lack it. */
    readonly rows: ReadonlySet<number>;
    /** Sequence numbers, newest first. */
    readonly samples: readonly number[];
  }[];
  /** Pages within a session whose first message lacks the user ID that a later one on it has. */
  readonly latePages: { readonly late: number; readonly pages: number };
}

const EXAMPLES = 5;

/** What decides where a stretch begins and ends. */
interface Asked {
  readonly servers: readonly string[];
  readonly shared: readonly number[];
  readonly signOutEvents: readonly string[];
  readonly gapMs: number;
  readonly rules: PersonRules;
}

interface Release {
  readonly sourceId: string;
  readonly release: string;
  dropped: number;
  messages: number;
  /** Rows that lack it. */
  readonly rows: Set<number>;
}

/** Sequence numbers of the newest of some rows, newest first. */
const newestOf = (table: MessageTable, rows: Iterable<number>): number[] => {
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

const SIGNED_IN = 1;
/** The page that is open: its first message had the user ID; any had. */
const FIRST_HAS = 2;
const ANY_HAS = 4;

/** Where each device is, and what was counted on the way there. */
class Stretches {
  /** By node: time of the last message, the page that is open + 1, and the bits above. */
  private last = new Float64Array(0);
  private readonly page = new GrowingCounts(0);
  private readonly bits = new GrowingCounts(0);
  readonly releases = new Map<number, Map<number, Release>>();
  messages = 0;
  dropped = 0;
  private late = 0;
  private pages = 0;
  rows = 0;

  private expect(nodes: number): void {
    this.page.expect(nodes);
    this.bits.expect(nodes);
    if (this.last.length >= nodes) return;
    const next = new Float64Array(Math.max(nodes, this.last.length + (this.last.length >> 2))).fill(-Infinity);
    next.set(this.last);
    this.last = next;
  }

  private releaseOf(table: MessageTable, row: number): Release {
    const source = table.source.get(row);
    let ofSource = this.releases.get(source);
    if (!ofSource) this.releases.set(source, (ofSource = new Map<number, Release>()));
    const release = table.release.get(row);
    let own = ofSource.get(release);
    if (!own) {
      own = { sourceId: table.sources.values[source]!, release: table.releases.values[release]!, dropped: 0, messages: 0, rows: new Set() };
      ofSource.set(release, own);
    }
    return own;
  }

  /** Takes the rows from one on; what came late on a device has all of it gone over again. */
  read(table: MessageTable, to: number, asked: Asked): void {
    this.expect(table.nodes.length);
    const from = this.rows;
    this.rows = to;
    const user = table.ids.get(table.userKind)?.rawFor(to);
    const usable = usableNodes(table, asked.rules);
    const isShared = new Uint8Array(table.nodes.length);
    for (const node of asked.shared) isShared[node] = 1;
    const kinds = [...table.ids.keys()].filter((k) => k !== table.userKind).sort();
    const columns = kinds.map((k) => table.ids.get(k)!.rawFor(to));
    const isServer = table.sources.values.map((id) => asked.servers.includes(id));
    const signsOut = new Uint8Array(table.names.values.length + 1);
    for (const n of asked.signOutEvents) signsOut[table.names.find(n) + 1] = 1;
    signsOut[0] = 0;
    const time = table.time.raw;
    const name = table.name.rawFor(to);
    const source = table.source.rawFor(to);
    const pageOf = table.page.rawFor(to);
    const { last } = this;
    const [page, bits] = [this.page.raw, this.bits.raw];

    /** The client device or anonymous ID that a row is of: the node of the first kind that is no user ID; −1 for none. */
    const deviceOf = (row: number): number => {
      if (name[row]! < 0 || isServer[source[row]!]) return -1;
      for (const column of columns) {
        const node = column[row]!;
        if (node >= 0 && isShared[node] === 0) return node;
      }
      return -1;
    };
    const closePage = (d: number, by: 1 | -1): void => {
      if (page[d] !== 0 && bits[d]! & ANY_HAS) {
        this.pages += by;
        if (!(bits[d]! & FIRST_HAS)) this.late += by;
      }
      page[d] = 0;
    };
    /** Goes one message further on a device; counts, or takes back what was counted. */
    const step = (d: number, row: number, by: 1 | -1): void => {
      const at = time[row]!;
      const node = user ? user[row]! : -1;
      const has = node >= 0 && usable[node] === 1;
      const where = pageOf[row]!;
      const isQuiet = at - last[d]! > asked.gapMs;
      if (isQuiet) bits[d]! &= ~SIGNED_IN;
      if (page[d] !== 0 && (isQuiet || (where >= 0 && where + 1 !== page[d]))) closePage(d, by);
      last[d] = at;
      if (where >= 0 && page[d] === 0) {
        page[d] = where + 1;
        bits[d] = (bits[d]! & SIGNED_IN) | (has ? FIRST_HAS | ANY_HAS : 0);
      } else if (page[d] !== 0 && has) bits[d]! |= ANY_HAS;
      // Whoever sends a template says that somebody is signed in.
      if (node >= 0) bits[d]! |= SIGNED_IN;
      if (bits[d]! & SIGNED_IN) {
        this.messages += by;
        const own = this.releaseOf(table, row);
        own.messages += by;
        if (!has) {
          this.dropped += by;
          own.dropped += by;
          if (by > 0) own.rows.add(row);
          else own.rows.delete(row);
        }
      }
      if (signsOut[name[row]! + 1] === 1) bits[d]! &= ~SIGNED_IN;
    };
    const begin = (d: number): void => {
      last[d] = -Infinity;
      page[d] = bits[d] = 0;
    };

    /** Device → its first late row. */
    const lateFrom = new Map<number, number>();
    for (let row = from; row < to; row++) {
      const d = deviceOf(row);
      if (d < 0) continue;
      if (time[row]! < last[d]! && !lateFrom.has(d)) lateFrom.set(d, row);
      if (!lateFrom.has(d)) step(d, row, 1);
    }
    if (lateFrom.size === 0) return;
    const again: number[] = [];
    const isLate = new Uint8Array(table.nodes.length);
    for (const d of lateFrom.keys()) isLate[d] = 1;
    for (let row = 0; row < to; row++) {
      const d = deviceOf(row);
      if (d >= 0 && isLate[d] === 1) again.push(row);
    }
    const { order, start } = groupRows(Int32Array.from(again), deviceOf, table.nodes.length, time);
    for (const [d, late] of lateFrom) {
      const own = order.subarray(start[d], start[d + 1]);
      begin(d);
      for (const row of own) if (row < late) step(d, row, -1);
      begin(d);
      for (const row of own) step(d, row, 1);
    }
  }

  /** With the pages that are open still. */
  latePages(): SignedIn['latePages'] {
    let { late, pages } = this;
    const [page, bits] = [this.page.raw, this.bits.raw];
    for (let d = 0; d < page.length; d++) {
      if (page[d] === 0 || !(bits[d]! & ANY_HAS)) continue;
      pages++;
      if (!(bits[d]! & FIRST_HAS)) late++;
    }
    return { late, pages };
  }
}

/** Rules, and devices that turn out to be shared, change now and then. */
const WAYS = 4;

const stretches = following(
  () => new Stretches(),
  (state, table, _from, to, key) => state.read(table, to, JSON.parse(key) as Asked),
  WAYS,
);

/** Goes over the messages of each client device that is not shared, as they come. `servers` are ids of sources.
 *  Shape: a stretch is signed in from a message with a user ID, or with a placeholder in its place, until its sign-out, or until the device
 *  is quiet for `gapMs`. A placeholder does not count as carried.
 */
export const signedInStretches = (
  table: MessageTable,
  servers: readonly string[],
  shared: Iterable<number>,
  gapMs: number,
  rules: PersonRules,
): SignedIn => {
  const asked: Asked = { servers, shared: [...shared].sort((a, b) => a - b), signOutEvents: rules.signOutEvents, gapMs, rules };
  const state = stretches(table, canonicalJson(asked));
  return {
    signedIn: { messages: state.messages, dropped: state.dropped },
    dropped: [...state.releases.values()]
      .flatMap((m) => [...m.values()])
      .filter((r) => r.dropped > 0)
      .sort((a, b) => b.dropped / b.messages - a.dropped / a.messages)
      .map((r) => ({ ...r, samples: newestOf(table, r.rows) })),
    latePages: state.latePages(),
  };
};
