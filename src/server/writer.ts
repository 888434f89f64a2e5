/** Group commit: messages that wait are written together, and answered once they are on disk. */
import { writeMessages, type MessageRow } from '../db/message-writer';
import type { Message } from '../core/arrival/message';
import { database } from './context';
import { compiledVersion } from './published';

export interface Pending {
  readonly row: MessageRow;
  readonly message: Message;
}

interface Waiting {
  readonly pending: readonly Pending[];
  readonly done: (duplicates: ReadonlySet<Pending>) => void;
  readonly failed: (e: unknown) => void;
}

const MOST_IN_A_GROUP = 2000;
const MOST_BYTES_IN_A_GROUP = 16_000_000;
/** One holds the lock, the next stands ready behind it: the database need not wait for this process. */
const MOST_AT_ONCE = 2;
const MOST_WAITING = 50_000;
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
  while (waiting[0] && (n === 0 || (n + waiting[0].pending.length <= MOST_IN_A_GROUP && bytes <= MOST_BYTES_IN_A_GROUP))) {
    const w = waiting.shift()!;
    n += w.pending.length;
    for (const p of w.pending) bytes += p.row.body.length;
    group.push(w);
  }
  waitingMessages -= n;
  return group;
};

/** Judges messages by a version; before anything is published there is nothing to judge by. */
const judge = async (pending: readonly Pending[], version: number | null): Promise<void> => {
  const checker = version === null ? undefined : (await compiledVersion(version)).checker;
  for (const p of pending) p.row.findings = checker?.check(p.message) ?? [];
};

const write = async (group: Waiting[], locked: () => void): Promise<void> => {
  // The same ID may wait twice, in one request or in two: the first is written, the others are duplicates of it.
  const first = new Map<string, Pending>();
  for (const w of group) for (const p of w.pending) if (!first.has(p.row.messageId)) first.set(p.row.messageId, p);
  const all = [...first.values()];
  const rows = all.map((p) => p.row);
  const attempt = async (triesLeft: number): Promise<ReadonlySet<string>> => {
    try {
      return (await writeMessages(database(), rows, { judge: (version) => judge(all, version), locked })).duplicates;
    } catch (e) {
      if (triesLeft > 1 && (e as { code?: string }).code === '40P01') return attempt(triesLeft - 1);
      throw e;
    }
  };
  try {
    const known = await attempt(TRIES);
    for (const w of group) {
      const duplicates = new Set<Pending>();
      for (const p of w.pending) {
        const original = first.get(p.row.messageId)!;
        if (original !== p || known.has(p.row.messageId)) duplicates.add(p);
      }
      w.done(duplicates);
    }
  } catch (e) {
    for (const w of group) w.failed(e);
  }
};

const go = (): void => {
  if (entering || writing >= MOST_AT_ONCE || waiting.length === 0) return;
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
export const submit = (pending: readonly Pending[]): Promise<ReadonlySet<Pending>> => {
  if (waitingMessages + pending.length > MOST_WAITING) return Promise.reject(new TooBusy('too many messages are waiting'));
  return new Promise((done, failed) => {
    waiting.push({ pending, done, failed });
    waitingMessages += pending.length;
    go();
  });
};
