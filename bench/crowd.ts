/** Honest senders at 500 messages a second, alone and beside clients that are slow, greedy or wrong, in turns; of the turns' p99 the median counts, since the machine's
 *  own pauses fall into one or the other.
 *  Asserted: every honest message is accepted, in both. Goal: the honest ones' p99 beside the others is at most twice that of alone.
 */
import assert from 'node:assert/strict';
import { pause } from '../ops/shell';
import { beside, median, quantile, sendEvenly } from './evenly';
import { goal, size } from './measure';
import { conforming, post, served, type Served } from './served';

const A_SECOND = 500;
const BATCH = 10;
const SECONDS = size(12, 1);
const TURNS = size(5, 1);
const MAX = 2;

let n = 0;

const honest = (s: Served): Promise<number[]> =>
  sendEvenly(A_SECOND / BATCH, SECONDS, async () => {
    const answer = await post(s, JSON.stringify(Array.from({ length: BATCH }, () => conforming(`crowd-${n++}`, Date.now(), n % 500))));
    assert.equal(answer.accepted, BATCH, JSON.stringify(answer).slice(0, 300));
  });

export const benchCrowd = (): Promise<boolean> =>
  served(4780, async (s) => {
    await honest(s);
    const [alone, crowded]: [number[], number[]] = [[], []];
    for (let turn = 0; turn < TURNS; turn++) {
      const a = await honest(s);
      const end = await beside('bench/crowd-others.ts', [s.base, s.key]);
      await pause(1000);
      const b = await honest(s);
      const said = await end();
      alone.push(quantile(a, 0.99));
      crowded.push(quantile(b, 0.99));
      console.log(
        `alone: median ${median(a).toFixed(1)} ms, p99 ${quantile(a, 0.99).toFixed(1)}; beside ${said}: ${median(b).toFixed(1)}, ${quantile(b, 0.99).toFixed(1)}`,
      );
      await pause(1000);
    }
    const { rows } = await s.client.query<{ n: string }>(`select count(*) as n from messages where message_id like 'crowd-%'`);
    assert.equal(Number(rows[0]!.n), n);
    return goal(
      `honest senders' p99 (median of ${TURNS} turns): ${MAX} times that of alone, over that beside others`,
      (MAX * median(alone)) / median(crowded),
      1,
    );
  });
