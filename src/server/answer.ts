/** Answers of endpoints: JSON, and errors that say what, where and how to fix it. */
import type { z } from 'zod';
import { isOfContent, isUnavailable } from '../db/database';
import { wellFormed } from '../core/arrival/judged-message';
import { logError } from './log';

/** An answer, whatever carries it. */
export interface Said {
  readonly status: number;
  readonly headers: Record<string, string>;
  readonly text: string;
}

export const said = (value: unknown, status = 200, headers: Record<string, string> = {}): Said => ({
  status,
  headers: { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'no-store', ...headers },
  text: JSON.stringify(value),
});

export const responseOf = ({ status, headers, text }: Said): Response => new Response(text, { status, headers });

export const json = (...answer: Parameters<typeof said>): Response => responseOf(said(...answer));

export const problemSaid = (status: number, error: string, detail: string, headers: Record<string, string> = {}): Said =>
  said({ error, detail }, status, headers);

export const problem = (...what: Parameters<typeof problemSaid>): Response => responseOf(problemSaid(...what));

export const notHere = (): Response => problem(404, 'not here', 'There is nothing under this address.');

export const RETRY_AFTER_S = 5;
export const unavailableSaid = (headers: Record<string, string> = {}): Said =>
  problemSaid(
    503,
    'database unavailable',
    'The database cannot be reached or written to just now. Nothing was lost; send it again in a few seconds.',
    {
      'retry-after': String(RETRY_AFTER_S),
      ...headers,
    },
  );
export const unavailable = (): Response => responseOf(unavailableSaid());

/** Runs a use case; a lost database becomes 503, anything unexpected 500 with a line in the log. */
export const answering = async (work: () => Promise<Response>): Promise<Response> => {
  try {
    return await work();
  } catch (e) {
    if (isUnavailable(e)) return unavailable();
    if (isOfContent(e))
      return problem(
        400,
        'not storable',
        'A text or a number in this request cannot be stored: look for NUL characters, and for numbers out of range.',
      );
    logError(e);
    return problem(500, 'unexpected error', 'The server met an error that it did not expect; its log says more.');
  }
};

/** Plans of a few thousand events with all that hangs on them. */
const MAX_BODY = 32_000_000;
const BODY_MS = 60_000;

export const tooLarge = (): Response =>
  problem(413, 'too large', `A request holds at most ${MAX_BODY.toLocaleString('en-GB')} bytes, sent within a minute.`);

/** The body as text; `undefined` where it is too large or takes too long. */
export const boundedText = async (request: Request): Promise<string | undefined> => {
  if (!request.body) return '';
  const reader = request.body.getReader();
  const chunks: Uint8Array[] = [];
  let [bytes, late] = [0, false];
  const timer = setTimeout(() => {
    late = true;
    void reader.cancel().catch(() => undefined);
  }, BODY_MS);
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (late) return undefined;
      if (done) return Buffer.concat(chunks, bytes).toString('utf8');
      bytes += value.byteLength;
      if (bytes > MAX_BODY) {
        void reader.cancel().catch(() => undefined);
        return undefined;
      }
      chunks.push(value);
    }
  } finally {
    clearTimeout(timer);
  }
};

/** What has another shape than it should: which parts, and what belongs there. */
export const shapeProblem = (error: z.ZodError, whole: string): Response =>
  problem(
    400,
    'wrong shape',
    error.issues
      .slice(0, 3)
      .map((i) => `${i.path.join('.') || whole}: ${i.message}`)
      .join('; '),
  );

/** JSON in which no half of a surrogate pair stands alone: such a text cannot be stored, and no two programs read it alike. Each becomes U+FFFD, as it does
 *  wherever text is written as UTF-8. Source: The Unicode Standard, D75 and 3.9; it can come in an escape alone. */
const wellFormedJson = (text: string): unknown =>
  /\\u[dD][89a-fA-F]/.test(text)
    ? JSON.parse(text, (_, v: unknown) => {
        if (typeof v === 'string') return wellFormed(v);
        if (typeof v !== 'object' || v === null || Array.isArray(v)) return v;
        return Object.keys(v).every((k) => wellFormed(k) === k)
          ? v
          : Object.fromEntries(Object.entries(v).map(([k, x]) => [wellFormed(k), x]));
      })
    : JSON.parse(text);

/** The body of a request, parsed as JSON and judged by a schema. */
export const readJson = async <T>(
  request: Request,
  schema: z.ZodType<T>,
): Promise<{ ok: true; value: T } | { ok: false; response: Response }> => {
  let value: unknown;
  try {
    const text = await boundedText(request);
    if (text === undefined)
      return {
        ok: false,
        response: tooLarge(),
      };
    value = wellFormedJson(text);
  } catch {
    return { ok: false, response: problem(400, 'not JSON', 'The body is not JSON.') };
  }
  const r = schema.safeParse(value);
  return r.success ? { ok: true, value: r.data } : { ok: false, response: shapeProblem(r.error, 'body') };
};

/** A computation that says after each step how far it is; it may wait for something in between. */
export type Steps<T> = Generator<{ done: number; total: number }, T> | AsyncGenerator<{ done: number; total: number }, T>;

/** What a computation ends with where it cannot answer, and the reader is to be told why. */
export class Told extends Error {}

/** Answers a computation made of steps as lines of JSON: progress after each step, the answer last. Between two steps other work of
 *  the process goes on, and a caller who has gone away ends it.
 */
export const steps = <T>(work: Steps<T>, signal: AbortSignal): Response => {
  const encoder = new TextEncoder();
  let gone = false;
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      const line = (value: unknown) => controller.enqueue(encoder.encode(`${JSON.stringify(value)}\n`));
      try {
        for (;;) {
          const next = await work.next();
          if (gone || signal.aborted) return;
          line(next.done ? { answer: next.value ?? null } : { progress: next.value });
          if (next.done) break;
          await new Promise((go) => setImmediate(go));
        }
      } catch (e) {
        const told = e instanceof Told;
        if (!told) logError(e);
        if (!gone)
          line({ error: told ? e.message : 'The computation met an error that it did not expect; the log of the server says more.' });
      }
      if (!gone) controller.close();
    },
    cancel() {
      gone = true;
    },
  });
  return new Response(stream, { headers: { 'content-type': 'application/x-ndjson', 'cache-control': 'no-store' } });
};

/** Runs a computation step by step, and lets everything else that waits have its turn in between. */
export const inBetween = async <T>(steps: Generator<void, T>): Promise<T> => {
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
    await new Promise((next) => setImmediate(next));
  }
};
