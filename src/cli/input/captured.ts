/** Captured messages out of files, one at a time: NDJSON, a JSON array, CloudEvents, HAR files of a browser's run. Nothing is held but what is asked
 *  for: a HAR of hundreds of megabytes is read as it comes.
 */
import { createReadStream } from 'node:fs';
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
      /** The message as text, where the file has it as such. */
      readonly text?: string | undefined;
    }
  | { readonly problem: string; readonly place: Place };

export interface CaptureOptions {
  /** A part of the address that requests in a HAR file are sent to. */
  readonly intake: string;
}

const isCloudEvent = (v: unknown): boolean => isObject(v) && typeof v['specversion'] === 'string';

const received = (v: unknown): number | undefined =>
  isObject(v) && typeof v['received_at'] === 'string' ? parseInstant(v['received_at']) : undefined;
const sourceOf = (v: unknown): string | undefined => (isObject(v) && typeof v['source_id'] === 'string' ? v['source_id'] : undefined);

function* taken(v: unknown, place: Place, at?: number): Generator<Captured> {
  if (isCloudEvent(v)) {
    const read = messageOfCloudEvent(v);
    yield read.ok ? { value: read.message, place, receivedAt: at, sourceId: undefined } : { problem: read.detail, place };
  } else yield { value: v, place, receivedAt: received(v) ?? at, sourceId: sourceOf(v) };
}

/** The messages of a body as the intake takes it. */
function* ofBody(text: string, place: Place, at: number | undefined): Generator<Captured> {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    for (const line of text.split('\n'))
      if (line.trim() !== '')
        try {
          yield* taken(JSON.parse(line), place, at);
        } catch {
          yield { problem: 'It is not JSON.', place };
        }
    return;
  }
  const list = isObject(value) && Array.isArray(value['messages']) ? value['messages'] : Array.isArray(value) ? value : [value];
  for (const v of list) yield* taken(v, place, at);
}

interface HarEntry {
  readonly startedDateTime?: string;
  readonly request?: { readonly method?: string; readonly url?: string; readonly postData?: { readonly text?: string } };
}

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

/** Source: HTTP Archive 1.2, `log.entries`: `request.postData.text`, `startedDateTime`. */
async function* ofHar(file: string, { intake }: CaptureOptions): AsyncGenerator<Captured> {
  let entry = 0;
  const entries = streamed(file, ['$.log.entries.*'], (v) => {
    entry++;
    const { request, startedDateTime } = v as HarEntry;
    const text = request?.postData?.text;
    if (request?.method !== 'POST' || text === undefined || !(request.url ?? '').includes(intake)) return undefined;
    return { text, at: startedDateTime === undefined ? undefined : parseInstant(startedDateTime), entry };
  });
  for await (const e of entries) yield* ofBody(e.text, { file: `${file}#entry${e.entry}` }, e.at);
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
      if (isCloudEvent(value)) yield* taken(value, place);
      else yield { value, place, receivedAt: received(value), sourceId: sourceOf(value), text: t };
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

/** The messages of a file, by what it looks like; standard input (`-`) is lines. */
export async function* captured(file: string, options: CaptureOptions): AsyncGenerator<Captured> {
  if (file === '-') {
    yield* ofLines(file);
    return;
  }
  const head = await headOf(file);
  if (/\.har$/i.test(file) || /^\{\s*"log"\s*:/.test(head)) {
    yield* ofHar(file, options);
    return;
  }
  if (head.startsWith('[')) {
    yield* ofArray(file);
    return;
  }
  // One object over several lines is one message, or a body of several.
  const first = head.split('\n', 1)[0]!.trim();
  if (head.startsWith('{') && !isWhole(first)) {
    for await (const v of streamed(file, ['$'], (x) => ({ x }))) yield* ofBody(JSON.stringify(v.x), { file }, undefined);
    return;
  }
  yield* ofLines(file);
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
