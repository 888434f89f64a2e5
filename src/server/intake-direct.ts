/** The intake's short way: plain batches straight from the connection, past everything else (docs/decisions/0012). */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { unavailableSaid } from './answer';
import { unlessHanging } from './hanging';
import { answerTo, CORS, type Sent } from './intake';
import { callerOf } from './callers';
import { logError } from './log';
import { runtime } from './runtime';
import { ownRoles } from './roles';
import { bodyOf, isNdjson, LIMITS } from './intake-body';

const PATH = '/intake';

/** Takes a plain batch, which most requests are, as Node.js has it: a body that says how long it is, and is not packed. Whatever else comes
 *  is left to the application's own way, with the same answers; false then.
 */
const takeDirectly = (request: IncomingMessage, response: ServerResponse): boolean => {
  const { method, url = '', headers } = request;
  const [path = '', query = ''] = url.split('?', 2);
  const length = Number(headers['content-length']);
  if (method !== 'POST' || path !== PATH || headers['content-encoding'] !== undefined) return false;
  if (!(length > 0 && length <= LIMITS.bodyBytes)) return false;
  const given = new Headers(Object.entries(headers).map(([name, v]) => [name, String(v)]));
  if (isNdjson(given)) return false;
  const sent: Sent = {
    headers: given,
    parameters: new URLSearchParams(query),
    whole: (hold) => bodyOf(request, length, hold),
    from: callerOf({ headers: given }),
    lines: () => {
      throw new Error('lines are taken from a stream');
    },
  };
  unlessHanging(answerTo(sent), () => unavailableSaid(CORS))
    .then(({ status, headers: answered, text }) => {
      // What nobody read, such as the body that came with a wrong key, must not be before the next request.
      request.resume();
      response.writeHead(status, { ...answered, 'content-length': Buffer.byteLength(text) }).end(text);
    })
    .catch((e: unknown) => {
      logError(e);
      response.destroy();
    });
  return true;
};

if (ownRoles.has('intake')) runtime.start(takeDirectly);
