/** Captured messages out of files, one at a time: NDJSON, a JSON array, CloudEvents, HAR files of a browser's run. Nothing is held but what is asked
 *  for: a HAR of hundreds of megabytes is read as it comes.
 */
import { createReadStream } from 'node:fs';
import { open } from 'node:fs/promises';
import { createInterface } from 'node:readline';
import { JSONParser } from '@streamparser/json';
import { messageOfCloudEvent } from '../../core/formats/cloudevents';
import { isObject } from '../../core/plan/property-path';
import { parseInstant } from '../../core/plan/property-type';
import type { Place } from '../../core/report/report';
import { unreadable } from '../trouble';

/** One message, or a line that is none, with where it is. */
export type Captured =
  | {
      readonly value: unknown;
      readonly place: Place;
      /** UTC epoch ms, where the file says it. */
      readonly receivedAt: number | undefined;
      readonly sourceId: string | undefined;
    }
  | { readonly problem: string; readonly place: Place };

export interface CaptureOptions {
  /** A part of the address that requests in a HAR file are sent to. */
  readonly intake: string;
  /** Which source a request is of, by the write key that it carries. */
  readonly sourceOfKey?: ((key: string) => string | undefined) | undefined;
}

const isCloudEvent = (v: unknown): boolean => isObject(v) && typeof v['specversion'] === 'string';

const received = (v: unknown): number | undefined =>
  isObject(v) && typeof v['received_at'] === 'string' ? parseInstant(v['received_at']) : undefined;
const sourceOf = (v: unknown): string | undefined => (isObject(v) && typeof v['source_id'] === 'string' ? v['source_id'] : undefined);

function* taken(v: unknown, place: Place, at?: number, sourceId?: string): Generator<Captured> {
  if (isCloudEvent(v)) {
    const read = messageOfCloudEvent(v);
    yield read.ok ? { value: read.message, place, receivedAt: at, sourceId } : { problem: read.detail, place };
  } else if (isEvidence(v)) {
    for (const [i, m] of v.messages.entries()) yield* ofEvidence(m, { ...place, file: `${place.file}#message${i + 1}` });
  } else yield { value: v, place, receivedAt: received(v) ?? at, sourceId: sourceOf(v) ?? sourceId };
}

/** The evidence of a trial, as this program’s own server gives it out: the run, and what arrived in it. */
const isEvidence = (v: unknown): v is { readonly messages: readonly unknown[] } =>
  isObject(v) && isObject(v['run']) && isObject(v['verdict']) && Array.isArray(v['messages']);

/** A message as it is kept in evidence, as the intake would take it. */
function* ofEvidence(m: unknown, place: Place): Generator<Captured> {
  if (!isObject(m) || typeof m['messageId'] !== 'string' || typeof m['occurredAt'] !== 'number' || typeof m['receivedAt'] !== 'number') {
    yield { problem: 'It is no message of a trial’s evidence.', place };
    return;
  }
  const { messageId, kind, name, occurredAt, receivedAt, ids, properties, release, page } = m;
  yield {
    value: {
      id: messageId,
      kind,
      name,
      time: new Date(occurredAt).toISOString(),
      ids,
      properties,
      release,
      ...(kind === 'view' ? { page } : {}),
    },
    place,
    receivedAt,
    sourceId: typeof m['sourceId'] === 'string' ? m['sourceId'] : undefined,
  };
}

/** The messages of a body as the intake takes it. */
function* ofBody(text: string, place: Place, at: number | undefined, sourceId?: string): Generator<Captured> {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    for (const line of text.split('\n'))
      if (line.trim() !== '')
        try {
          yield* taken(JSON.parse(line), place, at, sourceId);
        } catch {
          yield { problem: 'It is not JSON.', place };
        }
    return;
  }
  const inside = isObject(value) && !isEvidence(value) ? value['messages'] : undefined;
  const list: readonly unknown[] = Array.isArray(inside) ? inside : Array.isArray(value) ? value : [value];
  for (const v of list) yield* taken(v, place, at, sourceId);
}

interface HarEntry {
  readonly startedDateTime?: string;
  readonly request?: {
    readonly method?: string;
    readonly url?: string;
    readonly headers?: readonly { readonly name?: string; readonly value?: string }[];
    readonly postData?: { readonly text?: string };
  };
}

/** The write key that a request carries: in its header, or in its address where a page that goes away can set none. */
const keyOf = ({ request }: HarEntry): string | undefined => {
  const header = request?.headers?.find((h) => h.name?.toLowerCase() === 'authorization')?.value;
  const bearer = /^Bearer\s+(\S+)$/i.exec(header ?? '')?.[1];
  if (bearer !== undefined) return bearer;
  try {
    return new URL(request?.url ?? '', 'http://localhost').searchParams.get('key') ?? undefined;
  } catch {
    return undefined;
  }
};

/** Values out of a stream of JSON, at the paths that are asked for, as soon as each is whole. */
async function* streamed<T>(file: string, paths: string[], keepsStack: (v: unknown) => T | undefined): AsyncGenerator<T> {
  const parser = new JSONParser({ paths, keepStack: false });
  let ready: T[] = [];
  let failed: Error | undefined;
  parser.onValue = ({ value }) => {
    const v = keepsStack(value);
    if (v !== undefined) ready.push(v);
  };
  parser.onError = (e) => {
    failed = e;
  };
  const stream = file === '-' ? process.stdin : createReadStream(file, { highWaterMark: 1 << 20 });
  try {
    for await (const piece of stream) {
      parser.write(piece as Buffer);
      if (failed) throw failed;
      yield* ready;
      ready = [];
    }
  } catch (e) {
    throw unreadable(
      file,
      (e as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file.' : `it is no whole JSON: ${(e as Error).message}`,
    );
  }
  if (!parser.isEnded) throw unreadable(file, 'it is cut off: the JSON does not end.');
}

/** What a sender asks before it sends is no message. Source: HTTP Archive 1.2, `log.entries`: `request.postData.text`, `startedDateTime`. */
async function* ofHar(file: string, { intake, sourceOfKey }: CaptureOptions): AsyncGenerator<Captured> {
  let entry = 0;
  const entries = streamed(file, ['$.log.entries.*'], (v) => {
    entry++;
    const { request, startedDateTime } = v as HarEntry;
    const text = request?.postData?.text;
    if (
      request?.method !== 'POST' ||
      text === undefined ||
      !(request.url ?? '').includes(intake) ||
      /\/known(?:\?|$)/.test(request.url ?? '')
    )
      return undefined;
    const key = keyOf(v as HarEntry);
    return {
      text,
      at: startedDateTime === undefined ? undefined : parseInstant(startedDateTime),
      entry,
      sourceId: key === undefined ? undefined : sourceOfKey?.(key),
    };
  });
  for await (const e of entries) yield* ofBody(e.text, { file: `${file}#entry${e.entry}` }, e.at, e.sourceId);
}

async function* ofArray(file: string): AsyncGenerator<Captured> {
  let index = 0;
  for await (const value of streamed(file, ['$.*'], (v) => ({ v }))) yield* taken(value.v, { file: `${file}#${++index}` });
}

async function* ofLines(file: string): AsyncGenerator<Captured> {
  const stream = file === '-' ? process.stdin : createReadStream(file, { highWaterMark: 1 << 20 });
  let line = 0;
  try {
    for await (const text of createInterface({ input: stream, crlfDelay: Infinity })) {
      line++;
      const t = text.trim();
      if (t === '') continue;
      const place = { file, line };
      let value: unknown;
      try {
        value = JSON.parse(t);
      } catch {
        yield { problem: 'The line is not JSON.', place };
        continue;
      }
      yield* taken(value, place);
    }
  } catch (e) {
    throw unreadable(file, (e as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file.' : (e as Error).message);
  }
}

/** The first characters of a file, without taking them from its stream. */
const headOf = async (file: string): Promise<string> => {
  const stream = createReadStream(file, { start: 0, end: 4095 });
  let text = '';
  try {
    for await (const piece of stream) text += String(piece);
  } catch (e) {
    throw unreadable(file, (e as NodeJS.ErrnoException).code === 'ENOENT' ? 'there is no such file.' : (e as Error).message);
  }
  return text.replace(/^\ufeff/, '').trimStart();
};

/** What a file looks like. One object over several lines is one message, or a body of several. */
const formOf = async (file: string): Promise<'har' | 'array' | 'object' | 'lines'> => {
  const head = await headOf(file);
  if (/\.har$/i.test(file) || /^\{\s*"log"\s*:/.test(head)) return 'har';
  if (head.startsWith('[')) return 'array';
  return head.startsWith('{') && !isWhole(head.split('\n', 1)[0]!.trim()) ? 'object' : 'lines';
};

const LOOKED_AT = 1 << 20;

/** About how many messages files of lines hold, by the length of their first lines; 0 for what is of another form, or comes from standard input.
 *  Errors: a file that cannot be read.
 */
export const aboutHowMany = async (files: readonly string[]): Promise<number> => {
  let sum = 0;
  for (const file of files) {
    if (file === '-' || (await formOf(file)) !== 'lines') continue;
    const at = await open(file);
    try {
      const { buffer, bytesRead } = await at.read(Buffer.alloc(LOOKED_AT), 0, LOOKED_AT, 0);
      const text = buffer.toString('latin1', 0, bytesRead);
      const lines = text.split('\n').length - 1;
      if (lines > 0) sum += Math.ceil(((await at.stat()).size * lines) / (text.lastIndexOf('\n') + 1));
    } finally {
      await at.close();
    }
  }
  return sum;
};

/** The messages of a file, by what it looks like; standard input (`-`) is lines. */
export async function* captured(file: string, options: CaptureOptions): AsyncGenerator<Captured> {
  switch (file === '-' ? 'lines' : await formOf(file)) {
    case 'har':
      yield* ofHar(file, options);
      return;
    case 'array':
      yield* ofArray(file);
      return;
    case 'object':
      for await (const v of streamed(file, ['$'], (x) => ({ x }))) yield* ofBody(JSON.stringify(v.x), { file }, undefined);
      return;
    default:
      yield* ofLines(file);
  }
}

const isWhole = (line: string): boolean => {
  try {
    JSON.parse(line);
    return true;
  } catch {
    // A line longer than what was looked at.
    return line.length > 4000;
  }
};
