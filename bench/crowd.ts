/** Honest senders at 500 messages a second, alone and beside clients that are slow, greedy or wrong, in turns; of the turns' p99 the median counts, since the machine's
 *  own pauses fall into one or the other.
 *  Asserted: every honest message is accepted, in both. Goal: the honest ones' p99 beside the others is at most twice that of alone.
 */
import assert from 'node:assert/strict';
import { fork } from 'node:child_process';
import { once } from 'node:events';
import { pause } from '../ops/shell';
import { goal } from './measure';
import { conforming, post, served, type Served } from './served';

const A_SECOND = 500;
const BATCH = 10;
const SECONDS = 12;
const TURNS = 5;
const MOST = 2;

const at = (sorted: readonly number[], p: number): number => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * p))]!;

let n = 0;

/** What each request of the honest ones took, in ms. */
const honest = async (s: Served): Promise<number[]> => {
  const took: number[] = [];
  const began = performance.now();
  const answers: Promise<void>[] = [];
  for (let i = 0; i < (A_SECOND * SECONDS) / BATCH; i++) {
    const wait = began + (i * BATCH * 1000) / A_SECOND - performance.now();
    if (wait > 0) await pause(wait);
    const body = JSON.stringify(Array.from({ length: BATCH }, () => conforming(`crowd-${n++}`, Date.now(), n % 500)));
    const from = performance.now();
    answers.push(
      post(s, body).then((answer) => {
        const { accepted } = answer;
        assert.equal(accepted, BATCH, JSON.stringify(answer).slice(0, 300));
        took.push(performance.now() - from);
      }),
    );
  }
  await Promise.all(answers);
  return took;
};

/** The others, in a process of their own: what is measured is not their work. What is returned ends them, and says what they did. */
const beside = async ({ base, key }: Served): Promise<() => Promise<string>> => {
  const child = fork('bench/crowd-others.ts', [base, key], { execArgv: ['--import', 'tsx'] });
  await once(child, 'message');
  return async () => {
    child.send('end');
    const [said] = (await once(child, 'message')) as [string];
    child.kill('SIGKILL');
    return said;
  };
};

const p99 = (took: readonly number[]): number => at(took.toSorted((a, b) => a - b), 0.99); // prettier-ignore
const p50 = (took: readonly number[]): number => at(took.toSorted((a, b) => a - b), 0.5); // prettier-ignore

export const benchCrowd = (): Promise<boolean> =>
  served(4780, async (s) => {
    await honest(s);
    const [alone, crowded]: [number[], number[]] = [[], []];
    for (let turn = 0; turn < TURNS; turn++) {
      const a = await honest(s);
      const end = await beside(s);
      await pause(1000);
      const b = await honest(s);
      const said = await end();
      alone.push(p99(a));
      crowded.push(p99(b));
      console.log(
        `alone: median ${p50(a).toFixed(1)} ms, p99 ${p99(a).toFixed(1)}; beside ${said}: ${p50(b).toFixed(1)}, ${p99(b).toFixed(1)}`,
      );
      await pause(1000);
    }
    const { rows } = await s.client.query<{ n: string }>(`select count(*) as n from messages where message_id like 'crowd-%'`);
    assert.equal(Number(rows[0]!.n), n);
    return goal(
      `honest senders' p99 (median of ${TURNS} turns): ${MOST} times that of alone, over that beside others`,
      (MOST * p50(alone)) / p50(crowded),
      1,
    );
  });
