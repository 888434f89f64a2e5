/** From the intake to the live view: a thousand messages a second, and how long until each is on an open live stream.
 *  Asserted first: every message comes once, in order. Reference in the same run: the time of a request that writes nothing.
 */
import assert from 'node:assert/strict';
import { chromium, type Page } from '@playwright/test';
import { launchOptions } from '../playwright.config';
import { goal, size } from './measure';
import { conforming, post, served, type Served } from './served';

const A_SECOND = 1000;
const SECONDS = size(20, 1);
const BATCH = 20;
const LIMIT_MS = 500;
const FRAME_SECONDS = size(10, 1);
const LONG_FRAME_MS = 50;
const SETTLE_MS = 3000;

const at = (sorted: readonly number[], p: number): number => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * p))]!;

/** Sends messages in small batches at an even rate, as many sources would; resolves when all are answered. */
const atRate = async (
  s: Served,
  label: string,
  seconds: number,
  onSend?: (ids: readonly string[], isNewSecond: boolean) => void,
): Promise<void> => {
  const began = performance.now();
  const answers: Promise<unknown>[] = [];
  for (let n = 0; n < A_SECOND * seconds; n += BATCH) {
    const wait = began + (n * 1000) / A_SECOND - performance.now();
    if (wait > 0) await new Promise((next) => setTimeout(next, wait));
    const batch = Array.from({ length: BATCH }, (_, i) => conforming(`${label}-${n + i}`, Date.now(), (n + i) % 3000));
    onSend?.(
      batch.map((m) => m['id'] as string),
      n % A_SECOND === 0,
    );
    answers.push(post(s, JSON.stringify(batch)));
  }
  await Promise.all(answers);
};

/** Intervals between frames in ms, for some seconds. */
const framesFor = (page: Page, seconds: number): Promise<number[]> =>
  page.evaluate(async (ms) => {
    const times: number[] = [];
    const began = performance.now();
    for (let last = began; last - began < ms;) {
      await new Promise(requestAnimationFrame);
      const now = performance.now();
      times.push(now - last);
      last = now;
    }
    return times;
  }, seconds * 1000);

/** The live view in the browser while a thousand messages a second come in: frames over 50 ms, against the same page while none come. */
const benchFrames = async (s: Served): Promise<boolean> => {
  const browser = await chromium.launch(launchOptions);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${s.base}/arrivals`);
    const list = page.getByRole('list', { name: 'Messages, newest first' });
    await list.getByRole('listitem').first().waitFor();
    await page.waitForTimeout(SETTLE_MS);
    const quiet = await framesFor(page, FRAME_SECONDS);
    const [busy] = await Promise.all([framesFor(page, FRAME_SECONDS), atRate(s, 'frames', FRAME_SECONDS)]);
    // All of it got through to the page, and only what is in sight is drawn.
    const marked = { ...conforming('frames-last', Date.now(), 1), name: 'Came Last' };
    await post(s, JSON.stringify([marked]));
    await list.getByRole('button', { name: /Came Last/ }).waitFor({ timeout: 5000 });
    const drawn = await list.getByRole('listitem').count();
    assert(drawn > 5 && drawn < 60, `${drawn} rows are drawn`);
    const long = (frames: readonly number[]): number => frames.filter((t) => t > LONG_FRAME_MS).length;
    const longest = Math.max(...busy);
    console.log(
      `frames over ${LONG_FRAME_MS} ms in ${FRAME_SECONDS} s at ${A_SECOND} messages a second: ${long(busy)} of ${busy.length}, the longest ${longest.toFixed(0)} ms; while none come: ${long(quiet)} of ${quiet.length}`,
    );
    return goal(
      'frames within 50 ms while a thousand messages a second come, over 97 in a hundred',
      (1 - long(busy) / busy.length) / 0.97,
      1,
    );
  } finally {
    await browser.close();
  }
};

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
    await atRate(s, 'live', SECONDS, (ids, second) => {
      for (const id of ids) sentAt.set(id, performance.now());
      if (!second) return;
      const from = performance.now();
      void fetch(`${s.base}/api/presence`, { method: 'OPTIONS' }).then(() => idle.push(performance.now() - from));
    });
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
    const met = goal(`${LIMIT_MS} ms over the p99 from intake to live view`, LIMIT_MS / p99, 1);
    return (await benchFrames(s)) && met;
  });
