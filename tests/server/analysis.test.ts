/** Asking the analysis thread: whatever becomes of it, each who asked has an answer, and it comes back by itself. */
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { Analysis, type Patience } from '../../src/server/analysis';
import { asRequest } from '../../src/server/log';
import { settled, until } from '../build/wait';

const PATIENCE: Patience = { ping: 50, stuck: 600, deadline: 60_000, firstPause: 20 };
let analysis: Analysis;
// The clock of whoever asks the thread is the test's: it goes on only when a test says so. The thread itself is a real one.
beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval', 'Date'] }));
const begin = (heapMb = 200): void => {
  analysis = new Analysis(new URL('./fake-thread.mjs', import.meta.url), { takesJobs: false, heapMb }, PATIENCE);
};
const ask = (path: string, signal = new AbortController().signal, body?: string): Promise<Response> =>
  analysis.ask(body === undefined ? 'GET' : 'POST', path, body, signal);
/** It answers again; the pause before it is started anew goes by meanwhile. */
const isBack = (): Promise<boolean> =>
  until('answer of the thread', async () => {
    vi.advanceTimersByTime(PATIENCE.firstPause);
    return (await ask('/echo')).status === 201;
  });
afterEach(async () => {
  vi.useRealTimers();
  await analysis.stop();
});

test('an answer comes whole, with its status and headers; many are told apart', async () => {
  begin();
  const answers = await Promise.all(Array.from({ length: 50 }, (_, i) => asRequest(`r-${i}`, () => ask('/echo', undefined, `body ${i}`))));
  for (const [i, r] of answers.entries()) {
    expect([r.status, r.headers.get('x-from')]).toEqual([201, 'thread']);
    expect(await r.json()).toEqual({ method: 'POST', path: '/echo', body: `body ${i}`, requestId: `r-${i}` });
  }
  vi.advanceTimersByTime(PATIENCE.ping);
  await expect.poll(() => analysis.standing).toEqual({ ready: true });
});

test('lines come as they are made', async () => {
  begin();
  const r = await ask('/lines');
  const came: string[] = [];
  for await (const piece of r.body as unknown as AsyncIterable<Uint8Array>) {
    came.push(new TextDecoder().decode(piece));
    // Each is read before the thread makes the next one.
    await ask('/next-line');
  }
  expect(came).toEqual(Array.from({ length: 20 }, (_, n) => `${JSON.stringify({ n })}\n`));
});

test('whoever leaves ends the work: the reader of lines, and the request that is given up', async () => {
  begin();
  const r = await ask('/lines');
  await r.body!.cancel();
  const leaving = new AbortController();
  const never = ask('/never', leaving.signal);
  leaving.abort();
  expect((await never).status).toBe(499);
  await expect.poll(async () => ((await (await ask('/cancelled')).json()) as number[]).length).toBe(2);
});

describe('a thread that goes', () => {
  test.each([['/end'], ['/throw'], ['/fill']])(
    'by %s: what was asked meanwhile is told to come again, and it is back',
    async (how) => {
      begin(40);
      await isBack();
      const waiting = [ask('/never'), ask('/never')];
      const cause = ask(how);
      for (const r of await Promise.all([...waiting, cause])) {
        expect([r.status, r.headers.get('retry-after')]).toEqual([503, '5']);
        expect(await r.json()).toMatchObject({ error: 'analysis stopped' });
      }
      expect(analysis.standing).toMatchObject({ ready: false });
      await isBack();
    },
    60_000,
  );

  test('in the midst of lines: the last line says so', async () => {
    begin();
    const lines = (await (await ask('/lines-then-end')).text()).trim().split('\n');
    expect(lines.map((l) => Object.keys(JSON.parse(l) as object)[0])).toEqual(['n', 'error']);
    await isBack();
  });

  test('that is stuck is ended, and comes back', async () => {
    begin();
    await isBack();
    const asked = ask('/stuck');
    let told = false;
    void asked.then(() => (told = true));
    // As long as its patience it is left alone.
    vi.advanceTimersByTime(PATIENCE.stuck);
    await settled();
    expect(told).toBe(false);
    vi.advanceTimersByTime(2 * PATIENCE.ping);
    expect((await asked).status).toBe(503);
    await isBack();
  });

  test('that was stopped with all the process, or slept with the machine, is not stuck', async () => {
    begin();
    await isBack();
    const asked = ask('/stuck');
    let told = false;
    void asked.then(() => (told = true));
    // The clock goes on for an hour, in which this side did not run either.
    vi.setSystemTime(Date.now() + 3_600_000);
    vi.advanceTimersByTime(PATIENCE.ping);
    await settled();
    expect(told).toBe(false);
    // What is silent from then on is.
    vi.advanceTimersByTime(PATIENCE.stuck + 2 * PATIENCE.ping);
    expect((await asked).status).toBe(503);
    await isBack();
  });
});

test('a view that breaks off is told so at once', async () => {
  begin();
  const r = await ask('/broken');
  expect([r.status, await r.json()]).toMatchObject([500, { error: 'unexpected error' }]);
});

test('a view that takes too long is given up with what to do; the others go on', async () => {
  begin();
  const asked = ask('/never');
  expect((await ask('/echo')).status).toBe(201);
  // It is heard of all the while, and so is not stuck.
  for (let ms = 0; ms < PATIENCE.deadline; ms += PATIENCE.stuck) {
    vi.advanceTimersByTime(PATIENCE.stuck);
    await ask('/echo');
  }
  const late = await asked;
  expect([late.status, await late.json()]).toMatchObject([503, { error: 'took too long' }]);
  await expect.poll(async () => ((await (await ask('/cancelled')).json()) as number[]).length).toBe(1);
});
