/** The server's memory while messages come in for ten minutes (`BENCH_MINUTES` for another time): a thousand a second, as lines of requests
 *  that go on for a minute each. Asserted: every message was accepted. Compared with its own memory in the second minute; what grows with
 *  the messages are the columns, which hold them for computing.
 */
import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { goal, size } from './measure';
import { conforming, served } from './served';

const MINUTES = size(Number(process.env['BENCH_MINUTES'] ?? 10), 1);
const MINUTE_S = size(60, 3);
const A_SECOND = 1000;
const LINES = 50;
const MAX_GROWTH = 1.5;

const rssMb = (pid: number): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024;
const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

export const benchMemory = (): Promise<boolean> =>
  served(4780, async ({ base, key, server }) => {
    let sent = 0;
    const minute = async (): Promise<number> => {
      const began = performance.now();
      const first = sent;
      const body = new ReadableStream<Uint8Array>({
        async pull(controller) {
          const due = began + ((sent - first) * 1000) / A_SECOND;
          const wait = due - performance.now();
          if (wait > 0) await new Promise((next) => setTimeout(next, wait));
          const lines = Array.from(
            { length: LINES },
            () => `${JSON.stringify(conforming(`memory-${sent}`, Date.now(), sent++ % 20_000))}\n`,
          );
          controller.enqueue(new TextEncoder().encode(lines.join('')));
          if (sent - first >= A_SECOND * MINUTE_S) controller.close();
        },
      });
      const r = await fetch(`${base}/intake`, {
        method: 'POST',
        headers: { authorization: `Bearer ${key}`, 'content-type': 'application/x-ndjson' },
        body,
        duplex: 'half',
      } as RequestInit);
      return ((await r.json()) as { accepted: number }).accepted;
    };
    const perMinute: number[] = [];
    let accepted = 0;
    for (let m = 0; m < MINUTES; m++) {
      const samples: number[] = [];
      const timer = setInterval(() => samples.push(rssMb(server.pid!)), 1000);
      accepted += await minute();
      clearInterval(timer);
      perMinute.push(median(samples));
    }
    assert.equal(accepted, sent);
    const [second, last] = [perMinute[Math.min(1, perMinute.length - 1)]!, perMinute.at(-1)!];
    console.log(`${accepted.toLocaleString('en-GB')} messages; memory by minute, MB: ${perMinute.map((x) => x.toFixed(0)).join(', ')}`);
    return goal(`${MAX_GROWTH} over the growth of memory since the second minute`, MAX_GROWTH / (last / second), 1);
  });
