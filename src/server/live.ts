/** The live stream: messages as they arrive, as server-sent events. One reader for all streams of a process: a message is read and written down once,
 *  however many look on.
 */
import { runtime } from './runtime';
import { toLiveMessage, type LiveMessage } from '../core/arrival/live-message';
import { messagesAfter, newestMessages, messagesBySeq } from '../db/message-store';
import { database } from './context';
import type { Notice } from '../db/notices';
import { listen } from './listener';

export const newest = async (limit: number): Promise<LiveMessage[]> => (await newestMessages(database(), limit)).map(toLiveMessage);
export const bySeq = async (seqs: readonly number[]): Promise<LiveMessage[]> => (await messagesBySeq(database(), seqs)).map(toLiveMessage);

/** Where events go to. */
export interface Outlet {
  readonly write: (text: string) => void;
  /** Bytes that were written and not taken yet. */
  readonly waiting: () => number;
  /** Resolves when what waits is taken, or the other side is gone. */
  readonly drained: () => Promise<void>;
  readonly end: () => void;
}

const MAX_STREAMS = 500;
/** Who has so much before it gets no more until it has taken that, and then goes on from the last it had. */
const MAX_WAITING = 1_000_000;
/** Who has not taken what waits after this long is cut off; it comes again on its own. */
const STUCK_MS = 15_000;
const PAGE = 100;
const HEARTBEAT_MS = 15_000;
/** So many catch up at a time; the database has others to answer. */
const MAX_CATCHING_UP = 3;
/** Streams take this part of the thread's time at most, in what goes on for long: after each piece they pause accordingly. What comes meanwhile is given
 *  out together, which costs less.
 */
const SHARE = 1 / 5;
const LONGEST_PAUSE_MS = 200;

const rest = (since: number, share = SHARE): Promise<void> =>
  new Promise((next) => setTimeout(next, Math.min(LONGEST_PAUSE_MS, (performance.now() - since) * (1 / share - 1))));

interface Follower {
  readonly out: Outlet;
  /** The last message that was written to it. */
  cursor: number;
  /** It has all that the reader gave out, and gets the rest from it. */
  joined: boolean;
  closed: boolean;
}

const followers = new Set<Follower>();
/** The last message that the reader gave out; `undefined` while nobody looks on. */
let given: number | undefined;
let unlisten: (() => void) | undefined;
let beat: ReturnType<typeof setInterval> | undefined;
let reading = false;
let again = false;

interface Written {
  readonly seq: number;
  readonly text: string;
}

const pageAfter = async (seq: number): Promise<Written[]> =>
  (await messagesAfter(database(), seq, PAGE)).map((m) => ({
    seq: m.seq,
    text: `event: message\nid: ${m.seq}\ndata: ${JSON.stringify(toLiveMessage(m))}\n\n`,
  }));

const close = (f: Follower): void => {
  if (f.closed) return;
  f.closed = true;
  followers.delete(f);
  f.out.end();
  if (followers.size > 0) return;
  unlisten?.();
  unlisten = undefined;
  clearInterval(beat);
  beat = undefined;
  given = undefined;
};

const give = (f: Follower, page: readonly Written[]): void => {
  const fresh = page.filter((m) => m.seq > f.cursor);
  if (fresh.length === 0) return;
  if (f.out.waiting() > MAX_WAITING) {
    f.joined = false;
    void catchUp(f);
    return;
  }
  f.out.write(fresh.map((m) => m.text).join(''));
  f.cursor = fresh.at(-1)!.seq;
};

/** Waits until what was written is taken; closes who does not take it. */
const drained = async (f: Follower): Promise<void> => {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const stuck = new Promise<'stuck'>((done) => (timer = setTimeout(() => done('stuck'), STUCK_MS)));
  if ((await Promise.race([f.out.drained(), stuck])) === 'stuck') close(f);
  clearTimeout(timer);
};

/** Reads what is new, once for all who have the rest. */
const read = async (): Promise<void> => {
  again = true;
  if (reading) return;
  reading = true;
  try {
    while (again && given !== undefined) {
      again = false;
      for (;;) {
        const page = await pageAfter(given);
        const since = performance.now();
        // Everybody may have left meanwhile.
        if (given === undefined) break;
        given = page.at(-1)?.seq ?? given;
        for (const f of followers) if (f.joined) give(f, page);
        await rest(since);
        if (page.length < PAGE) break;
      }
    }
  } catch {
    // The database is away: the listener will say when it is back.
  } finally {
    reading = false;
  }
};

const tellAll = (text: string): void => {
  for (const f of followers) f.out.write(text);
};

const hear = (notice: Notice): void => {
  if (notice === 'keys') return;
  if (notice !== 'messages') return tellAll(`event: ${notice}\ndata: {}\n\n`);
  void read();
  for (const f of followers) if (!f.joined) void catchUp(f);
};

let catching = 0;
const catchingUp = new Set<Follower>();
const queue: (() => void)[] = [];

/** A page, while no more than a few are read at a time. Whoever got it goes on at once; the next in turn waits until what it cost has been paused for. */
const pageInTurn = async (seq: number): Promise<Written[]> => {
  while (catching >= MAX_CATCHING_UP) await new Promise<void>((next) => queue.push(next));
  catching++;
  const since = performance.now();
  try {
    return await pageAfter(seq);
  } finally {
    void rest(since, SHARE / MAX_CATCHING_UP).then(() => {
      catching--;
      queue.shift()?.();
    });
  }
};

/** Brings one follower to where the reader is, at the speed at which it takes what it gets. */
const catchUp = async (f: Follower): Promise<void> => {
  if (f.joined || f.closed || catchingUp.has(f)) return;
  catchingUp.add(f);
  try {
    for (;;) {
      await drained(f);
      if (f.closed) return;
      // A stream may begin beyond all that is there; that must not become where the others are.
      const newestNow = given ?? (await newestMessages(database(), 1))[0]?.seq ?? 0;
      const page = await pageInTurn(f.cursor);
      if (f.closed) return;
      for (const m of page) {
        if (f.out.waiting() > MAX_WAITING) break;
        f.out.write(m.text);
        f.cursor = m.seq;
      }
      const isWhole = page.length === 0 || f.cursor === page.at(-1)!.seq;
      // From here on nothing is awaited until it has joined, so that nothing is given out in between.
      if (isWhole && page.length < PAGE && f.cursor >= (given ?? f.cursor)) {
        given ??= Math.min(f.cursor, Math.max(newestNow, page.at(-1)?.seq ?? 0));
        f.joined = true;
        void read();
        return;
      }
      // What the reader had no longer exists: nothing lies between.
      if (page.length === 0 && given !== undefined) f.cursor = Math.max(f.cursor, given);
    }
  } catch {
    // The next notice, or the listener's when the database is back, begins it again.
  } finally {
    catchingUp.delete(f);
  }
};

export const isFull = (): boolean => followers.size >= MAX_STREAMS;

/** Gives out what comes after a sequence number, until the returned function is called. Nothing is missed: who comes late, is slow, or comes again gets
 *  all messages after the last one it had. Events: `message` (id: its number), `plan` (something in the plan changed), `people` (somebody came, moved,
 *  left, or said something), `recheck` (a page of what was recorded was checked against a new version), `findings`
 *  (the checks over many found something else).
 */
export const follow = (out: Outlet, after: number): (() => void) => {
  const f: Follower = { out, cursor: after, joined: false, closed: false };
  followers.add(f);
  unlisten ??= listen(hear);
  beat ??= setInterval(() => tellAll(': beat\n\n'), HEARTBEAT_MS);
  const stop = (): void => {
    forget();
    close(f);
  };
  const forget = runtime.opened(stop);
  out.write('retry: 1000\n\n');
  void catchUp(f);
  return stop;
};
