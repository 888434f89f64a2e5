/** What the server answers, and the way of a request to it. Views are asked of the analysis. */
import type { Endpoint } from '../core/api/endpoint';
import { endpointsAt } from '../core/api/index';
import { analysed } from './analysis';
import { notHere, problem } from './answer';
import { ALERTS } from './alerts';
import { ANSWERS } from './answers';
import { BACKFILL } from './backfill';
import { DEAD_LETTERS } from './dead-letters';
import { EXPORTS } from './exports';
import { HAND_OFF } from './hand-off';
import { HEALTH } from './health';
import { HISTORY } from './history';
import { KEYS } from './keys';
import { MESSAGES } from './messages';
import { PEOPLE } from './people';
import { PROPOSALS } from './proposals';
import { SIGN_OFFS } from './sign-offs';
import { REFERENCE } from './reference';
import type { Served } from './serve';
import { TRIALS } from './trials';
import { WORKPLACE } from './workplace';

export const SERVED: readonly Served[] = [
  ALERTS,
  ANSWERS,
  BACKFILL,
  DEAD_LETTERS,
  EXPORTS,
  HAND_OFF,
  HEALTH,
  HISTORY,
  KEYS,
  MESSAGES,
  PEOPLE,
  PROPOSALS,
  SIGN_OFFS,
  REFERENCE,
  TRIALS,
  WORKPLACE,
].flat();

const handlers = new Map<Endpoint, Served['handle']>(SERVED.map((s) => [s.endpoint, s.handle]));

/** The answer to whatever is asked under `/api/`. */
export const answerApi = (request: Request): Promise<Response> => {
  const path = new URL(request.url).pathname.replace(/(.)\/$/, '$1');
  const there = endpointsAt(path);
  if (there.length === 0) return Promise.resolve(notHere());
  const method = request.method === 'HEAD' ? 'GET' : request.method;
  const endpoint = there.find((e) => e.method === method);
  if (!endpoint) {
    const takes = there.map((e) => e.method).join(', ');
    return Promise.resolve(problem(405, 'wrong method', `${path} takes ${takes}.`, { allow: takes }));
  }
  const handle = handlers.get(endpoint);
  return handle ? handle(request) : analysed(request);
};
