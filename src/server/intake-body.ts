/** The body of a request to the intake: unpacked, as text, and cut into messages. */
import { isAscii, isUtf8 } from 'node:buffer';
import type { IncomingMessage } from 'node:http';
import { messageOfCloudEvent, structuredOf } from '../core/formats/cloudevents';
import { BLANK, elementsOf } from '../core/table/json-scan';

export const LIMITS = { bodyBytes: 10_000_000, messageBytes: 64_000, messages: 5000, unpackedBytes: 200_000_000 } as const;

/** So many times as large as it was sent a packed body may become, beyond what any has free. Messages pack to a tenth or a fortieth, nothing but blanks to a
 *  thousandth.
 */
const MAX_UNPACKED = 100;
const FREE_BYTES = 2_000_000;

/** All requests of this process together hold no more than so much that was not answered yet. */
const MAX_HELD = 256_000_000;
let heldBytes = 0;

export class TooMuchHeld extends Error {}

/** What one request holds in memory. */
export class Hold {
  private bytes = 0;

  /** Errors: `TooMuchHeld` when all requests together would hold too much. */
  take(bytes: number): void {
    if (heldBytes + bytes > MAX_HELD) throw new TooMuchHeld('too much waits in memory');
    heldBytes += bytes;
    this.bytes += bytes;
  }

  release(bytes = this.bytes): void {
    heldBytes -= bytes;
    this.bytes -= bytes;
  }
}

/** This long nothing may come of a body that is not over. */
const MAX_PAUSE_MS = 30_000;
/** A whole body may take this long, and a second more for so many bytes. */
const BODY_MS = 30_000;
const MIN_BYTES_A_SECOND = 50_000;

/** What cannot be read at all, with the bytes of it where there are some. */
export class BadBody extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly bytes?: Uint8Array,
  ) {
    super(detail);
  }
}

export interface RawMessage {
  /** As it came, in UTF-8 where it is JSON. */
  readonly bytes: Uint8Array;
  /** `undefined` when it is not JSON. */
  readonly value: unknown;
  /** When it came, UTC epoch ms, where that is not now: a history that is loaded. */
  readonly receivedAt?: number;
  /** Why it cannot be read, where that is known already. */
  readonly rejected?: string;
}

export const tooLarge = (): BadBody =>
  new BadBody(
    413,
    'too large',
    `A request holds at most ${LIMITS.bodyBytes.toLocaleString('en-GB')} bytes and ${LIMITS.messages.toLocaleString('en-GB')} messages; split it, or send one message a line as application/x-ndjson.`,
  );

/** A packed body, unpacked until it becomes too large for what was sent of it. */
const withinMeasure = (body: ReadableStream<Uint8Array>): ReadableStream<Uint8Array> => {
  let [packed, whole] = [0, 0];
  const counting = new TransformStream<Uint8Array, Uint8Array>({
    transform(chunk, out) {
      packed += chunk.byteLength;
      out.enqueue(chunk);
    },
  });
  const measured = new TransformStream<Uint8Array, Uint8Array>({
    transform(chunk, out) {
      whole += chunk.byteLength;
      if (whole > FREE_BYTES + packed * MAX_UNPACKED)
        throw new BadBody(
          413,
          'packed too tightly',
          `The body unpacks to more than ${MAX_UNPACKED} times its size, as messages never do. If it holds nothing but messages, send it unpacked.`,
        );
      out.enqueue(chunk);
    },
  });
  return body
    .pipeThrough(counting)
    .pipeThrough(new DecompressionStream('gzip') as ReadableWritablePair<Uint8Array, Uint8Array>)
    .pipeThrough(measured);
};

/** The bytes of a body, unpacked. */
const unpacked = (request: Request): { readonly stream: ReadableStream<Uint8Array>; readonly encoding: string } => {
  const encoding = request.headers.get('content-encoding')?.trim().toLowerCase() ?? 'identity';
  if (encoding !== 'identity' && encoding !== 'gzip')
    throw new BadBody(415, 'unknown encoding', `Content-Encoding “${encoding}” is not read; send gzip or none.`);
  if (!request.body) throw new BadBody(400, 'empty body', 'The request has no body; send a JSON array of messages, or NDJSON.');
  return { stream: encoding === 'gzip' ? withinMeasure(request.body) : request.body, encoding };
};

const tooSlow = (): BadBody =>
  new BadBody(408, 'too slow', `Nothing came for ${MAX_PAUSE_MS / 1000} s, or too little; send the body at once, or in smaller requests.`);

/** The next piece of a body. Errors: `BadBody` 408 where none comes for too long. */
const nextOf = async (reader: ReadableStreamDefaultReader<Uint8Array>): Promise<ReadableStreamReadResult<Uint8Array>> => {
  let timer: ReturnType<typeof setTimeout> | undefined;
  const late = new Promise<never>((_, fail) => (timer = setTimeout(() => fail(tooSlow()), MAX_PAUSE_MS)));
  try {
    return await Promise.race([reader.read(), late]);
  } finally {
    clearTimeout(timer);
  }
};

/** Gives up a body: nothing more of it is unpacked. */
const giveUp = (reader: ReadableStreamDefaultReader<Uint8Array>): void => void reader.cancel().catch(() => undefined);

const broken = (encoding: string): BadBody =>
  new BadBody(400, 'unreadable body', encoding === 'gzip' ? 'The body is not whole gzip data.' : 'The body broke off before its end.');

/** A whole body: its bytes, which are in memory with some more behind them, so that four can be read at once anywhere; and its text. */
export interface WholeBody {
  readonly bytes: Buffer;
  readonly text: string;
}

const PADDING = 4;
const padded = (bytes: Buffer): Buffer => Buffer.concat([bytes], bytes.length + PADDING).subarray(0, bytes.length);
const BYTE_ORDER_MARK = '\ufeff';

/** Bytes as text, without a mark of byte order; `undefined` where they are not UTF-8. ASCII alone is read without looking twice. */
const textOf = (bytes: Buffer): string | undefined => {
  if (isAscii(bytes)) return bytes.toString('latin1');
  if (!isUtf8(bytes)) return undefined;
  const text = bytes.toString('utf8');
  return text.startsWith(BYTE_ORDER_MARK) ? text.slice(1) : text;
};

/** A body out of its bytes, or of a text. Bytes have some more behind them. */
export const wholeOf = (given: Buffer | string): WholeBody => {
  const bytes = typeof given === 'string' ? padded(Buffer.from(given)) : given;
  const text = textOf(bytes);
  if (text === undefined) throw new BadBody(400, 'not UTF-8', 'The body is not UTF-8.', bytes);
  return { bytes, text };
};

/** The body, never more than the limit in memory. */
export const readBody = async (request: Request, hold: Hold): Promise<WholeBody> => {
  const { stream, encoding } = unpacked(request);
  const reader = stream.getReader();
  const chunks: Uint8Array[] = [];
  let bytes = 0;
  const until = Date.now() + BODY_MS;
  try {
    for (;;) {
      const { done, value } = await nextOf(reader);
      if (done) break;
      bytes += value.byteLength;
      if (bytes > LIMITS.bodyBytes) throw tooLarge();
      if (Date.now() > until + (bytes / MIN_BYTES_A_SECOND) * 1000) throw tooSlow();
      hold.take(value.byteLength);
      chunks.push(value);
    }
  } catch (e) {
    giveUp(reader);
    throw e instanceof BadBody || e instanceof TooMuchHeld ? e : broken(encoding);
  }
  return wholeOf(Buffer.concat(chunks, bytes + PADDING).subarray(0, bytes));
};

/** A body of a known length, out of Node.js's own request. What did not come yet takes no memory. */
export const bodyOf = async (request: IncomingMessage, length: number, hold: Hold): Promise<WholeBody> => {
  const chunks: Buffer[] = [];
  let bytes = 0;
  await new Promise<void>((resolve, reject) => {
    const timer = setTimeout(() => reject(tooSlow()), BODY_MS + (length / MIN_BYTES_A_SECOND) * 1000);
    const fail = (e: Error): void => {
      clearTimeout(timer);
      reject(e);
    };
    const breaksOff = (): void => fail(broken('identity'));
    if (request.destroyed) return breaksOff();
    request.on('data', (chunk: Buffer) => {
      try {
        hold.take(chunk.length);
        chunks.push(chunk);
        bytes += chunk.length;
      } catch (e) {
        fail(e as Error);
      }
    });
    request.once('end', () => {
      clearTimeout(timer);
      resolve();
    });
    request.once('close', breaksOff);
  });
  return wholeOf(Buffer.concat(chunks, bytes + PADDING).subarray(0, bytes));
};

/** Deeper than this nothing sensible is nested, and the database reads no deeper than its stack. */
const MAX_DEPTH = 100;

/** Whether a parsed value is nested deeper than a limit. */
export const isDeeper = (v: unknown, limit = MAX_DEPTH): boolean => {
  if (typeof v !== 'object' || v === null) return false;
  if (limit === 0) return true;
  for (const k in v) {
    const inner = (v as Record<string, unknown>)[k];
    if (typeof inner === 'object' && inner !== null && isDeeper(inner, limit - 1)) return true;
  }
  return false;
};

const TOO_DEEP = `It is nested deeper than ${MAX_DEPTH} levels.`;

const NO_BYTES = new Uint8Array(0);

/** A message whose JSON is read already. */
const readAs = (bytes: Uint8Array, value: unknown): RawMessage =>
  isDeeper(value) ? { bytes, value: null, rejected: TOO_DEEP } : { bytes, value };

const parsed = (bytes: Uint8Array, text: string): RawMessage => {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return { bytes, value: undefined };
  }
  return readAs(bytes, value);
};

export const parseLine = (text: string): RawMessage => parsed(Buffer.from(text), text);

const NEWLINE = 10;
/** A line that is longer is rejected without being kept. */
const MAX_LINE = 2_000_000;
const LINES = 1000;
/** A batch is given out when it has so many bytes, however few its lines. */
const BATCH_BYTES = 4_000_000;

/** Some lines of a body; whoever is done with them says so, since they are held until then. */
export interface Lines {
  readonly lines: RawMessage[];
  readonly done: () => void;
}

/** The lines of an NDJSON body in batches, as they come: what is in memory does not grow with the body. Empty lines are passed over.
 *  Errors: `BadBody` where the body breaks off or does not unpack; the batches before it were given out.
 *  Source: RFC 8259 for the lines; line by line by common practice.
 */
export async function* readLines(request: Request, hold: Hold): AsyncGenerator<Lines> {
  const { stream, encoding } = unpacked(request);
  const reader = stream.getReader();
  try {
    yield* linesOf(reader, encoding, hold);
  } catch (e) {
    throw e instanceof BadBody || e instanceof TooMuchHeld ? e : broken(encoding);
  } finally {
    // Whoever has enough, or has gone, has nothing more unpacked.
    giveUp(reader);
  }
}

async function* linesOf(reader: ReadableStreamDefaultReader<Uint8Array>, encoding: string, hold: Hold): AsyncGenerator<Lines> {
  let parts: Uint8Array[] = [];
  let size = 0;
  let batch: RawMessage[] = [];
  let batchBytes = 0;
  let unpackedBytes = 0;
  const keep = (part: Uint8Array): void => {
    size += part.byteLength;
    if (size <= MAX_LINE) parts.push(part);
    else parts = [];
  };
  const end = (): void => {
    if (size === 0) return;
    batchBytes += Math.min(size, MAX_LINE);
    const [bytes, length] = [Buffer.concat(parts), size];
    parts = [];
    size = 0;
    if (length > MAX_LINE) {
      batch.push({
        bytes: NO_BYTES,
        value: null,
        rejected: `The line has ${length.toLocaleString('en-GB')} bytes, which is too much for a message.`,
      });
      return;
    }
    const text = textOf(bytes);
    if (text === undefined) {
      batch.push({ bytes, value: null, rejected: 'The line is not UTF-8.' });
      return;
    }
    const trimmed = text.trim();
    if (trimmed !== '') batch.push(trimmed.length === bytes.length ? parsed(bytes, text) : parseLine(trimmed));
  };
  const held = (): Lines => {
    const [lines, bytes] = [batch, batchBytes];
    hold.take(bytes);
    batch = [];
    batchBytes = 0;
    return { lines, done: () => hold.release(bytes) };
  };
  for (;;) {
    const { done, value } = await nextOf(reader);
    if (done) break;
    unpackedBytes += value.byteLength;
    if (encoding === 'gzip' && unpackedBytes > LIMITS.unpackedBytes)
      throw new BadBody(
        413,
        'too large',
        `Packed lines hold at most ${LIMITS.unpackedBytes.toLocaleString('en-GB')} bytes when they are unpacked; send the rest in another request.`,
      );
    let from = 0;
    for (;;) {
      // Empty lines, of which there may be no end, cost no more than a look.
      if (size === 0) while (value[from] === NEWLINE) from++;
      const at = value.indexOf(NEWLINE, from);
      if (at < 0) break;
      keep(value.subarray(from, at));
      end();
      from = at + 1;
      if (batch.length < LINES && batchBytes < BATCH_BYTES) continue;
      yield held();
    }
    if (from < value.length) keep(value.slice(from));
  }
  end();
  if (batch.length > 0) yield held();
}

/** A CloudEvent as a message; one that is none keeps what is wrong with it. */
const ofCloudEvent = (v: unknown): RawMessage => {
  if (isDeeper(v)) return { bytes: NO_BYTES, value: null, rejected: TOO_DEEP };
  const read = messageOfCloudEvent(v);
  return read.ok
    ? { bytes: Buffer.from(JSON.stringify(read.message)), value: read.message }
    : { bytes: Buffer.from(JSON.stringify(v)), value: v, rejected: read.detail };
};

export const isNdjson = (headers: Headers): boolean => /ndjson|jsonl/.test(headers.get('content-type') ?? '');

/** The elements of a list, each with its own bytes, which are kept as they came. */
const elements = (bytes: Buffer, values: readonly unknown[]): RawMessage[] => {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength + PADDING);
  let start = 0;
  // Blanks, and the mark of byte order, which the text does not have any more.
  while (bytes[start]! <= BLANK || bytes[start]! > 127) start++;
  const at = elementsOf(view, start);
  return values.map((value, i) => readAs(bytes.subarray(at[2 * i], at[2 * i + 1]), value));
};

/** Messages of a body: a JSON array, one JSON object, or CloudEvents 1.0: structured and as a batch by the content type, binary by the
 *  header `ce-specversion`.
 */
export const splitBody = ({ bytes, text }: WholeBody, headers: Headers): RawMessage[] => {
  const contentType = headers.get('content-type') ?? '';
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (e) {
    throw new BadBody(
      400,
      'not JSON',
      `The body is not JSON: ${(e as Error).message}. For one message a line, send content type application/x-ndjson.`,
      bytes,
    );
  }
  if (headers.has('ce-specversion')) return [ofCloudEvent(structuredOf(headers, value))];
  if (/^application\/cloudevents\+json/i.test(contentType)) return [ofCloudEvent(value)];
  if (/^application\/cloudevents-batch\+json/i.test(contentType) && Array.isArray(value)) return value.map(ofCloudEvent);
  if (Array.isArray(value)) return elements(bytes, value);
  if (typeof value === 'object' && value !== null) return [readAs(text.length === bytes.length ? bytes : Buffer.from(text), value)];
  throw new BadBody(400, 'not an array', 'The body is a JSON array of messages, or one message as an object.', bytes);
};
