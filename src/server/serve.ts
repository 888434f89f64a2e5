/** From a contract to an answer: what was asked is judged by the contract's schemas, what comes back is typed by it. */
import type { z } from 'zod';
import { matchPath } from '../core/api/index';
import type { Endpoint } from '../core/api/endpoint';
import { answering, json, problem, readJson, shapeProblem, steps, type Steps } from './answer';

export interface Given<E extends Endpoint> {
  readonly query: z.output<E['query']>;
  readonly body: z.output<E['body']>;
  readonly request: Request;
  readonly url: URL;
}

/** An endpoint with what answers it. */
export interface Served {
  readonly endpoint: Endpoint;
  readonly handle: (request: Request) => Promise<Response>;
}

/** A part of a path as text; `undefined` where its escapes are no UTF-8. */
const decodedPart = (text: string): string | undefined => {
  try {
    return decodeURIComponent(text);
  } catch {
    return undefined;
  }
};

/** What was asked for, or the answer that says what is wrong with it. */
const givenBy = async <E extends Endpoint>(endpoint: E, request: Request): Promise<Given<E> | Response> => {
  const url = new URL(request.url);
  const parts: [string, string][] = [];
  for (const [name, text] of Object.entries(matchPath(endpoint.path, url.pathname) ?? {})) {
    const decoded = decodedPart(text);
    if (decoded === undefined) return problem(400, 'wrong shape', `${name}: “${text.slice(0, 100)}” is no escaped UTF-8 text.`);
    parts.push([name, decoded]);
  }
  const query = endpoint.query.safeParse(Object.fromEntries([...url.searchParams, ...parts]));
  if (!query.success) return shapeProblem(query.error, 'query');
  let body: unknown = undefined;
  if (endpoint.method === 'POST') {
    const read = await readJson(request, endpoint.body);
    if (!read.ok) return read.response;
    body = read.value;
  }
  return { query: query.data, body, request, url } as Given<E>;
};

/** Answers an endpoint. A `Response` that is returned goes out as it is: a problem, or a file. */
export const serve = <E extends Endpoint>(
  endpoint: E,
  work: (given: Given<E>) => z.output<E['answer']> | Response | Promise<z.output<E['answer']> | Response>,
): Served => ({
  endpoint,
  handle: (request) =>
    answering(async () => {
      const given = await givenBy(endpoint, request);
      if (given instanceof Response) return given;
      const found = await work(given);
      return found instanceof Response ? found : json(found);
    }),
});

/** Answers an endpoint in lines: progress after each step, the answer last. */
export const serveSteps = <E extends Endpoint>(
  endpoint: E,
  work: (given: Given<E>) => Promise<Steps<z.output<E['answer']>> | Response>,
): Served => ({
  endpoint,
  handle: (request) =>
    answering(async () => {
      const given = await givenBy(endpoint, request);
      if (given instanceof Response) return given;
      const found = await work(given);
      return found instanceof Response ? found : steps(found, request.signal);
    }),
});

/** Answers an endpoint whose body is not one JSON document: the contract says what it is, the handler reads it. */
export const serveRaw = (endpoint: Endpoint, handle: (request: Request) => Response | Promise<Response>): Served => ({
  endpoint,
  handle: (request) => answering(async () => handle(request)),
});
