/** The intake: messages over HTTP. Each message gets exactly one answer, and none is called accepted before it is on disk. */
import { findingSentence, wordsFor } from '../core/arrival/words';
import { messageOfCloudEvent, structuredOf } from '../core/formats/cloudevents';
import { readMessage, type Refused } from '../core/arrival/message';
import { isUnavailable } from '../db/database';
import { countTurnedAway } from '../db/message-writer';
import { sourceOfKey } from '../db/workspace-store';
import { json, problem, unavailable } from './answer';
import { database } from './context';
import { submit, TooBusy, type Pending } from './writer';

export const LIMITS = { bodyBytes: 10_000_000, messageBytes: 64_000, messages: 5000 } as const;

const CORS = {
  'access-control-allow-origin': '*',
  'access-control-allow-headers': '*, authorization, content-type, content-encoding',
  'access-control-allow-methods': 'POST, OPTIONS',
  'access-control-max-age': '86400',
};

type Answer =
  | { index: number; id: string; answer: 'accepted' | 'duplicate' }
  | { index: number; id: string; answer: 'accepted with findings'; findings: { code: string; sentence: string; mend: string }[] }
  | { index: number; answer: 'refused'; reason: Refused['reason'] | 'not JSON' | 'not a CloudEvent'; detail: string };

const KEY_MEMORY_MS = 5000;
const keys = new Map<string, { sourceId: string | undefined; until: number }>();

const sourceFor = async (key: string): Promise<string | undefined> => {
  const known = keys.get(key);
  if (known && known.until > Date.now()) return known.sourceId;
  const sourceId = await sourceOfKey(database(), key);
  if (keys.size > 1000) keys.clear();
  keys.set(key, { sourceId, until: Date.now() + KEY_MEMORY_MS });
  return sourceId;
};

const keyOf = (request: Request): string | undefined => {
  const header = request.headers.get('authorization');
  if (header) return /^Bearer\s+(\S+)$/i.exec(header)?.[1];
  return new URL(request.url).searchParams.get('key') ?? undefined;
};

class BadBody extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
  ) {
    super(detail);
  }
}

const tooLarge = (): BadBody =>
  new BadBody(
    413,
    'too large',
    `A request holds at most ${LIMITS.bodyBytes.toLocaleString('en-GB')} bytes and ${LIMITS.messages.toLocaleString('en-GB')} messages; split it.`,
  );

/** The body as text, unpacked, never more than the limit in memory. */
const readBody = async (request: Request): Promise<string> => {
  const encoding = request.headers.get('content-encoding')?.trim().toLowerCase() ?? 'identity';
  if (encoding !== 'identity' && encoding !== 'gzip')
    throw new BadBody(415, 'unknown encoding', `Content-Encoding “${encoding}” is not read; send gzip or none.`);
  if (!request.body) throw new BadBody(400, 'empty body', 'The request has no body; send a JSON array of messages, or NDJSON.');
  const stream =
    encoding === 'gzip'
      ? request.body.pipeThrough(new DecompressionStream('gzip') as ReadableWritablePair<Uint8Array, Uint8Array>)
      : request.body;
  const decoder = new TextDecoder('utf-8', { fatal: true });
  const reader = stream.getReader();
  let bytes = 0;
  let text = '';
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return text + decoder.decode();
      bytes += value.byteLength;
      if (bytes > LIMITS.bodyBytes) {
        void reader.cancel().catch(() => undefined);
        throw tooLarge();
      }
      text += decoder.decode(value, { stream: true });
    }
  } catch (e) {
    if (e instanceof BadBody) throw e;
    if (e instanceof TypeError && /encod/i.test(e.message)) throw new BadBody(400, 'not UTF-8', 'The body is not UTF-8.');
    throw new BadBody(
      400,
      'unreadable body',
      encoding === 'gzip' ? 'The body is not whole gzip data.' : 'The body broke off before its end.',
    );
  }
};

export interface RawMessage {
  readonly text: string;
  /** `undefined` when the text is not JSON. */
  readonly value: unknown;
  /** When it came, UTC epoch ms, where that is not now: a history that is loaded. */
  readonly receivedAt?: number;
  /** Why it cannot be read, where that is known already. */
  readonly refused?: string;
}

export const parseLine = (text: string): RawMessage => {
  try {
    return { text, value: JSON.parse(text) as unknown };
  } catch {
    return { text, value: undefined };
  }
};

/** A CloudEvent as a message; one that is none keeps what is wrong with it. */
const ofCloudEvent = (v: unknown): RawMessage => {
  const read = messageOfCloudEvent(v);
  return read.ok ? { text: JSON.stringify(read.message), value: read.message } : { text: '', value: v, refused: read.detail };
};

/** Messages of a body: a JSON array, one JSON object, NDJSON by its content type, or CloudEvents 1.0: structured and as a batch by the
 *  content type, binary by the header `ce-specversion`.
 */
const splitBody = (body: string, headers: Headers): RawMessage[] => {
  const contentType = headers.get('content-type') ?? '';
  if (/ndjson|jsonl/.test(contentType))
    return body
      .split('\n')
      .map((l) => l.trim())
      .filter((l) => l !== '')
      .map(parseLine);
  let value: unknown;
  try {
    value = JSON.parse(body);
  } catch (e) {
    throw new BadBody(
      400,
      'not JSON',
      `The body is not JSON: ${(e as Error).message}. For one message a line, send content type application/x-ndjson.`,
    );
  }
  if (headers.has('ce-specversion')) return [ofCloudEvent(structuredOf(headers, value))];
  if (/^application\/cloudevents\+json/i.test(contentType)) return [ofCloudEvent(value)];
  if (/^application\/cloudevents-batch\+json/i.test(contentType) && Array.isArray(value)) return value.map(ofCloudEvent);
  if (Array.isArray(value)) return value.map((v: unknown) => ({ text: JSON.stringify(v) ?? 'null', value: v }));
  if (typeof value === 'object' && value !== null) return [{ text: body, value }];
  throw new BadBody(400, 'not an array', 'The body is a JSON array of messages, or one message as an object.');
};

const refuse = (index: number, reason: Refused['reason'] | 'not JSON' | 'not a CloudEvent', detail: string): Answer => ({
  index,
  answer: 'refused',
  reason,
  detail,
});

const readOne = (raw: RawMessage, index: number, sourceId: string, receivedAt: number): Pending | Answer => {
  if (raw.refused !== undefined) return refuse(index, 'not a CloudEvent', raw.refused);
  if (raw.value === undefined) return refuse(index, 'not JSON', `Message ${index + 1} is not JSON.`);
  if (raw.text.length > LIMITS.messageBytes)
    return refuse(
      index,
      'too large',
      `A message holds at most ${LIMITS.messageBytes.toLocaleString('en-GB')} characters; this one has ${raw.text.length.toLocaleString('en-GB')}.`,
    );
  const read = readMessage(raw.value);
  if (!read.ok) return refuse(index, read.refused.reason, read.refused.detail);
  const { message } = read;
  return {
    message,
    row: {
      messageId: message.id,
      sourceId,
      kind: message.kind,
      name: message.name,
      release: message.release,
      occurredAt: message.occurredAt,
      receivedAt: raw.receivedAt ?? receivedAt,
      body: raw.text,
      findings: [],
    },
  };
};

const accepted = (p: Pending, index: number): Answer => {
  const { id } = p.message;
  if (p.row.findings.length === 0) return { index, id, answer: 'accepted' };
  const findings = p.row.findings.map((f) => ({
    code: f.code,
    sentence: findingSentence(f.code, p.message.name, f.params),
    mend: wordsFor(f.code, f.params)?.mend ?? '',
  }));
  return { index, id, answer: 'accepted with findings', findings };
};

/** Takes in a batch whose source is known. Shape: one answer per message, in order. */
export const acceptBatch = async (raw: readonly RawMessage[], sourceId: string, receivedAt: number): Promise<Answer[]> => {
  const read = raw.map((r, i) => readOne(r, i, sourceId, receivedAt));
  const pending = read.filter((r): r is Pending => 'row' in r);
  const duplicates = pending.length === 0 ? new Set<Pending>() : await submit(pending);
  const answers = read.map((r, index): Answer => {
    if (!('row' in r)) return r;
    return duplicates.has(r) ? { index, id: r.message.id, answer: 'duplicate' } : accepted(r, index);
  });
  const refused = read.length - pending.length;
  const ids = new Set(pending.map((p) => p.row.messageId));
  if (refused > 0 || ids.size < pending.length)
    await countTurnedAway(database(), sourceId, pending.length - ids.size, refused).catch(() => undefined);
  return answers;
};

const take = async (request: Request): Promise<Response> => {
  const key = keyOf(request);
  const sourceId = key === undefined ? undefined : await sourceFor(key);
  if (sourceId === undefined)
    return problem(
      401,
      'wrong key',
      'No source has this write key. Send “Authorization: Bearer …” with a key from the Hand-off station.',
      CORS,
    );
  const raw = splitBody(await readBody(request), request.headers);
  if (raw.length > LIMITS.messages) throw tooLarge();
  const answers = await acceptBatch(raw, sourceId, Date.now());
  const count = (a: Answer['answer']): number => answers.filter((x) => x.answer === a).length;
  const summary = {
    accepted: count('accepted'),
    acceptedWithFindings: count('accepted with findings'),
    duplicates: count('duplicate'),
    refused: count('refused'),
  };
  return json({ ...summary, answers }, answers.length > 0 && summary.refused === answers.length ? 422 : 200, CORS);
};

/** `POST /intake`. Errors: 400, 401, 413, 415, 422 (all refused), 503 with Retry-After; the body says which and why. */
export const intake = async (request: Request): Promise<Response> => {
  try {
    return await take(request);
  } catch (e) {
    if (e instanceof BadBody) return problem(e.status, e.title, e.message, CORS);
    if (e instanceof TooBusy)
      return problem(503, 'busy', 'More messages wait than can be written just now; send it again in a few seconds.', {
        ...CORS,
        'retry-after': '2',
      });
    if (!isUnavailable(e)) console.error(e);
    const answer = unavailable();
    for (const [k, v] of Object.entries(CORS)) answer.headers.set(k, v);
    return answer;
  }
};

export const intakeOptions = (): Response => new Response(null, { status: 204, headers: CORS });
