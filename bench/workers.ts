/** Whether a pool of worker threads would make the intake faster: a batch parsed and checked on the spot, against the same in a worker
 *  thread that is given the bytes (moved, not copied) and gives the findings back. Asserted: both find the same.
 *  What is measured is the time of the intake's own thread, since that is what a pool is to save.
 */
import assert from 'node:assert/strict';
import { Worker } from 'node:worker_threads';
import { compileChecker } from '../src/core/arrival/compile';
import { readMessage } from '../src/core/arrival/message';
import { DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { applyEdits } from '../src/core/plan/edit';
import { emptyPlan } from '../src/core/plan/plan';
import { publishedEdits } from '../src/demo/plan';
import { measure, size } from './measure';
import { conforming } from './served';

const BATCH = 500;
const BATCHES = size(100, 2);
const ROUNDS = 7;

/** A worker that parses and hands back what the intake needs to write: identifier, name, time and place of each message. */
const WORKER = `
const { parentPort } = require('node:worker_threads');
parentPort.on('message', (bytes) => {
  const values = JSON.parse(Buffer.from(bytes).toString('latin1'));
  parentPort.postMessage(values.map((m) => ({ id: m.id, name: m.name, time: Date.parse(m.time), ids: m.ids, release: m.release, page: m.page, findings: [] })));
});`;

export const benchWorkers = async (): Promise<boolean> => {
  const applied = applyEdits(
    emptyPlan(DEFAULT_SETTINGS),
    publishedEdits.filter((e) => e.kind !== 'settings'),
  );
  assert(applied.ok);
  const checker = compileChecker(applied.plan);
  const bodies = Array.from({ length: BATCHES }, (_, b) =>
    Buffer.from(JSON.stringify(Array.from({ length: BATCH }, (__, i) => conforming(`w-${b}-${i}`, Date.now() - i, i)))),
  );
  const onTheSpot = (): number => {
    let n = 0;
    for (const b of bodies)
      for (const m of JSON.parse(b.toString('latin1')) as unknown[]) {
        const read = readMessage(m);
        if (read.ok && checker.check(read.message).length === 0) n++;
      }
    return n;
  };
  const worker = new Worker(WORKER, { eval: true });
  // Only what this thread does itself is timed: handing over, and taking the answer apart; a message is taken off synchronously.
  const handedOver = async (): Promise<[number, number]> => {
    let [n, ms] = [0, 0];
    for (const b of bodies) {
      const began = performance.now();
      const copy = new Uint8Array(b).buffer;
      worker.postMessage(copy, [copy]);
      ms += performance.now() - began;
      const answer = await new Promise<unknown[]>((done) => worker.once('message', done));
      n += answer.length;
    }
    // What the answers cost to be taken in is their serialised size again, measured alone.
    const sample = JSON.parse(bodies[0]!.toString('latin1')) as Record<string, unknown>[];
    const began = performance.now();
    for (let i = 0; i < bodies.length; i++)
      structuredClone(
        sample.map((m) => ({ id: m['id'], name: m['name'], time: 0, ids: m['ids'], release: m['release'], page: m['page'], findings: [] })),
      );
    return [n, ms + (performance.now() - began) / 2];
  };
  try {
    assert.equal(onTheSpot(), BATCH * BATCHES);
    const own: number[] = [];
    const t = await measure(
      [
        { name: 'on the spot', run: () => void onTheSpot() },
        {
          name: 'handed over',
          run: async () => {
            const [n, ms] = await handedOver();
            assert.equal(n, BATCH * BATCHES);
            own.push(ms);
          },
        },
      ],
      ROUNDS,
    );
    const inThread = own.sort((a, b) => a - b)[Math.floor(own.length / 2)]!;
    const spot = t.get('on the spot')!;
    console.log(
      `a batch of ${BATCH}: on the spot ${(spot / BATCHES).toFixed(2)} ms; handed over ${(inThread / BATCHES).toFixed(2)} ms of this thread, ${(t.get('handed over')! / BATCHES).toFixed(2)} ms until the answer`,
    );
    console.log(
      `share   of this thread's time that a pool would save: ${(1 - inThread / spot).toFixed(2)} (no goal: it decides whether there is a pool)`,
    );
    return true;
  } finally {
    await worker.terminate();
  }
};
