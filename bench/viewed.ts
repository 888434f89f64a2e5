/** The intake at 1,000 messages a second while seven views are asked for once a second, against the same while nobody looks, in turns.
 *  Asserted: every message is accepted, every view answers with what it should. Goal: the intake's p99 while viewed is at most one and a half times that of alone.
 */
import assert from 'node:assert/strict';
import { pause } from '../ops/shell';
import { beside, median, quantile, sendEvenly } from './evenly';
import { goal, size } from './measure';
import { conforming, post, served } from './served';

const BEFORE = size(Number(process.env['VIEWED'] ?? 80_000), 2000);
const A_SECOND = 1000;
const BATCH = 20;
const SECONDS = size(12, 1);
const TURNS = size(5, 1);
const MAX = 1.5;

let n = 0;
const batch = (size: number): string =>
  JSON.stringify(Array.from({ length: size }, () => conforming(`viewed-${n++}`, Date.now() - (n % 28) * 80_000_000, n % 3000)));

export const benchViewed = (): Promise<boolean> =>
  served(4790, async (s) => {
    for (let i = 0; i < BEFORE / 500; i++) await post(s, batch(500));
    const evenly = (): Promise<number[]> =>
      sendEvenly(A_SECOND / BATCH, SECONDS, async () => {
        const answer = await post(s, batch(BATCH));
        assert.equal(answer.accepted, BATCH, JSON.stringify(answer).slice(0, 300));
      });
    await evenly();
    const [alone, viewed]: [number[], number[]] = [[], []];
    for (let turn = 0; turn < TURNS; turn++) {
      const a = await evenly();
      const end = await beside('bench/viewed-views.ts', [s.base]);
      const b = await evenly();
      const said = await end();
      alone.push(quantile(a, 0.99));
      viewed.push(quantile(b, 0.99));
      console.log(
        `alone: median ${median(a).toFixed(1)} ms, p95 ${quantile(a, 0.95).toFixed(1)}, p99 ${quantile(a, 0.99).toFixed(1)}; viewed (${said}): ${median(b).toFixed(1)}, ${quantile(b, 0.95).toFixed(1)}, ${quantile(b, 0.99).toFixed(1)}`,
      );
      await pause(1000);
    }
    const { rows } = await s.client.query<{ n: string }>(`select count(*) as n from messages where message_id like 'viewed-%'`);
    assert.equal(Number(rows[0]!.n), n);
    return goal(
      `the intake's p99 (median of ${TURNS} turns): ${MAX} times that of alone, over that while viewed`,
      (MAX * median(alone)) / median(viewed),
      1,
    );
  });
