/** The server's client: every call the islands make. */
import type { Edit, EditProblem } from '../../core/plan/edit';
import type { Id, Kind } from '../../core/plan/plan';
import { lensOf, withLens } from '../../core/table/lens';

/** An answer that is not a success, in words. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly problem?: EditProblem,
  ) {
    super(message);
  }
}

/** A path as it is asked for: what counts on the screen counts in the answer. */
const lensed = (path: string): string => (typeof location === 'undefined' ? path : withLens(path, lensOf(location.search)));

const call = async (path: string, init?: RequestInit): Promise<Response> => {
  let response: Response;
  try {
    response = await fetch(lensed(path), init);
  } catch {
    throw new ApiError(0, 'The server cannot be reached just now.');
  }
  if (response.ok) return response;
  const body = (await response.json().catch(() => ({}))) as { detail?: string; problem?: EditProblem };
  throw new ApiError(response.status, body.detail ?? `The server answered ${response.status}.`, body.problem);
};

export const get = async <T>(path: string, signal?: AbortSignal): Promise<T> =>
  (await (await call(path, signal ? { signal } : {})).json()) as T;

export const post = async <T>(path: string, body: unknown, signal?: AbortSignal): Promise<T> =>
  (await (
    await call(path, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
      ...(signal ? { signal } : {}),
    })
  ).json()) as T;

export type Revisions = { readonly [K in Kind]?: { readonly [id: Id]: number } };

export const sendEdits = (
  edits: readonly Edit[],
  revisions: Revisions,
  label: string,
  author: string,
  proposal: string | undefined,
): Promise<{ revisions: Revisions; change: number }> =>
  post('/api/edits', { edits, revisions: touchedOnly(edits, revisions), label, author, ...(proposal === undefined ? {} : { proposal }) });

/** The revisions of what is removed: those are all that the server looks at. */
const touchedOnly = (edits: readonly Edit[], revisions: Revisions): Revisions => {
  const out: { [K in Kind]?: Record<Id, number> } = {};
  for (const e of edits) {
    const rev = e.op === 'remove' ? revisions[e.kind]?.[e.id] : undefined;
    if (rev !== undefined) (out[e.kind] ??= {})[e.id] = rev;
  }
  return out;
};

export interface Progress {
  readonly done: number;
  readonly of: number;
}

/** Posts to a computation that reports its steps line by line; the last line is the answer. */
export const postSteps = async <T>(path: string, body: unknown, onProgress: (p: Progress) => void, signal: AbortSignal): Promise<T> => {
  const response = await call(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    signal,
  });
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) throw new ApiError(0, 'The answer broke off.');
    const lines = (rest + value).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) {
      const step = JSON.parse(line) as { progress: Progress } | { answer: T } | { error: string };
      if ('answer' in step) return step.answer;
      if ('error' in step) throw new ApiError(500, step.error);
      onProgress(step.progress);
    }
  }
};
