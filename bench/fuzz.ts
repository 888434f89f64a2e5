/** A hundred thousand requests drawn at random (tests/server/fuzz.ts).
 *  Asserted: none is answered with an error of ours, the server stays. Goals: no pause of the server over 200 ms, seen from a connection that asks
 *  twenty-five times a second; memory afterwards within 1.3 times of before. Reference in the same run: pauses and memory of the first thousand.
 */
import { readFileSync } from 'node:fs';
import { freshDatabase, startCluster } from '../ops/postgres';
import { prepareEmpty } from '../ops/prepare';
import { pause } from '../ops/shell';
import { fuzz } from '../tests/server/fuzz';
import { endProcess, startProcess } from '../tests/server/process';
import { smallWorkspace } from '../tests/server/small-workspace';

const COUNT = Number(process.env['FUZZ'] ?? 100_000);
const SEED = Number(process.env['FUZZ_SEED'] ?? 7);
const MOST_PAUSE_MS = 200;
const MOST_GROWTH = 1.3;

export const benchFuzz = async (): Promise<boolean> => {
  const url = await freshDatabase(await startCluster('postgres-bench'), 'signal_post_fuzz');
  await prepareEmpty(url);
  const server = await startProcess(url, 5200);
  const memory = (): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server.child.pid}/status`, 'utf8'))![1]) / 1024;
  let over = false;
  let longest = 0;
  const watching = (async () => {
    while (!over) {
      const from = performance.now();
      await fetch(`${server.url}/api/alive`).then((r) => r.text());
      longest = Math.max(longest, performance.now() - from);
      await pause(40);
    }
  })();
  try {
    const key = await smallWorkspace(server.url);
    await fuzz(server.url, key, 1000, SEED + 1);
    const [before, firstPause] = [memory(), longest];
    longest = 0;
    const { failed, byStatus } = await fuzz(server.url, key, COUNT, SEED, (n) => console.log(`  ${n} of ${COUNT} requests`));
    for (const f of failed.slice(0, 20)) console.log(JSON.stringify(f));
    over = true;
    await watching;
    await pause(5000);
    const after = memory();
    const isUp = server.child.exitCode === null && server.child.signalCode === null;
    console.log(`answers by status: ${JSON.stringify(byStatus)}`);
    console.log(
      `${failed.length === 0 && isUp ? 'met   ' : 'MISSED'}  ${failed.length} answers of 500 and above; the server ${isUp ? 'stayed' : 'ended'}`,
    );
    console.log(
      `${longest <= MOST_PAUSE_MS ? 'met   ' : 'MISSED'}  longest answer of /api/alive ${longest.toFixed(0)} ms (goal ${MOST_PAUSE_MS}; ${firstPause.toFixed(0)} in the first thousand)`,
    );
    console.log(
      `${after <= before * MOST_GROWTH ? 'met   ' : 'MISSED'}  memory ${after.toFixed(0)} MB after ${before.toFixed(0)} MB: ${(after / before).toFixed(2)} times (goal ${MOST_GROWTH})`,
    );
    return failed.length === 0 && isUp && longest <= MOST_PAUSE_MS && after <= before * MOST_GROWTH;
  } finally {
    over = true;
    await endProcess(server, 'SIGTERM');
  }
};
