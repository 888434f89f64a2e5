/** Messages for the live view. */
import { live } from '../core/api/live';
import { messages } from '../core/api/messages';
import { problem, responseOf } from './answer';
import { bySeq, follow, isFull, newest } from './live';
import { FULL, startOf } from './live-direct';
import { serve, serveRaw } from './serve';

const MAX = 500;

const serveMessages = serve(messages, async ({ query: { seq, limit } }) => {
  if (seq === undefined) return newest(Math.min(MAX, Math.max(1, limit)));
  const list = seq.split(',').map(Number);
  if (list.some((n) => !Number.isSafeInteger(n)) || list.length > MAX)
    return problem(400, 'wrong seq', 'Give up to 500 whole numbers, separated by commas.');
  return bySeq(list);
});

/** Where the connection itself is not at hand (a server in development). */
const stream = (request: Request): Response => {
  const url = new URL(request.url);
  if (isFull()) return responseOf(FULL);
  const encoder = new TextEncoder();
  let stop = (): void => undefined;
  const events = new ReadableStream<Uint8Array>(
    {
      start(controller) {
        stop = follow(
          {
            write: (text) => controller.enqueue(encoder.encode(text)),
            waiting: () => -(controller.desiredSize ?? 0),
            drained: () => new Promise((next) => setTimeout(next, 10)),
            end: () => {
              try {
                controller.close();
              } catch {
                // It was closed from the other side.
              }
            },
          },
          startOf(request.headers.get('last-event-id'), url.searchParams),
        );
        request.signal.addEventListener('abort', stop);
      },
      cancel() {
        stop();
      },
    },
    new ByteLengthQueuingStrategy({ highWaterMark: 0 }),
  );
  return new Response(events, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
};

export const MESSAGES = [serveMessages, serveRaw(live, stream)];
