/** What lasts as long as the process, and what the server around the application asks of it: `server.mjs` knows nothing else.
 *  One for all copies of the code in a process: while the sources are watched, modules are loaded anew, and the database stays.
 */
import type { IncomingMessage, ServerResponse } from 'node:http';
import type { Database } from '../db/database';

/** Takes a request past everything else, or leaves it; true where it was taken. */
export type Direct = (request: IncomingMessage, response: ServerResponse) => boolean;

class Runtime {
  /** Opened on first use. */
  database: Database | undefined;
  private readonly direct: Direct[] = [];
  private readonly streams = new Set<() => void>();
  private readonly endings: (() => Promise<void>)[] = [];
  private readonly begun = new Set<string>();

  /** Where this process answers; empty until the server listens. */
  get address(): string {
    return process.env['SIGNAL_POST_ADDRESS'] ?? '';
  }

  /** The code of the analysis thread; `undefined` where none was built. */
  get thread(): URL | undefined {
    const path = process.env['SIGNAL_POST_THREAD'];
    return path === undefined ? undefined : new URL(path);
  }

  /** From now on these requests are taken first. */
  start(take: Direct): void {
    this.direct.push(take);
  }

  takes(request: IncomingMessage, response: ServerResponse): boolean {
    return this.direct.some((take) => take(request, response));
  }

  /** A stream that is open: it never ends by itself. Returns what forgets it. */
  opened(end: () => void): () => void {
    this.streams.add(end);
    return () => void this.streams.delete(end);
  }

  endStreams(): void {
    for (const end of this.streams) end();
  }

  /** Begins something that a process has once, such as a port: also where the code that asks for it is loaded anew. */
  once(what: string, begin: () => void): void {
    if (this.begun.has(what)) return;
    this.begun.add(what);
    begin();
  }

  /** What is to be done before the process ends, while the database is still there. */
  beforeEnd(work: () => Promise<void>): void {
    this.endings.push(work);
  }

  async stop(): Promise<void> {
    this.begun.clear();
    await Promise.all(this.endings.splice(0).map((work) => work()));
    await this.database?.pool.end().catch(() => undefined);
    this.database = undefined;
  }
}

declare global {
  var signalPost: Runtime | undefined;
}

export const runtime: Runtime = (globalThis.signalPost ??= new Runtime());
