/** The way from the server to its analysis thread: starts it, asks it, and starts it again when it ends.
 *  Views come back as bytes. Whoever asks while it is not there is asked to come again.
 */
import { totalmem } from 'node:os';
import { Worker } from 'node:worker_threads';
import type { FromThread, Standing, ToThread } from './analysis-talk';
import { answering, boundedText, problem, RETRY_AFTER_S, tooLarge } from './answer';
import { log, requestId } from './log';
import { whoDoes } from './processes';
import { runtime } from './runtime';
import { ownRoles } from './roles';
import { workedMs } from './thread-clock';

/** Times in ms. */
export interface Patience {
  readonly ping: number;
  /** This much work without a word means that a thread is stuck, and it is ended; where work cannot be measured, this much silence. */
  readonly stuck: number;
  /** This much silence means the same, whether it worked or not. */
  readonly silent: number;
  /** This long a view may take until its first piece, and from one piece to the next. */
  readonly deadline: number;
  /** Before a thread that ended is started again; twice as long after each that did not stay. */
  readonly firstPause: number;
}
const PATIENCE: Patience = { ping: 1000, stuck: 60_000, silent: 900_000, deadline: 120_000, firstPause: 250 };
const LONGEST_PAUSE_MS = 30_000;
const WELL_AFTER_MS = 60_000;
const STOP_MS = 2500;
const MB = 1_000_000;
/** Nobody reads it. */
const GONE = 499;
/** Of the machine's memory, for objects; columns come on top of it. */
const MAX_HEAP = 0.5;

const LINES = 'application/x-ndjson';

/** One request that the thread has not answered to the end. */
interface Open {
  readonly head: (status: number, headers: Headers) => void;
  readonly bytes: (bytes: Uint8Array) => void;
  readonly end: () => void;
  /** The thread has gone, or takes too long. */
  readonly fail: (why: Failure) => void;
}

type Failure = 'ended' | 'late' | 'broken';

const AGAIN = { 'retry-after': String(RETRY_AFTER_S) };
const FAILED: Readonly<Record<Failure, Parameters<typeof problem>>> = {
  ended: [503, 'analysis stopped', 'The analysis stopped and is being started again. Ask again in a few seconds.', AGAIN],
  late: [503, 'took too long', 'No answer was found in time. Ask for less: fewer days, fewer groups, one event.', AGAIN],
  broken: [500, 'unexpected error', 'The computation met an error that it did not expect; the log of the server says more.'],
};
const failed = (why: Failure): Response => problem(...FAILED[why]);

export class Analysis {
  private worker: Worker | undefined;
  private readonly open = new Map<number, Open>();
  private nextId = 1;
  private wait: number;
  private readonly pinging: ReturnType<typeof setInterval>;
  private startedAt = 0;
  /** So long nothing was heard while this side ran itself: a machine that slept, or a process that was stopped, tells nothing of the thread. */
  private silentMs = 0;
  /** Its work in that time, in ms: beside many other processes it may have had a tenth of it. */
  private silentWorkMs = 0;
  private watchedAt = 0;
  private task: number | undefined;
  private workedBefore: number | undefined;
  private stopping = false;
  standing: Standing = { ready: false, rows: 0, total: 0 };

  /** `heapMb`: so much it may hold in objects; what is larger ends it. */
  constructor(
    private readonly code: URL,
    private readonly options: { readonly takesJobs: boolean; readonly heapMb: number },
    private readonly patience: Patience = PATIENCE,
    private readonly worked = workedMs,
  ) {
    this.wait = patience.firstPause;
    this.start();
    this.pinging = setInterval(() => this.watch(), patience.ping);
    this.pinging.unref();
  }

  private start(): void {
    this.startedAt = this.watchedAt = Date.now();
    this.silentMs = this.silentWorkMs = 0;
    this.task = this.workedBefore = undefined;
    const worker = new Worker(this.code, {
      workerData: { takesJobs: this.options.takesJobs },
      resourceLimits: { maxOldGenerationSizeMb: this.options.heapMb },
    });
    this.worker = worker;
    worker.on('message', (said: FromThread) => this.hear(said));
    worker.on('error', (e) => log.error({ err: e }, 'the analysis met an error that it did not expect'));
    worker.on('exit', (code) => {
      if (this.worker === worker) this.ended(code);
    });
  }

  private ended(code: number): void {
    this.worker = undefined;
    this.standing = { ready: false, rows: 0, total: 0 };
    for (const o of this.open.values()) o.fail('ended');
    this.open.clear();
    if (this.stopping) return;
    if (Date.now() - this.startedAt > WELL_AFTER_MS) this.wait = this.patience.firstPause;
    log.error({ code, againInMs: this.wait }, 'the analysis ended; it is started again');
    setTimeout(() => {
      if (!this.stopping) this.start();
    }, this.wait);
    this.wait = Math.min(LONGEST_PAUSE_MS, this.wait * 2);
  }

  private watch(): void {
    if (!this.worker) return;
    const now = Date.now();
    // What is longer than two looks was no time of this process.
    const passed = Math.min(now - this.watchedAt, 2 * this.patience.ping);
    this.watchedAt = now;
    this.silentMs += passed;
    const worked = this.task === undefined ? undefined : this.worked(this.task);
    this.silentWorkMs += worked === undefined ? passed : worked - (this.workedBefore ?? worked);
    this.workedBefore = worked;
    if (this.silentWorkMs > this.patience.stuck || this.silentMs > this.patience.silent) {
      log.error({ ms: this.silentMs, workedMs: this.silentWorkMs }, 'the analysis is stuck; it is ended');
      void this.worker.terminate();
    } else this.say({ ping: Date.now() });
  }

  private say(what: ToThread): void {
    this.worker?.postMessage(what);
  }

  private hear(said: FromThread): void {
    this.silentMs = this.silentWorkMs = 0;
    if ('task' in said) {
      this.task = said.task;
      return;
    }
    if ('pong' in said) {
      this.standing = said.standing;
      return;
    }
    const o = this.open.get(said.id);
    if (!o) return;
    if ('status' in said) o.head(said.status, new Headers(said.headers as [string, string][]));
    else if ('bytes' in said) o.bytes(said.bytes);
    else {
      this.open.delete(said.id);
      if ('broken' in said) o.fail('broken');
      else o.end();
    }
  }

  /** Asks for a view. An answer that comes whole is given whole; lines come as they are made. */
  ask(method: string, path: string, body: string | undefined, signal: AbortSignal): Promise<Response> {
    if (!this.worker) return Promise.resolve(failed('ended'));
    const id = this.nextId++;
    return new Promise((resolve) => {
      let status = 0;
      let headers = new Headers();
      let lines: ReadableStreamDefaultController<Uint8Array> | undefined;
      const pieces: Uint8Array[] = [];
      let timer: ReturnType<typeof setTimeout> | undefined;
      const leave = (): void => {
        clearTimeout(timer);
        this.open.delete(id);
        this.say({ cancel: id });
      };
      const due = (): void => {
        clearTimeout(timer);
        timer = setTimeout(() => {
          leave();
          fail('late');
        }, this.patience.deadline);
      };
      const fail = (why: Failure): void => {
        clearTimeout(timer);
        const answer = failed(why);
        if (!lines) return resolve(answer);
        // It has begun: the reader learns it from the last line.
        void answer.json().then(({ detail }: { detail: string }) => {
          lines!.enqueue(new TextEncoder().encode(`${JSON.stringify({ error: detail })}\n`));
          lines!.close();
        });
      };
      due();
      signal.addEventListener('abort', () => {
        if (this.open.has(id)) leave();
        resolve(new Response(null, { status: GONE }));
      });
      this.open.set(id, {
        head: (s, h) => {
          [status, headers] = [s, h];
          if (headers.get('content-type') !== LINES) return;
          const stream = new ReadableStream<Uint8Array>({
            start: (controller) => void (lines = controller),
            cancel: leave,
          });
          resolve(new Response(stream, { status, headers }));
        },
        bytes: (bytes) => {
          due();
          if (lines) lines.enqueue(bytes);
          else pieces.push(bytes);
        },
        end: () => {
          clearTimeout(timer);
          if (lines) lines.close();
          else resolve(new Response(pieces.length === 0 ? null : Buffer.concat(pieces), { status, headers }));
        },
        fail,
      });
      this.say({ ask: { id, method, path, body, requestId: requestId() } });
    });
  }

  async stop(): Promise<void> {
    this.stopping = true;
    clearInterval(this.pinging);
    const { worker } = this;
    if (!worker) return;
    const gone = new Promise((done) => worker.once('exit', done));
    this.say({ stop: true });
    await Promise.race([gone, new Promise((next) => setTimeout(next, STOP_MS))]);
    await worker.terminate();
  }
}

let analysis: Analysis | undefined;

/** While the sources are watched all is one thread, and these answer. */
let here: ReadonlyMap<string, (request: Request) => Promise<Response>> | undefined;
export const answerHere = (views: NonNullable<typeof here>): void => void (here = views);

/** The thread of this process, started at the first use; `undefined` where there is none. */
export const theAnalysis = (): Analysis | undefined => {
  const { thread } = runtime;
  if (!analysis && thread && (ownRoles.has('analysis') || ownRoles.has('jobs'))) {
    analysis = new Analysis(thread, {
      takesJobs: ownRoles.has('jobs'),
      heapMb: Math.floor((totalmem() * MAX_HEAP) / MB),
    });
    const own = analysis;
    runtime.beforeEnd(() => own.stop());
  }
  return analysis;
};

const nobody = (): Response =>
  problem(
    503,
    'nobody analyses',
    'No process with the role “analysis” runs, so that nothing can be computed. Start one with ./signal-post start --roles analysis.',
    { 'retry-after': String(RETRY_AFTER_S) },
  );

let turn = 0;

/** Asks another process, one after the other until one answers. */
const askOthers = async (request: Request, path: string, body: string | undefined): Promise<Response> => {
  const all = await whoDoes('analysis');
  const first = turn++;
  for (let i = 0; i < all.length; i++) {
    const { address } = all[(first + i) % all.length]!;
    try {
      const answer = await fetch(address + path, {
        method: request.method,
        headers: { 'content-type': 'application/json', 'x-request-id': requestId() ?? '' },
        signal: request.signal,
        ...(body === undefined ? {} : { body }),
      });
      const headers = new Headers();
      for (const name of ['content-type', 'cache-control', 'retry-after', 'age']) {
        const value = answer.headers.get(name);
        if (value !== null) headers.set(name, value);
      }
      return new Response(answer.body, { status: answer.status, headers });
    } catch (e) {
      if (request.signal.aborted) return new Response(null, { status: GONE });
      log.warn({ err: e, address }, 'a process that analyses does not answer');
    }
  }
  return nobody();
};

/** A view that the thread of this process answers, or that of another, under the address that it was asked under. */
export const analysed = (request: Request): Promise<Response> =>
  answering(async () => {
    const { pathname, search } = new URL(request.url);
    const body = request.method === 'POST' ? await boundedText(request) : '';
    if (body === undefined) return tooLarge();
    const given = request.method === 'POST' ? body : undefined;
    if (!ownRoles.has('analysis')) return askOthers(request, pathname + search, given);
    const thread = theAnalysis();
    if (thread) return thread.ask(request.method, pathname + search, given, request.signal);
    if (!here) throw new Error('server.mjs starts the application');
    return here.get(`${request.method} ${pathname}`)!(
      new Request(request.url, { method: request.method, ...(body === '' ? {} : { body }) }),
    );
  });
