/** The entry of the analysis thread: answers what the server asks, follows the database, does background work. */
import { constants, setPriority } from 'node:os';
import { parentPort, workerData } from 'node:worker_threads';
import type { Asked, FromThread, ToThread } from '../server/analysis-talk';
import { notHere } from '../server/answer';
import { database } from '../server/context';
import { listen } from '../server/listener';
import { asRequest, log, logError } from '../server/log';
import { ownTask } from '../server/thread-clock';
import { somebodyWaits } from './background';
import { onOneState, standing } from './columns';
import { stopJobs, takeJobs } from './jobs';
import { lookUnderNewest, messagesCame } from './many-findings';
import { recheckWhatIsOpen } from './recheck';
import { keepColumns } from './segments';
import { VIEWS } from './views';

const port = parentPort;
if (!port) throw new Error('this is the entry of a thread');
const { takesJobs } = workerData as { readonly takesJobs: boolean };

// Where there is not enough for all, whoever takes messages goes first. On Linux a priority is a thread's own (setpriority(2), "C library/kernel
// differences"); elsewhere it would be the whole process's.
if (process.platform === 'linux') setPriority(constants.priority.PRIORITY_BELOW_NORMAL);

const say = (what: FromThread, move: ArrayBuffer[] = []): void => port.postMessage(what, move);

const going = new Map<number, AbortController>();

const answer = async ({ id, method, path, body }: Asked): Promise<void> => {
  const abort = new AbortController();
  const over = somebodyWaits();
  going.set(id, abort);
  try {
    const url = new URL(path, 'http://thread');
    const view = VIEWS.get(`${method} ${url.pathname}`);
    const request = new Request(url, { method, signal: abort.signal, ...(body === undefined ? {} : { body }) });
    const response = view ? await view(request) : notHere();
    if (abort.signal.aborted) return void response.body?.cancel().catch(() => undefined);
    say({ id, status: response.status, headers: [...response.headers] });
    const reader = response.body?.getReader();
    abort.signal.addEventListener('abort', () => void reader?.cancel().catch(() => undefined));
    for (;;) {
      const { done, value } = (await reader?.read()) ?? { done: true, value: undefined };
      if (done || abort.signal.aborted) break;
      // What is moved is gone here; a piece may be a part of something that is not.
      const bytes = Uint8Array.from(value);
      say({ id, bytes }, [bytes.buffer]);
    }
    say({ id, end: true });
  } catch (e) {
    logError(e);
    say({ id, broken: true });
  } finally {
    over();
    going.delete(id);
  }
};

const RETRY_MS = 1000;
const OPEN_RECHECKS_MS = 10_000;

/** Does something until it succeeds once. */
const once = async (what: string, work: () => Promise<unknown>): Promise<void> => {
  for (;;)
    try {
      await work();
      return;
    } catch (e) {
      log.warn({ err: e }, what);
      await new Promise((next) => setTimeout(next, RETRY_MS));
    }
};

const recheck = (): void => void recheckWhatIsOpen().catch(() => undefined);

const begin = async (): Promise<void> => {
  const task = ownTask();
  if (task !== undefined) say({ task });
  await once('loading the columns', () => onOneState(() => Promise.resolve()));
  say({ pong: 0, standing: standing() });
  if (!takesJobs) return;
  await once('background work', takeJobs);
  await once('keeping columns', keepColumns);
  listen((notice) => {
    if (notice === 'messages') messagesCame();
    // A version may have been published.
    if (notice === 'plan') {
      recheck();
      lookUnderNewest().catch(() => undefined);
    }
  });
  // What a process left that has gone is taken up by another.
  setInterval(recheck, OPEN_RECHECKS_MS);
  recheck();
};

const stop = async (): Promise<void> => {
  for (const abort of going.values()) abort.abort();
  await stopJobs();
  await database()
    .pool.end()
    .catch(() => undefined);
  process.exit(0);
};

port.on('message', (said: ToThread) => {
  if ('ask' in said) void asRequest(said.ask.requestId ?? '', () => answer(said.ask));
  else if ('cancel' in said) going.get(said.cancel)?.abort();
  else if ('ping' in said) say({ pong: said.ping, standing: standing() });
  else void stop();
});
void begin();
