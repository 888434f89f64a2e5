/** One request to the intake, and what is to be done after it. */
import type { Answer, WireMessage } from './wire';

export type Outcome =
  | { readonly then: 'taken'; readonly answer: Answer; readonly tookMs: number }
  /** `told`: the intake said how long to wait. */
  | { readonly then: 'again'; readonly afterMs?: number | undefined; readonly told?: boolean; readonly why: string }
  /** It will not take this, however often it comes. */
  | { readonly then: 'refused'; readonly why: string }
  | { readonly then: 'smaller' };

const TIMEOUT_MS = 20_000;

/** Waits before the next attempt, ms: doubled each time up to a minute, and spread, so that many devices do not come back at once. */
export const backoffMs = (attempt: number, random: number): number => Math.min(60_000, 1000 * 2 ** attempt) * (0.5 + random / 2);

const MAX_TOLD_MS = 3_600_000;

/** How long to wait, ms, by a number of seconds or by a date, which is read by the clock of whoever wrote it where that is told. Source: RFC 9110, 10.2.3. */
export const retryAfterMs = (header: string | null, date: string | null): number | undefined => {
  const seconds = Number(header || NaN);
  const ms = seconds >= 0 ? seconds * 1000 : / GMT$/.test(header ?? '') ? Date.parse(header!) - (Date.parse(date!) || Date.now()) : NaN;
  return ms > -Infinity ? Math.min(MAX_TOLD_MS, Math.max(0, ms)) : undefined;
};

/** Answers by which a request is wrong in itself. */
const REFUSALS = [400, 422, 431];

/** Bodies of requests that outlive their page hold at most 64 KiB together. Source: Fetch Standard, "HTTP-network-or-cache fetch", keepalive. */
const OUTLIVES_SIZE = 60_000;

const post = (url: string, key: string, value: unknown): Promise<Response> => {
  const body = JSON.stringify(value);
  return fetch(url, {
    method: 'POST',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    body,
    keepalive: body.length < OUTLIVES_SIZE,
    signal: AbortSignal.timeout(TIMEOUT_MS),
  });
};

/** Which of these the intake has already; none where it does not say, or was asked for too many at once. */
export const known = (endpoint: string, key: string, ids: readonly string[]): Promise<readonly Pick<WireMessage, 'id'>[]> =>
  post(`${endpoint}/known`, key, ids)
    .then((r): Promise<WireMessage[]> | WireMessage[] => (r.ok ? (r.json() as Promise<WireMessage[]>) : []))
    .catch(() => []);

/** Sends messages, and goes on doing so when the page goes. What the intake answered one by one is taken, even where all were rejected; all else waits and is sent again.
 *  Errors: none; an unreachable network is an outcome.
 */
export const deliver = async (endpoint: string, key: string, messages: readonly WireMessage[]): Promise<Outcome> => {
  const began = Date.now();
  try {
    const response = await post(endpoint, key, messages);
    const { status } = response;
    if (status === 413) return { then: 'smaller' };
    const answer = (await response.json().catch(() => ({}))) as Answer;
    if (answer.answers !== undefined && (response.ok || status === 422)) return { then: 'taken', answer, tookMs: Date.now() - began };
    const why = answer.detail ?? `The intake answered ${status}.`;
    if (REFUSALS.includes(status)) return { then: 'refused', why };
    const told = retryAfterMs(response.headers.get('retry-after'), response.headers.get('date'));
    return { then: 'again', afterMs: told ?? (status === 401 || status === 403 ? 60_000 : undefined), told: !!told, why };
  } catch (e) {
    return { then: 'again', why: `The intake cannot be reached: ${(e as Error).message}` };
  }
};
