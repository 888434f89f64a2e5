/** The intake at 500 messages a second while 300 event streams stand open on the pages of people who look at other things, against the same without
 *  any, in turns. The streams are read to the end of what comes, as browsers do.
 *  Asserted: every message is accepted; every stream is open at the end, and was told something.
 */
import assert from 'node:assert/strict';
import { pause } from '../ops/shell';
import { beside, median, quantile, sendEvenly } from './evenly';
import { goal, size } from './measure';
import { conforming, post, served } from './served';

const STREAMS = size(300, 10);
const A_SECOND = 500;
const BATCH = 10;
const SECONDS = size(8, 1);
const TURNS = size(5, 1);
const MAX = 1.2;

export const benchStreams = (): Promise<boolean> =>
  served(4740, async (s) => {
    let n = 0;
    const evenly = (): Promise<number[]> =>
      sendEvenly(A_SECOND / BATCH, SECONDS, async () => {
        const body = JSON.stringify(Array.from({ length: BATCH }, () => conforming(`streams-${n++}`, Date.now(), n % 3000)));
        assert.equal((await post(s, body)).accepted, BATCH);
      });
    await evenly();
    const [alone, among]: [number[], number[]] = [[], []];
    for (let turn = 0; turn < TURNS; turn++) {
      alone.push(median(await evenly()));
      const end = await beside('bench/streams-readers.ts', [s.base, String(STREAMS)]);
      const times = await evenly();
      const said = await end();
      assert.equal(said, `${STREAMS} streams open, ${STREAMS} of them told something`);
      among.push(median(times));
      console.log(
        `alone: median ${alone.at(-1)!.toFixed(1)} ms; beside the streams: ${among.at(-1)!.toFixed(1)}, p99 ${quantile(times, 0.99).toFixed(1)}`,
      );
      await pause(1000);
    }
    return goal(
      `the intake's median (of ${TURNS} turns): ${MAX} times that of alone, over that beside ${STREAMS} streams`,
      (MAX * median(alone)) / median(among),
      1,
    );
  });
