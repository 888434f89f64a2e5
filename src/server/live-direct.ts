/** Event streams straight on the connection: Node.js says there how much the other side has not taken yet. */
import type { IncomingMessage, ServerResponse } from 'node:http';
import { problemSaid } from './answer';
import { EVERYWHERE, isOwnHost } from './doors';
import { follow, isFull } from './live';
import { runtime } from './runtime';
import { ownRoles } from './roles';

const PATH = '/api/live';
const HEADERS = { ...EVERYWHERE, 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' };
export const FULL = problemSaid(503, 'too many streams', 'More pages look on than this process can serve. Try again in a few seconds.', {
  ...EVERYWHERE,
  'retry-after': '5',
});

/** Where a stream begins: a reconnecting browser says with Last-Event-ID where it stopped; that wins. Source: WHATWG HTML, 9.2. */
export const startOf = (lastEventId: string | null | undefined, parameters: URLSearchParams): number => {
  const last = Number(lastEventId ?? parameters.get('after') ?? 0);
  return Number.isSafeInteger(last) && last >= 0 ? last : 0;
};

const takeStream = (request: IncomingMessage, response: ServerResponse): boolean => {
  const { method, url = '', headers } = request;
  const [path = '', query = ''] = url.split('?', 2);
  if (method !== 'GET' || path !== PATH) return false;
  if (!isOwnHost(headers.host)) return false;
  if (isFull()) {
    response.writeHead(FULL.status, FULL.headers).end(FULL.text);
    return true;
  }
  response.writeHead(200, HEADERS);
  const id = headers['last-event-id'];
  const stop = follow(
    {
      write: (text) => void response.write(text),
      waiting: () => response.writableLength,
      drained: () =>
        response.writableNeedDrain && !response.destroyed
          ? new Promise((done) => {
              const over = (): void => {
                response.off('drain', over).off('close', over);
                done();
              };
              response.on('drain', over).on('close', over);
            })
          : Promise.resolve(),
      // Who does not take what waits would keep it for ever.
      end: () => (response.writableNeedDrain ? response.destroy() : response.end()),
    },
    startOf(Array.isArray(id) ? id[0] : id, new URLSearchParams(query)),
  );
  response.on('close', stop);
  response.on('error', stop);
  return true;
};

if (ownRoles.has('web')) runtime.start(takeStream);
