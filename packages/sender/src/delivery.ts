/** One request to the intake, and what is to be done after it. */
import type { Answer } from './wire';

export type Outcome =
  | { readonly then: 'taken'; readonly heard: Answer; readonly tookMs: number }
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

/** Sends what the intake is to take, or is asked, and goes on doing so when the page goes. What it answered one by one is taken, even where all were rejected; all else waits and is sent again.
 *  Shape: `refusals` are the answers by which it is wrong in itself.
 *  Errors: none; an unreachable network is an outcome.
 */
export const deliver = async (url: string, key: string, value: unknown, refusals: readonly number[] = REFUSALS): Promise<Outcome> => {
  const began = Date.now();
  const body = JSON.stringify(value);
  try {
    const response = await fetch(url, {
      method: 'POST',
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
      body,
      keepalive: body.length < OUTLIVES_SIZE,
      signal: AbortSignal.timeout(TIMEOUT_MS),
    });
    const { status } = response;
    const answer = (await response.json().catch(() => ({}))) as Answer;
    if ((answer.answers ?? answer.known) && (response.ok || status === 422))
      return { then: 'taken', heard: answer, tookMs: Date.now() - began };
    const why = answer.detail ?? `The intake answered ${status}.`;
    if (refusals.includes(status)) return { then: 'refused', why };
    if (status === 413) return { then: 'smaller' };
    const told = retryAfterMs(response.headers.get('retry-after'), response.headers.get('date'));
    return { then: 'again', afterMs: told ?? (status === 401 || status === 403 ? 60_000 : undefined), told: !!told, why };
  } catch (e) {
    return { then: 'again', why: `The intake cannot be reached: ${(e as Error).message}` };
  }
};

/** Asks which of these the intake has already, and what time it is there. One that does not know the question refuses it. */
export const ask = (endpoint: string, key: string, ids: readonly string[]): Promise<Outcome> =>
  deliver(`${endpoint}/known`, key, { ids }, [400, 404, 405, 413]);
