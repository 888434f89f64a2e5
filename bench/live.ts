/** From the intake to the live view: a thousand messages a second, and how long until each is on an open live stream.
 *  Asserted first: every message comes once, in order. Reference in the same run: the time of a request that writes nothing.
 */
import assert from 'node:assert/strict';
import { goal } from './measure';
import { conforming, post, served } from './served';

const A_SECOND = 1000;
const SECONDS = 20;
const BATCH = 20;
const LIMIT_MS = 500;

const at = (sorted: readonly number[], p: number): number => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * p))]!;

export const benchLive = (): Promise<boolean> =>
  served(4760, async (s) => {
    const { rows } = await s.client.query<{ seq: string }>('select max(seq) as seq from messages');
    const abort = new AbortController();
    const stream = await fetch(`${s.base}/api/live?after=${rows[0]!.seq}`, { signal: abort.signal });
    const sentAt = new Map<string, number>();
    const took: number[] = [];
    const wanted = A_SECOND * SECONDS;
    let last = 0;
    const reading = (async () => {
      let rest = '';
      const decoder = new TextDecoder();
      for await (const chunk of stream.body as unknown as AsyncIterable<Uint8Array>) {
        const now = performance.now();
        const events = (rest + decoder.decode(chunk, { stream: true })).split('\n\n');
        rest = events.pop()!;
        for (const e of events) {
          const data = /^data: (.*)$/m.exec(e)?.[1];
          if (!e.startsWith('event: message') || data === undefined) continue;
          const { seq, messageId } = JSON.parse(data) as { seq: number; messageId: string };
          const sent = sentAt.get(messageId);
          if (sent === undefined) continue;
          assert(seq > last, 'in order');
          last = seq;
          sentAt.delete(messageId);
          took.push(now - sent);
          if (took.length === wanted) return;
        }
      }
    })();
    const idle: number[] = [];
    const began = performance.now();
    const answers: Promise<unknown>[] = [];
    for (let n = 0; n < wanted; n += BATCH) {
      const due = began + (n * 1000) / A_SECOND;
      const wait = due - performance.now();
      if (wait > 0) await new Promise((next) => setTimeout(next, wait));
      const batch = Array.from({ length: BATCH }, (_, i) => conforming(`live-${n + i}`, Date.now(), (n + i) % 3000));
      for (const m of batch) sentAt.set(m['id'] as string, performance.now());
      answers.push(post(s, JSON.stringify(batch)));
      if (n % A_SECOND === 0) {
        const from = performance.now();
        answers.push(fetch(`${s.base}/api/presence`, { method: 'OPTIONS' }).then(() => idle.push(performance.now() - from)));
      }
    }
    await Promise.all(answers);
    await Promise.race([reading, new Promise((_, no) => setTimeout(() => no(new Error(`${took.length} of ${wanted} came`)), 20_000))]);
    abort.abort();
    assert.equal(took.length, wanted);
    assert.equal(sentAt.size, 0);
    took.sort((a, b) => a - b);
    idle.sort((a, b) => a - b);
    const [p50, p99] = [at(took, 0.5), at(took, 0.99)];
    console.log(
      `${wanted} messages at ${A_SECOND} a second: median ${p50.toFixed(0)} ms, p99 ${p99.toFixed(0)} ms; a request that writes nothing: median ${at(idle, 0.5).toFixed(0)} ms, ${(p50 / at(idle, 0.5)).toFixed(1)} times`,
    );
    return goal(`${LIMIT_MS} ms over the p99 from intake to live view`, LIMIT_MS / p99, 1);
  });
