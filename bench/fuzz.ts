/** A hundred thousand requests drawn at random (tests/server/fuzz.ts).
 *  Asserted: none is answered with an error of ours, the server stays. Goals: no pause of the server over 200 ms, seen from a connection that asks
 *  twenty-five times a second; what it holds afterwards, without what nobody needs any more, within 1.3 times of before. Reference in the same run: pauses
 *  and memory after the first thousand.
 */
import { freshDatabase, startCluster } from '../ops/postgres';
import { prepareEmpty } from '../ops/prepare';
import { pause } from '../ops/shell';
import { fuzz } from '../tests/server/fuzz';
import { endProcess, heldBy, startProcess, TELLS_MEMORY } from '../tests/build/server';
import { smallWorkspace } from '../tests/build/workspace';
import { size } from './measure';

const COUNT = size(Number(process.env['FUZZ'] ?? 100_000), 300);
const SEED = Number(process.env['FUZZ_SEED'] ?? 7);
const MAX_PAUSE_MS = 200;
const MAX_GROWTH = 1.3;

export const benchFuzz = async (): Promise<boolean> => {
  const url = await freshDatabase(await startCluster('postgres-bench'), 'signal_post_fuzz');
  await prepareEmpty(url);
  const server = await startProcess(url, TELLS_MEMORY);
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
    await fuzz(server.url, key, size(1000, 100), SEED + 1);
    const before = await heldBy(server);
    const firstPause = longest;
    longest = 0;
    const { failed, byStatus } = await fuzz(server.url, key, COUNT, SEED, (n) => console.log(`  ${n} of ${COUNT} requests`));
    for (const f of failed.slice(0, 20)) console.log(JSON.stringify(f));
    over = true;
    await watching;
    await pause(2000);
    const after = await heldBy(server);
    const growth = after.held / before.held;
    const isUp = server.child.exitCode === null && server.child.signalCode === null;
    console.log(`answers by status: ${JSON.stringify(byStatus)}`);
    console.log(
      `${failed.length === 0 && isUp ? 'met   ' : 'MISSED'}  ${failed.length} answers of 500 and above; the server ${isUp ? 'stayed' : 'ended'}`,
    );
    console.log(
      `${longest <= MAX_PAUSE_MS ? 'met   ' : 'MISSED'}  longest answer of /api/alive ${longest.toFixed(0)} ms (goal ${MAX_PAUSE_MS}; ${firstPause.toFixed(0)} in the first thousand)`,
    );
    console.log(
      `${growth <= MAX_GROWTH ? 'met   ' : 'MISSED'}  held ${after.held.toFixed(1)} MB after ${before.held.toFixed(1)} MB: ${growth.toFixed(2)} times (goal ${MAX_GROWTH}); of the machine ${after.rss.toFixed(0)} MB after ${before.rss.toFixed(0)}`,
    );
    return failed.length === 0 && isUp && longest <= MAX_PAUSE_MS && growth <= MAX_GROWTH;
  } finally {
    over = true;
    await endProcess(server, 'SIGTERM');
  }
};
