/** The server's client: every call that the interface makes, typed by the endpoint's contract. */
import type { AddressText, AnswerOf, BodyAt, QueryOf } from '../core/api/index';
import type { Revisions } from '../core/plan/draft';
import type { Edit, EditProblem } from '../core/plan/edit';
import type { Id, Kind } from '../core/plan/plan';
import { lensOf, withLens } from '../core/table/lens';
import { answerAges } from './answer-ages';

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

/** What an endpoint is asked with. */
export type Asked<T extends AddressText> = (Record<never, never> extends QueryOf<T>
  ? { readonly query?: QueryOf<T> }
  : { readonly query: QueryOf<T> }) &
  (Record<never, never> extends BodyAt<T> ? { readonly body?: BodyAt<T> } : { readonly body: BodyAt<T> });

type Arguments<T extends AddressText> =
  Record<never, never> extends Asked<T> ? [asked?: Asked<T>, signal?: AbortSignal] : [asked: Asked<T>, signal?: AbortSignal];

/** Path and query of an address that is asked, through what the page looks through: what counts on the screen counts in the answer. */
export const pathOf = <T extends AddressText>(address: T, query: object = {}): string => {
  const given = Object.entries(query as Record<string, string | number | boolean | undefined>).flatMap(([name, v]) =>
    v === undefined ? [] : [[name, String(v)]],
  );
  const path = address.slice(address.indexOf(' ') + 1) + (given.length > 0 ? `?${new URLSearchParams(given).toString()}` : '');
  return typeof location === 'undefined' ? path : withLens(path, lensOf(location.search));
};

interface Problem {
  readonly detail?: string;
  readonly problem?: EditProblem;
}

/** What an answer that is not a success says. */
export const errorOf = async (response: Response): Promise<ApiError> => {
  const { detail, problem } = (await response.json().catch(() => ({}))) as Problem;
  return new ApiError(response.status, detail ?? `The server answered ${response.status}.`, problem);
};

const call = async (address: AddressText, { query, body }: { query?: object; body?: unknown }, signal?: AbortSignal): Promise<Response> => {
  let response: Response;
  const path = pathOf(address, query);
  const text = JSON.stringify(body ?? {});
  try {
    response = await fetch(path, {
      ...(signal ? { signal } : {}),
      ...(address.startsWith('POST') ? { method: 'POST', headers: { 'content-type': 'application/json' }, body: text } : {}),
    });
  } catch {
    throw new ApiError(0, 'The server cannot be reached just now.');
  }
  if (response.ok) {
    answerAges.note(`${path} ${text}`, response.headers.get('age'), Date.now());
    return response;
  }
  throw await errorOf(response);
};

/** Asks an endpoint. Errors: throws an `ApiError` with the words of the server. */
export const ask = async <T extends AddressText>(address: T, ...[asked, signal]: Arguments<T>): Promise<AnswerOf<T>> => {
  const response = await call(address, asked ?? {}, signal);
  return (await response.json()) as AnswerOf<T>;
};

export const sendEdits = (edits: readonly Edit[], revisions: Revisions, label: string, author: string, proposal: string | undefined) =>
  ask('POST /api/edits', {
    body: { edits: [...edits], revisions: touchedOnly(edits, revisions), label, author, ...(proposal === undefined ? {} : { proposal }) },
  });

/** The revisions of what is removed: those are all that the server looks at. */
const touchedOnly = (edits: readonly Edit[], revisions: Revisions): { [K in Kind]?: Record<Id, number> } => {
  const out: { [K in Kind]?: Record<Id, number> } = {};
  for (const e of edits) {
    const rev = e.op === 'remove' ? revisions[e.kind]?.[e.id] : undefined;
    if (rev !== undefined) (out[e.kind] ??= {})[e.id] = rev;
  }
  return out;
};

export interface Progress {
  readonly done: number;
  readonly total: number;
}

/** Asks an endpoint that reports its steps line by line; the last line is the answer. */
export const askSteps = async <T extends AddressText>(
  address: T,
  asked: Asked<T>,
  onProgress: (p: Progress) => void,
  signal: AbortSignal,
): Promise<AnswerOf<T>> => {
  const response = await call(address, asked, signal);
  const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
  let rest = '';
  for (;;) {
    const { done, value } = await reader.read();
    if (done) throw new ApiError(0, 'The answer broke off.');
    const lines = (rest + value).split('\n');
    rest = lines.pop() ?? '';
    for (const line of lines) {
      const step = JSON.parse(line) as { progress: Progress } | { answer: AnswerOf<T> } | { error: string };
      if ('answer' in step) return step.answer;
      if ('error' in step) throw new ApiError(500, step.error);
      onProgress(step.progress);
    }
  }
};
