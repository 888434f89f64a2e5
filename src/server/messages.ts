/** Messages for the live view. */
import { answering, json, problem, responseOf } from './answer';
import { bySeq, follow, isFull, newest } from './live';
import { FULL, startOf } from './live-direct';

const MOST = 500;

/** `GET /api/messages`: `seq=1,2,3` those messages, else the newest (`limit`, at most 500). Newest first. */
export const messages = (url: URL): Promise<Response> =>
  answering(async () => {
    const seqs = url.searchParams.get('seq');
    if (seqs !== null) {
      const list = seqs.split(',').map(Number);
      if (list.some((n) => !Number.isSafeInteger(n)) || list.length > MOST)
        return problem(400, 'wrong seq', 'Give up to 500 whole numbers, separated by commas.');
      return json(await bySeq(list));
    }
    return json(await newest(Math.min(MOST, Math.max(1, Number(url.searchParams.get('limit')) || 100))));
  });

/** `GET /api/live?after=N`, where the connection itself is not at hand (a server in development). */
export const live = (request: Request, url: URL): Response => {
  if (isFull()) return responseOf(FULL);
  const encoder = new TextEncoder();
  let stop = (): void => undefined;
  const stream = new ReadableStream<Uint8Array>(
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
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store' } });
};
