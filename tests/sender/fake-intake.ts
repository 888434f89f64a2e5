/** An intake that answers as it is told to, and keeps what it took. */
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { WireMessage } from '../../packages/sender/src/index';

export type Reply = 'take' | 'cut' | 'reject' | { readonly status: number; readonly retryAfter?: string } | 'take, answer lost';

export class FakeIntake {
  /** Each request's messages, in the order in which they came. */
  readonly requests: WireMessage[][] = [];
  /** What was taken, first time alone. */
  readonly taken: WireMessage[] = [];
  duplicates = 0;
  /** How often it was asked what it has, and whether it says so: an older one does not know the question. */
  asked = 0;
  says: 'what it has' | 'nothing of it' | 'not now' = 'what it has';
  /** What it was asked for, but for its time alone. */
  readonly askedFor: (readonly string[])[] = [];
  /** What the next requests are answered; `take` once there are none. */
  replies: Reply[] = [];
  maxMessages = Infinity;
  /** A request that holds any such message is refused as a whole. */
  refuses: (m: WireMessage) => boolean = () => false;
  /** How far this server's clock is ahead, ms. */
  aheadMs = 0;
  private server: Server | undefined;
  endpoint = '';

  async start(): Promise<this> {
    this.server = createServer((request, response) => {
      let text = '';
      request.on('data', (piece) => (text += String(piece)));
      request.on('end', () => {
        if (request.url === '/intake/known') {
          this.asked++;
          const { ids } = JSON.parse(text) as { ids: string[] };
          if (ids.length > 0) this.askedFor.push(ids);
          if (this.says === 'nothing of it') return void response.writeHead(404).end('{}');
          if (this.says === 'not now') return void response.writeHead(503).end('{}');
          const known = ids.filter((id) => this.taken.some((t) => t.id === id)).map((id) => ({ id }));
          return void response.writeHead(200).end(JSON.stringify({ known, now: Date.now() + this.aheadMs }));
        }
        const messages = JSON.parse(text) as WireMessage[];
        this.requests.push(messages);
        const reply = this.replies.shift() ?? 'take';
        if (reply === 'cut') return void request.socket.destroy();
        if (typeof reply === 'object')
          return void response
            .writeHead(reply.status, reply.retryAfter === undefined ? {} : { 'retry-after': reply.retryAfter })
            .end('{"detail":"told so"}');
        if (messages.some(this.refuses)) return void response.writeHead(400).end('{"detail":"unreadable"}');
        if (messages.length > this.maxMessages) return void response.writeHead(413).end('{}');
        const rejects = reply === 'reject';
        const answers = messages.map((m, index) => {
          if (rejects) return { index, answer: 'rejected', reason: 'bad field', detail: 'not wanted' };
          const known = this.taken.some((t) => t.id === m.id);
          if (known) this.duplicates++;
          else this.taken.push(m);
          return { index, id: m.id, answer: known ? 'duplicate' : 'accepted' };
        });
        if (reply === 'take, answer lost') return void request.socket.destroy();
        response.writeHead(rejects ? 422 : 200).end(JSON.stringify({ answers, now: Date.now() + this.aheadMs }));
      });
    });
    await new Promise<void>((done) => this.server!.listen(0, '127.0.0.1', done));
    this.endpoint = `http://127.0.0.1:${(this.server.address() as AddressInfo).port}/intake`;
    return this;
  }

  stop(): void {
    this.server?.closeAllConnections();
    this.server?.close();
  }
}
