/** Views over HTTP on messages of the demo's generator: each right after one more message came, and how long the server answers nothing else meanwhile.
 *  Asserted: every view answers, and counts the message that came. Goals: 100 ms each at three million messages; no answer of /api/alive later than 50 ms.
 *  Then a new process, until it shows all that was there. Goal: findings within 8 s. Then what the columns of all messages hold. Goal: 120 bytes a message.
 *  Reference in the same run: a request for nothing.
 *  VIEWS sets the number of visitors; a visitor has nearly nine messages.
 */
import assert from 'node:assert/strict';
import { pause } from '../ops/shell';
import { loadWhole } from '../src/analysis/columns';
import { USUAL_USER_KIND } from '../src/core/table/message-table';
import { openDatabase } from '../src/db/database';
import { median, quantile } from './evenly';
import { goal, size } from './measure';
import { conforming, post, served, type Served } from './served';

const VISITORS = size(Number(process.env['VIEWS'] ?? 350_000), 300);
const ROUNDS = size(5, 1);
const LIMIT_MS = 100;
const ALIVE_MS = 50;
const READY_MS = 600_000;
const NEW_PROCESS_MS = 8000;
const BYTES = 120;

const ASKED = ['findings', 'counts', 'identity', 'clearance', `drift?since=${Date.now() - 7 * 86_400_000}`, 'identity-health', 'matrix'];

/** Asks for a view until it is there, and of the newest messages; what the answer says. */
const patiently = async (s: Served, path: string): Promise<string> => {
  const from = performance.now();
  for (;;) {
    const answer = await fetch(`${s.base}/api/${path}`).catch(() => undefined);
    if (answer?.ok && answer.headers.get('age') === null) return answer.text();
    await answer?.body?.cancel();
    assert(performance.now() - from < READY_MS, `${path} does not come`);
    await pause(50);
  }
};

/** How long a new process takes until it shows all that was there, once what can be kept of the columns is kept. */
const newProcess = async (s: Served): Promise<boolean> => {
  const { received } = JSON.parse(await patiently(s, 'findings')) as { received: number };
  for (const from = performance.now(); ; await pause(500)) {
    const { rows } = await s.client.query<{ n: string | null }>('select sum(rows) as n from column_segments');
    if (received - Number(rows[0]!.n) < 131_072) break;
    assert(performance.now() - from < READY_MS, 'the columns are not kept');
  }
  await s.restart();
  const from = performance.now();
  const seconds = (): string => ((performance.now() - from) / 1000).toFixed(1);
  assert.equal((JSON.parse(await patiently(s, 'findings')) as { received: number }).received, received);
  const findings = performance.now() - from;
  await patiently(s, 'clearance');
  console.log(`a new process: findings after ${(findings / 1000).toFixed(1)} s, clearance with all figures after ${seconds()} s`);
  return goal(
    `${NEW_PROCESS_MS / 1000} s over a new process’s first findings, ${(findings / 1000).toFixed(1)} s`,
    NEW_PROCESS_MS / findings,
    1,
  );
};

/** Views, one by one, each right after one more message. */
export const measureViews = async (s: Served): Promise<boolean> => {
  const get = async (path: string): Promise<{ readonly ms: number; readonly text: string }> => {
    const from = performance.now();
    const answer = await fetch(`${s.base}/api/${path}`);
    const text = await answer.text();
    assert.equal(answer.status, 200, `${path}: ${text.slice(0, 300)}`);
    return { ms: performance.now() - from, text };
  };
  const from = performance.now();
  while (performance.now() - from < READY_MS && !(await fetch(`${s.base}/api/health`)).ok) await pause(100);
  const { received } = JSON.parse((await get('findings')).text) as { received: number };
  console.log(
    `${received.toLocaleString('en-GB')} messages; first findings ${((performance.now() - from) / 1000).toFixed(1)} s after the server answered`,
  );
  for (const view of ASKED) await get(view);
  const alive: number[] = [];
  let over = false;
  const watching = (async () => {
    while (!over) {
      alive.push((await get('alive')).ms);
      await pause(5);
    }
  })();
  const took = new Map(ASKED.map((view) => [view, [] as number[]]));
  let n = 0;
  for (let round = 0; round < ROUNDS; round++)
    for (const view of ASKED) {
      await post(s, JSON.stringify([conforming(`views-${n++}`, Date.now(), n)]));
      let { ms, text } = await get(view);
      // An answer that took long is given for as long again: what counts is when the message is in it.
      for (; view === 'findings' && (JSON.parse(text) as { received: number }).received !== received + n; assert(ms < READY_MS)) {
        const next = await get(view);
        ms += next.ms;
        text = next.text;
      }
      took.get(view)!.push(ms);
    }
  over = true;
  await watching;
  let met = true;
  for (const [view, list] of took)
    met = goal(`${view.split('?')[0]}: ${LIMIT_MS} ms over its median of ${median(list).toFixed(0)} ms`, LIMIT_MS / median(list), 1) && met;
  console.log(`a request for nothing meanwhile: median ${median(alive).toFixed(1)} ms, p99 ${quantile(alive, 0.99).toFixed(1)} ms`);
  met =
    goal(`${ALIVE_MS} ms over the longest answer of /api/alive, ${Math.max(...alive).toFixed(0)} ms`, ALIVE_MS / Math.max(...alive), 1) &&
    met;
  return (await newProcess(s)) && met;
};

/** What the columns of a database hold in memory, once all is loaded. */
export const measureColumns = async (url: string): Promise<boolean> => {
  const held = (): number => {
    for (let i = 0; i < 3; i++) globalThis.gc?.();
    const { heapUsed, arrayBuffers } = process.memoryUsage();
    return heapUsed + arrayBuffers;
  };
  assert(globalThis.gc, 'the collector is not at hand');
  const database = openDatabase(url);
  const before = held();
  const table = await loadWhole(database, USUAL_USER_KIND);
  const bytes = (held() - before) / table.length;
  await database.pool.end();
  return goal(`${BYTES} bytes a message over what the columns hold, ${bytes.toFixed(1)}`, BYTES / bytes, 1);
};

export const benchViews = async (): Promise<boolean> => {
  const met = await served(4800, measureViews, VISITORS);
  return (await measureColumns(process.env['BENCH_DATABASE_URL']!)) && met;
};
