/** One request to the intake, and what is to be done after it. */
import type { Answer, WireMessage } from './wire';

export type Outcome =
  | { readonly then: 'taken'; readonly answer: Answer; readonly tookMs: number }
  | { readonly then: 'again'; readonly afterMs: number | undefined; readonly why: string }
  | { readonly then: 'smaller' };

const TIMEOUT_MS = 20_000;

/** Waits before the next attempt, ms: doubled each time up to a minute, and spread, so that many devices do not come back at once. */
export const backoffMs = (attempt: number, random: number): number => Math.min(60_000, 1000 * 2 ** attempt) * (0.5 + random / 2);

const secondsIn = (header: string | null): number | undefined => {
  const seconds = Number(header);
  return header !== null && Number.isFinite(seconds) && seconds >= 0 ? seconds * 1000 : undefined;
};

/** Sends messages. What the intake answered one by one is taken, even where all were rejected; all else waits and is sent again.
 *  Errors: none; an unreachable network is an outcome.
 */
export const deliver = async (endpoint: string, key: string, messages: readonly WireMessage[], keepalive: boolean): Promise<Outcome> => {
  const began = Date.now();
  try {
    const response = await fetch(endpoint, {
      method: 'POST',
      headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
      body: JSON.stringify(messages),
      keepalive,
      signal: AbortSignal.timeout(TIMEOUT_MS),
    });
    const { status } = response;
    if (status === 413) return { then: 'smaller' };
    const answer = (await response.json().catch(() => ({}))) as Answer;
    if (answer.answers !== undefined && (response.ok || status === 422)) return { then: 'taken', answer, tookMs: Date.now() - began };
    const afterMs = secondsIn(response.headers.get('retry-after')) ?? (status === 401 || status === 403 ? 60_000 : undefined);
    return { then: 'again', afterMs, why: answer.detail ?? `The intake answered ${status}.` };
  } catch (e) {
    return { then: 'again', afterMs: undefined, why: `The intake cannot be reached: ${(e as Error).message}` };
  }
};
