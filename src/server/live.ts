/** The live stream: messages as they arrive, as server-sent events. */
import { toLiveMessage, type LiveMessage } from '../core/arrival/live-message';
import { messagesAfter, newestMessages, messagesBySeq } from '../db/message-store';
import { database } from './context';
import { listen, type Notice } from './listener';

export const newest = async (limit: number): Promise<LiveMessage[]> => (await newestMessages(database(), limit)).map(toLiveMessage);
export const bySeq = async (seqs: readonly number[]): Promise<LiveMessage[]> => (await messagesBySeq(database(), seqs)).map(toLiveMessage);

declare global {
  /** Ends the open streams, for a server that stops. */
  var signalPostStreams: Set<() => void> | undefined;
}

const streams = (globalThis.signalPostStreams ??= new Set());

const PAGE = 500;
const HEARTBEAT_MS = 15_000;

/** A stream of what comes after a sequence number. Nothing is missed: on each notice, and after each reconnection, all messages
 *  after the last one sent are read. Events: `message` (id: its number), `plan` (something in the plan changed), `people` (somebody came, moved, left, or said something), `recheck` (a page of
 *  what was recorded was checked against a new version).
 */
export const liveStream = (request: Request, after: number): Response => {
  const encoder = new TextEncoder();
  let cursor = after;
  let busy = false;
  let again = false;
  let stop = (): void => undefined;
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      let closed = false;
      const send = (text: string): void => {
        if (!closed) controller.enqueue(encoder.encode(text));
      };
      const pump = async (): Promise<void> => {
        again = true;
        if (busy) return;
        busy = true;
        try {
          while (again && !closed) {
            again = false;
            for (;;) {
              const page = await messagesAfter(database(), cursor, PAGE);
              for (const m of page) send(`event: message\nid: ${m.seq}\ndata: ${JSON.stringify(toLiveMessage(m))}\n\n`);
              cursor = page.at(-1)?.seq ?? cursor;
              if (page.length < PAGE || closed) break;
            }
          }
        } catch {
          // The database is away: the listener will say when it is back.
        } finally {
          busy = false;
        }
      };
      const hear = (notice: Notice): void => {
        if (notice === 'messages') void pump();
        else send(`event: ${notice}\ndata: {}\n\n`);
      };
      const unlisten = listen(hear);
      const beat = setInterval(() => send(': beat\n\n'), HEARTBEAT_MS);
      stop = () => {
        if (closed) return;
        closed = true;
        streams.delete(stop);
        unlisten();
        clearInterval(beat);
        try {
          controller.close();
        } catch {
          // It was closed from the other side.
        }
      };
      streams.add(stop);
      request.signal.addEventListener('abort', stop);
      send('retry: 1000\n\n');
      void pump();
    },
    cancel() {
      stop();
    },
  });
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' } });
};
