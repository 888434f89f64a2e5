/** Group commit: messages that wait are written together, and answered once they are on disk. */
import { keyOf, writeMessages, type MessageRow } from '../db/message-writer';
import { readMessage, type Message } from '../core/arrival/message';
import { contentKey, sameContent } from '../core/arrival/same-content';
import { isOfContent } from '../db/database';
import { database } from './context';
import { log } from './log';
import { compiledVersion } from './published';

export interface Pending {
  readonly row: MessageRow;
  readonly message: Message;
}

/** What became of messages that were not simply stored: they had come before (`stored` before this group, and counted as such with it; or twice
 *  in one group), or the database cannot hold them.
 */
export type Unstored = ReadonlyMap<Pending, 'stored' | 'in one group' | 'not storable'>;

interface Waiting {
  readonly pending: readonly Pending[];
  readonly done: (duplicates: Unstored) => void;
  readonly failed: (e: unknown) => void;
}

const MAX_IN_A_GROUP = 2000;
const MAX_BYTES_IN_A_GROUP = 16_000_000;
/** One holds the lock, the next is ready behind it: the database need not wait for this process. */
const MAX_AT_ONCE = 2;
const MAX_WAITING = 50_000;
const TRIES = 3;
const waiting: Waiting[] = [];
let waitingMessages = 0;
let writing = 0;
/** A group is on its way to the lock; the next must not overtake it. */
let entering = false;

const nextGroup = (): Waiting[] => {
  const group: Waiting[] = [];
  let n = 0;
  let bytes = 0;
  while (waiting[0] && (n === 0 || (n + waiting[0].pending.length <= MAX_IN_A_GROUP && bytes <= MAX_BYTES_IN_A_GROUP))) {
    const w = waiting.shift()!;
    n += w.pending.length;
    for (const p of w.pending) bytes += p.row.body.length;
    group.push(w);
  }
  waitingMessages -= n;
  return group;
};

/** The version that the last group was judged by: mostly that of the next one too. */
let lastVersion: number | null | undefined;

/** Judges messages by a version; before anything is published there is nothing to judge by. */
const judge = async (pending: readonly Pending[], version: number | null): Promise<void> => {
  const checker = version === null ? undefined : (await compiledVersion(version)).checker;
  for (const p of pending) p.row.findings = checker?.check(p.message) ?? [];
};

/** The same message may wait twice, in one request or in two: the first is written, the others are duplicates of it. Under the same ID another
 *  content may wait too, which is another message.
 */
const distinctIn = (pending: readonly Pending[]) => {
  const first = new Map<string, Pending>();
  const others = new Map<string, Map<string, Pending>>();
  const originals = new Map<Pending, Pending>();
  const distinct: Pending[] = [];
  for (const p of pending) {
    const messageId = keyOf(p.row.sourceId, p.row.messageId);
    const known = first.get(messageId);
    if (!known) {
      first.set(messageId, p);
      distinct.push(p);
      continue;
    }
    if (sameContent(known.message, p.message)) {
      originals.set(p, known);
      continue;
    }
    const content = contentKey(p.message);
    let ofId = others.get(messageId);
    if (!ofId) others.set(messageId, (ofId = new Map<string, Pending>()));
    const same = ofId.get(content);
    if (same) originals.set(p, same);
    else {
      p.row.content = content;
      ofId.set(content, p);
      distinct.push(p);
    }
  }
  return { distinct, originalOf: (p: Pending): Pending => originals.get(p) ?? p };
};

const write = async (group: Waiting[], locked: () => void): Promise<void> => {
  const { distinct, originalOf } = distinctIn(group.flatMap((w) => w.pending));
  const rows = distinct.map((p) => p.row);
  const messageOf = new Map(distinct.map((p) => [p.row, p.message]));
  // Judging takes a while, and others wait for the lock: under it is judged only what was judged by another version than that in force.
  let judgedBy = lastVersion;
  if (judgedBy !== undefined)
    await judge(distinct, judgedBy).catch(() => {
      judgedBy = undefined;
    });
  const steps = {
    judge: async (version: number | null) => {
      if (version !== judgedBy) await judge(distinct, version);
      judgedBy = version;
      lastVersion = version;
    },
    locked,
    sameAs: (row: MessageRow, body: string) => {
      const stored = readMessage(JSON.parse(body));
      return stored.ok && sameContent(stored.message, messageOf.get(row)!);
    },
    contentOf: (row: MessageRow) => contentKey(messageOf.get(row)!),
  };
  const unstored = new Set<MessageRow>();
  const attempt = async (some: readonly MessageRow[], triesLeft = TRIES): Promise<MessageRow[]> => {
    try {
      return [...(await writeMessages(database(), some, steps)).duplicates];
    } catch (e) {
      if (triesLeft > 1 && (e as { code?: string }).code === '40P01') return attempt(some, triesLeft - 1);
      if (!isOfContent(e)) throw e;
      // One of them cannot be held. The others are innocent: the half that has it is found out.
      if (some.length === 1) {
        log.warn({ source: some[0]!.sourceId, err: e }, 'a message cannot be stored');
        unstored.add(some[0]!);
        return [];
      }
      const half = some.length >> 1;
      return [...(await attempt(some.slice(0, half))), ...(await attempt(some.slice(half)))];
    }
  };
  try {
    const known = new Set(await attempt(rows));
    for (const w of group) {
      const found = new Map<Pending, 'stored' | 'in one group' | 'not storable'>();
      for (const p of w.pending) {
        const original = originalOf(p);
        if (unstored.has(original.row)) found.set(p, 'not storable');
        else if (original !== p) found.set(p, 'in one group');
        else if (known.has(p.row)) found.set(p, 'stored');
      }
      w.done(found);
    }
  } catch (e) {
    for (const w of group) w.failed(e);
  }
};

const go = (): void => {
  if (entering || writing >= MAX_AT_ONCE || waiting.length === 0) return;
  entering = true;
  writing++;
  let isIn = false;
  const locked = (): void => {
    if (isIn) return;
    isIn = true;
    entering = false;
    go();
  };
  void write(nextGroup(), locked).finally(() => {
    writing--;
    locked();
    go();
  });
};

export class TooBusy extends Error {}

/** Writes messages; resolves with those that had come before, once all others are on disk.
 *  Errors: `TooBusy` when too much is waiting already; what the database says when it cannot write.
 */
export const submit = (pending: readonly Pending[]): Promise<Unstored> => {
  if (waitingMessages + pending.length > MAX_WAITING) return Promise.reject(new TooBusy('too many messages are waiting'));
  return new Promise((done, failed) => {
    waiting.push({ pending, done, failed });
    waitingMessages += pending.length;
    go();
  });
};
