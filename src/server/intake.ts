/** The intake: messages over HTTP. Each message gets exactly one answer, and none is called accepted before it is on disk. */
import { intakeKnown, type MessageAnswer } from '../core/api/intake';
import type { RejectedBytes } from '../core/arrival/dead-letter';
import { wellFormed } from '../core/arrival/judged-message';
import { saidBy } from '../core/arrival/message-finding';
import { findingSentence, wordsFor } from '../core/arrival/words';
import { readMessage } from '../core/arrival/message';
import { isUnavailable } from '../db/database';
import { keepDeadLetters } from '../db/dead-letter-store';
import { findKey, spend, type KnownKey } from '../db/key-store';
import { takenIds } from '../db/message-store';
import { countTurnedAway } from '../db/message-writer';
import { problemSaid, readJson, responseOf, said, unavailableSaid, type Said } from './answer';
import { database } from './context';
import { listen } from './listener';
import { logError } from './log';
import {
  BadBody,
  Hold,
  TooMuchHeld,
  isNdjson,
  LIMITS,
  type Lines,
  readBody,
  readLines,
  splitBody,
  tooLarge,
  wholeOf,
  type RawMessage,
  type WholeBody,
} from './intake-body';
import { ahead } from './ahead';
import { noteSender } from './trial-senders';
import { Tries } from './tries';
import { MINUTE_MS } from '../core/time';
import { submit, TooBusy, type Unstored, type Pending } from './writer';

export const CORS = {
  'access-control-allow-origin': '*',
  'access-control-allow-headers': '*, authorization, content-type, content-encoding',
  'access-control-allow-methods': 'POST, OPTIONS',
  // Without these a page cannot read how long it is to wait, nor by which clock.
  'access-control-expose-headers': 'retry-after, date',
  'access-control-max-age': '86400',
};

type RejectedAnswer = Extract<MessageAnswer, { readonly answer: 'rejected' }>;

const KEY_MEMORY_MS = 5000;
const keys = new Map<string, { key: KnownKey | undefined; until: number }>();
/** Keys that were right when they were looked at last; wrong ones, however many, do not push them out. */
const rightKeys = new Set<string>();
const MOST_KEYS = 1000;

let hearsOfKeys: (() => void) | undefined;

const lookUp = async (text: string): Promise<KnownKey | undefined> => {
  hearsOfKeys ??= listen((notice) => {
    if (notice !== 'keys') return;
    keys.clear();
    rightKeys.clear();
  });
  const known = keys.get(text);
  if (known && known.until > Date.now()) return known.key;
  const key = await findKey(database(), text);
  if (keys.size > MOST_KEYS) keys.clear();
  if (rightKeys.size > MOST_KEYS) rightKeys.clear();
  if (key) rightKeys.add(text);
  else rightKeys.delete(text);
  keys.set(text, { key, until: Date.now() + KEY_MEMORY_MS });
  return key;
};

/** What was sent, whatever carried it. */
export interface Sent {
  readonly headers: Headers;
  readonly parameters: URLSearchParams;
  readonly whole: (hold: Hold) => Promise<WholeBody>;
  readonly lines: (hold: Hold) => AsyncGenerator<Lines>;
  /** Address of who sent it. */
  readonly from: string;
}

/** The key out of a header “Authorization: Bearer …”. Source: RFC 6750, section 2.1. */
const bearerOf = (header: string): string | undefined => /^Bearer\s+(\S{1,200})$/i.exec(header)?.[1];

const keyOf = ({ headers, parameters }: Sent): string | undefined => {
  const header = headers.get('authorization');
  return header ? bearerOf(header) : (parameters.get('key') ?? undefined);
};

/** What the key in a header means; `undefined` where there is none, or a wrong one. */
export const knownKey = async (header: string | null): Promise<KnownKey | undefined> => {
  const text = header === null ? undefined : bearerOf(header);
  return text === undefined ? undefined : lookUp(text);
};

const AT_A_STRETCH = 128;

class OverLimit extends Error {}

/** Takes messages off the limit of a key, where it has one. */
const spendOn = async (key: KnownKey, messages: number): Promise<void> => {
  if (key.perMinute === undefined || messages === 0) return;
  if (!(await spend(database(), key.id, Math.floor(Date.now() / MINUTE_MS), messages, key.perMinute)))
    throw new OverLimit(`This key may send ${key.perMinute.toLocaleString('en-GB')} messages a minute; send the rest in the next minute.`);
};

const reject = (index: number, reason: RejectedAnswer['reason'], detail: string): RejectedAnswer => ({
  index,
  answer: 'rejected',
  reason,
  detail,
});

const readOne = (raw: RawMessage, index: number, sourceId: string, receivedAt: number): Pending | RejectedAnswer => {
  if (raw.rejected !== undefined) return reject(index, 'not readable', raw.rejected);
  if (raw.value === undefined) return reject(index, 'not JSON', `Message ${index + 1} is not JSON.`);
  if (raw.bytes.length > LIMITS.messageBytes)
    return reject(
      index,
      'too large',
      `A message holds at most ${LIMITS.messageBytes.toLocaleString('en-GB')} bytes; this one has ${raw.bytes.length.toLocaleString('en-GB')}.`,
    );
  const read = readMessage(raw.value);
  if (!read.ok) return reject(index, read.rejected.reason, read.rejected.detail);
  const { message } = read;
  return {
    message,
    row: {
      // As UTF-8 has it: half a surrogate pair cannot be stored.
      messageId: wellFormed(message.id),
      content: '',
      sourceId,
      kind: message.kind,
      name: message.name,
      release: message.release,
      occurredAt: message.occurredAt,
      receivedAt: raw.receivedAt ?? receivedAt,
      body: raw.bytes,
      findings: [],
    },
  };
};

const accepted = (p: Pending, index: number): MessageAnswer => {
  const { id } = p.message;
  if (p.row.findings.length === 0) return { index, id, answer: 'accepted' };
  const findings = p.row.findings.map((f) => ({
    code: f.code,
    sentence: findingSentence(saidBy(f), p.message.name),
    fix: wordsFor(saidBy(f))?.fix ?? '',
  }));
  return { index, id, answer: 'accepted with findings', findings };
};

/** Keeps what was rejected, so that it can be looked at and sent again. The sender was told, so a failure here loses nothing. */
const keep = async (sourceId: string, rejected: readonly RejectedBytes[]): Promise<void> => {
  await keepDeadLetters(database(), sourceId, rejected).catch((e: unknown) => logError(e, 'what was rejected could not be kept'));
};

/** Takes in a batch whose source is known. Shape: one answer per message, in order; what is rejected is kept unless `keeps` says no. */
export const takeIn = async (raw: readonly RawMessage[], sourceId: string, receivedAt: number, keeps = true): Promise<MessageAnswer[]> => {
  const read: (Pending | RejectedAnswer)[] = [];
  for (const r of raw) {
    read.push(readOne(r, read.length, sourceId, receivedAt));
    // Others wait for this process too, first of all the database.
    if (read.length % AT_A_STRETCH === 0) await new Promise((next) => setImmediate(next));
  }
  const pending = read.filter((r): r is Pending => 'row' in r);
  const unstored: Unstored = pending.length === 0 ? new Map() : await submit(pending);
  const answers = read.map((r, index): MessageAnswer => {
    if (!('row' in r)) return r;
    const how = unstored.get(r);
    if (how === 'not storable')
      return reject(index, 'not storable', 'The database cannot hold this message; look for names or texts of unusual length in it.');
    return how !== undefined ? { index, id: r.message.id, answer: 'duplicate' } : accepted(r, index);
  });
  const rejected = answers.filter((a): a is RejectedAnswer => a.answer === 'rejected');
  if (keeps && rejected.length > 0)
    await keep(
      sourceId,
      rejected.map((r) => ({ reason: r.reason, detail: r.detail, bytes: raw[r.index]!.bytes })),
    );
  // What came again within the batch was never given to the database.
  const twice = [...unstored.values()].filter((how) => how === 'in one group').length;
  if (rejected.length > 0 || twice > 0) await countTurnedAway(database(), sourceId, twice, rejected.length).catch(() => undefined);
  return answers;
};

const summaryOf = (answers: readonly MessageAnswer[]) => {
  const count = (a: MessageAnswer['answer']): number => answers.filter((x) => x.answer === a).length;
  return {
    accepted: count('accepted'),
    acceptedWithFindings: count('accepted with findings'),
    duplicates: count('duplicate'),
    rejected: count('rejected'),
  };
};

/** What went wrong after some messages of a stream were on disk. */
class BrokenOff extends Error {
  constructor(
    readonly why: unknown,
    readonly taken: number,
  ) {
    super('broken off');
  }
}

/** While one batch of lines is on its way to the disk, the next is read and checked. */
export const BATCHES_AT_ONCE = 3;

/** Takes in lines as they come. The answers of the first are given one by one, of the others those that were not plainly accepted, up to
 *  as many again; `answersLeftOut` says how many were not.
 */
const takeLines = async (sent: Sent, key: KnownKey, hold: Hold): Promise<Said> => {
  const total = { accepted: 0, acceptedWithFindings: 0, duplicates: 0, rejected: 0 };
  const answers: MessageAnswer[] = [];
  let taken = 0;
  try {
    const batches = ahead(sent.lines(hold), BATCHES_AT_ONCE, async ({ lines, done }) => {
      await spendOn(key, lines.length);
      const answered = await takeIn(lines, key.sourceId, Date.now());
      await noteSender(sent.from, key.sourceId, answered);
      done();
      return answered;
    });
    for await (const batch of batches) {
      const summary = summaryOf(batch);
      for (const k of Object.keys(total) as (keyof typeof total)[]) total[k] += summary[k];
      for (const a of batch)
        if (answers.length < LIMITS.messages || (a.answer !== 'accepted' && answers.length < 2 * LIMITS.messages))
          answers.push({ ...a, index: taken + a.index });
      taken += batch.length;
    }
  } catch (e) {
    throw taken === 0 ? e : new BrokenOff(e, taken);
  }
  const allRejected = taken > 0 && total.rejected === taken;
  return said(
    { ...total, answers, ...(answers.length < taken ? { answersLeftOut: taken - answers.length } : {}), now: Date.now() },
    allRejected ? 422 : 200,
    CORS,
  );
};

const take = async (sent: Sent, key: KnownKey, hold: Hold): Promise<Said> => {
  if (isNdjson(sent.headers)) return takeLines(sent, key, hold);
  const raw = splitBody(await sent.whole(hold), sent.headers);
  if (raw.length > LIMITS.messages) throw tooLarge();
  await spendOn(key, raw.length);
  const answers = await takeIn(raw, key.sourceId, Date.now());
  await noteSender(sent.from, key.sourceId, answers);
  const summary = summaryOf(answers);
  return said({ ...summary, answers, now: Date.now() }, answers.length > 0 && summary.rejected === answers.length ? 422 : 200, CORS);
};

/** Where a body was not read to its end, the connection holds the rest of it: nothing else must be sent on it. */
const CLOSES = { connection: 'close' };

const problemOf = async (e: unknown, key: KnownKey | undefined, before = ''): Promise<Said> => {
  if (e instanceof BrokenOff)
    return problemOf(e.why, key, `The first ${e.taken.toLocaleString('en-GB')} messages are taken in; sent again they count once. `);
  if (e instanceof BadBody) {
    if (e.bytes && key) await keep(key.sourceId, [{ reason: e.title, detail: e.message, bytes: e.bytes }]);
    return problemSaid(e.status, e.title, before + e.message, { ...CORS, ...CLOSES });
  }
  if (e instanceof OverLimit)
    return problemSaid(429, 'too many messages', before + e.message, {
      ...CORS,
      'retry-after': String(Math.ceil((MINUTE_MS - (Date.now() % MINUTE_MS)) / 1000)),
    });
  if (e instanceof TooBusy || e instanceof TooMuchHeld)
    return problemSaid(503, 'busy', `${before}More messages wait than can be written just now; send it again in a few seconds.`, {
      ...CORS,
      'retry-after': '2',
    });
  if (isUnavailable(e)) return unavailableSaid(CORS);
  logError(e);
  return problemSaid(
    500,
    'unexpected error',
    `${before}The server met an error that it did not expect; its log says more. Sent again, a message counts once.`,
    CORS,
  );
};

/** One that guesses keys, or a client that was never fixed, must not cost the database a look at each. */
const wrongKeys = new Tries(60);
/** Behind one address may be many: so many keys that are not known yet are looked at, after as many wrong ones. */
const unproven = new Tries(300);

const wrongKey = (): Said =>
  problemSaid(
    401,
    'wrong key',
    'No source has this write key. Send “Authorization: Bearer …” with a key from the Hand-off station; a beacon sends {"key": …, "messages": […]}.',
    CORS,
  );

/** A body that brings its own key, as a beacon's has to, which can set no header: an address is in the logs of every proxy. `undefined` where it is
 *  none. The messages are kept as they are written anew.
 */
const withOwnKey = async (sent: Sent, hold: Hold): Promise<{ readonly key: string; readonly sent: Sent } | undefined> => {
  if (isNdjson(sent.headers)) return undefined;
  const { text } = await sent.whole(hold);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return undefined;
  }
  const { key, messages } = (value ?? {}) as { key?: unknown; messages?: unknown };
  if (typeof key !== 'string' || key.length > 200 || !Array.isArray(messages)) return undefined;
  return { key, sent: { ...sent, whole: () => Promise.resolve(wholeOf(JSON.stringify(messages))) } };
};

/** What a key means, or why it is not looked at: whoever has a right key does not suffer from a neighbour at the same address, whichever way it is carried. */
const keyFor = async (given: string | undefined, from: string): Promise<KnownKey | Said> => {
  const wait = given !== undefined && rightKeys.has(given) ? 0 : wrongKeys.waitOf(from);
  const isTried = wait > 0 && given !== undefined && unproven.waitOf(from) === 0;
  if (isTried) unproven.count(from);
  const key = given === undefined || (wait > 0 && !isTried) ? undefined : await lookUp(given);
  if (key) return key;
  if (wait > 0)
    return problemSaid(
      429,
      'too many wrong keys',
      'Too many requests with a wrong key came from this address. Look at the key, and try again later.',
      {
        ...CORS,
        'retry-after': String(wait),
      },
    );
  wrongKeys.count(from);
  return wrongKey();
};

/** `POST /intake/known`: which of some messages its source has sent already. */
export const knownOf = async (request: Request, from: string): Promise<Response> => {
  try {
    const header = request.headers.get('authorization');
    const key = await keyFor(header === null ? undefined : bearerOf(header), from);
    if ('status' in key) return responseOf(key);
    const asked = await readJson(request, intakeKnown.body);
    if (!asked.ok) {
      for (const [name, value] of Object.entries(CORS)) asked.response.headers.set(name, value);
      return asked.response;
    }
    const ids = Array.isArray(asked.value) ? asked.value : asked.value.ids;
    const known = (ids.length === 0 ? [] : await takenIds(database(), key.sourceId, ids.map(wellFormed))).map((id) => ({ id }));
    return responseOf(said(Array.isArray(asked.value) ? known : { known, now: Date.now() }, 200, CORS));
  } catch (e) {
    return responseOf(await problemOf(e, undefined));
  }
};

/** The answer to a request, however it came. */
export const answerTo = async (sent: Sent): Promise<Said> => {
  let key: KnownKey | undefined;
  const hold = new Hold();
  try {
    const text = keyOf(sent);
    const own = text === undefined ? await withOwnKey(sent, hold) : undefined;
    const given = text ?? own?.key;
    const found = await keyFor(given, sent.from);
    if ('status' in found) return found;
    key = found;
    return await take(own?.sent ?? sent, key, hold);
  } catch (e) {
    return await problemOf(e, key);
  } finally {
    hold.release();
  }
};

/** `POST /intake`. Errors: 400, 401, 413, 415, 422 (all rejected), 429 and 503 with Retry-After; the body says which and why. */
export const intake = async (request: Request, from: string): Promise<Response> => {
  const answer = await answerTo({
    headers: request.headers,
    parameters: new URL(request.url).searchParams,
    whole: (hold) => readBody(request, hold),
    lines: (hold) => readLines(request, hold),
    from,
  });
  return responseOf(answer.status < 400 || answer.status === 422 ? answer : { ...answer, headers: { ...answer.headers, ...CLOSES } });
};

export const intakeOptions = (): Response => new Response(null, { status: 204, headers: CORS });
