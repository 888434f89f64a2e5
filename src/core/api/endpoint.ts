/** The contract of one endpoint: what may be asked, by whom, and what comes back. Server, browser, and the OpenAPI document all read it.
 *  The browser takes only types from it, so that no schema is sent to it.
 */
import { z } from 'zod';

export type Method = 'GET' | 'POST';

/** Who may call it, once there are accounts; each may also do what those before it may. A write key speaks for one source, a read token reads the
 *  answers, and neither does anything else.
 */
export const API_ROLES = ['anyone', 'reader', 'editor', 'publisher', 'write key', 'read token'] as const;
export type ApiRole = (typeof API_ROLES)[number];

/** `application/x-ndjson`: lines of progress, then one line with the answer. */
export type Content =
  | 'application/json'
  | 'application/x-ndjson'
  | 'text/event-stream'
  /** A download, in the format that was asked for. */
  | 'file';

/** What a view looks through; both may be left out. Read by `readTraffic` and `lensOf`. */
export type LensParameter = 'traffic' | 'rules';

export interface Endpoint<
  M extends Method = Method,
  P extends string = string,
  Q extends z.ZodType = z.ZodType,
  B extends z.ZodType = z.ZodType,
  A extends z.ZodType = z.ZodType,
> {
  readonly method: M;
  /** A part in braces means one segment, which the query schema names too. */
  readonly path: P;
  readonly title: string;
  readonly role: ApiRole;
  /** The part of the application that answers. */
  readonly answeredBy: 'web' | 'analysis' | 'intake';
  readonly query: Q;
  readonly body: B;
  readonly answer: A;
  readonly content: Content;
  readonly lens: readonly LensParameter[];
  /** Status → when it is answered, beside those that every endpoint may answer. */
  readonly errors: Readonly<Record<number, string>>;
}

const NOTHING = z.object({});

/** Declares an endpoint. Shape: parts left out are: nothing in the query, no body, JSON, no lens, no errors of its own. */
export const endpoint = <
  const M extends Method,
  const P extends string,
  A extends z.ZodType,
  Q extends z.ZodType = typeof NOTHING,
  B extends z.ZodType = typeof NOTHING,
>(spec: {
  method: M;
  path: P;
  title: string;
  role: ApiRole;
  answeredBy?: Endpoint['answeredBy'];
  query?: Q;
  body?: B;
  answer: A;
  content?: Content;
  lens?: readonly LensParameter[];
  errors?: Endpoint['errors'];
}): Endpoint<M, P, Q, B, A> => ({
  answeredBy: 'web',
  content: 'application/json',
  lens: [],
  errors: {},
  ...spec,
  query: spec.query ?? (NOTHING as unknown as Q),
  body: spec.body ?? (NOTHING as unknown as B),
});

/** An answer that the server itself computed and the type checker has seen: described, not parsed again. */
export const answer = <A>(description: string): z.ZodType<A> => z.custom<A>().describe(description);

/** A whole number in a query. */
export const whole = z.coerce.number<number>().int();

/** Who is speaking. Until there are accounts, people say themselves who they are. */
export const author = z.string().trim().min(1).max(60).default('you');

/** The answer of what has nothing to tell but that it was done. */
export const done = z.object({ ok: z.literal(true) });

/** Text that is looked for. */
export const wanted = z.string().transform((s) => s.slice(0, 300));

export const identifierQuery = z.object({
  kind: z.string().describe('Kind of identifier, as in the plan.'),
  value: z.string().describe('The identifier.'),
});

/** What the header `age` says of an answer that is worked out of messages. Source: RFC 9111, section 5.1. */
export const AGE_MEANS =
  'So many seconds ago the answer was of all messages: the server is busy, what came since is being added. Without it nothing is missing.';

/** What may go wrong everywhere. */
export const COMMON_ERRORS: Endpoint['errors'] = {
  400: 'The query or the body has another shape; the detail says which part and what belongs there.',
  403: 'The request came from a page of another site.',
  413: 'The body is too large or took too long.',
  421: 'The server does not answer under this name.',
  500: 'An error that was not expected; the log of the server says more.',
  503: 'The database, or the process that computes, cannot be reached; ask again after `retry-after`.',
};
