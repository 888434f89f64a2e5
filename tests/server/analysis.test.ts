/** Asking the analysis thread: whatever becomes of it, each who asked has an answer, and it comes back by itself. */
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { Analysis, type Patience } from '../../src/server/analysis';
import { asRequest } from '../../src/server/log';
import { ownTask, workedMs } from '../../src/server/thread-clock';
import { settled, until } from '../build/wait';

const PATIENCE: Patience = { ping: 50, stuck: 600, silent: 6000, deadline: 60_000, firstPause: 20 };
let analysis: Analysis;
// The clock of whoever asks the thread is the test's: it goes on only when a test says so. The thread itself is a real one.
beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'setInterval', 'clearInterval', 'Date'] }));
const begin = (heapMb = 200, worked?: (task: number) => number | undefined): void => {
  analysis = new Analysis(new URL('./fake-thread.mjs', import.meta.url), { takesJobs: false, heapMb }, PATIENCE, worked);
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

  test('that has had no turn yet is not stuck, however long it is silent; one that worked for as long is', async () => {
    let worked = 70;
    const asked: number[] = [];
    begin(200, (task) => {
      asked.push(task);
      return worked;
    });
    await isBack();
    const task = Number(await (await ask('/task')).text());
    const stuck = ask('/stuck');
    let told = false;
    void stuck.then(() => (told = true));
    // Of five times its patience it had a fifth.
    for (let ms = 0; ms < 5 * PATIENCE.stuck; ms += PATIENCE.ping) {
      worked += PATIENCE.ping / 5;
      vi.advanceTimersByTime(PATIENCE.ping);
    }
    await settled();
    expect([told, new Set(asked)]).toEqual([false, new Set([task])]);
    worked += PATIENCE.ping;
    vi.advanceTimersByTime(PATIENCE.ping);
    expect((await stuck).status).toBe(503);
    // The next one is measured from its own beginning.
    await isBack();
    worked = 0;
    await ask('/task');
    const again = ask('/stuck');
    told = false;
    void again.then(() => (told = true));
    vi.advanceTimersByTime(PATIENCE.ping);
    worked += PATIENCE.stuck;
    vi.advanceTimersByTime(PATIENCE.ping);
    await settled();
    expect(told).toBe(false);
    worked += PATIENCE.ping;
    vi.advanceTimersByTime(PATIENCE.ping);
    expect((await again).status).toBe(503);
    await isBack();
  });

  test('that does nothing at all is ended at the last', async () => {
    begin(200, () => 70);
    await isBack();
    await ask('/task');
    const asked = ask('/asleep');
    let told = false;
    void asked.then(() => (told = true));
    vi.advanceTimersByTime(PATIENCE.silent);
    await settled();
    expect(told).toBe(false);
    vi.advanceTimersByTime(2 * PATIENCE.ping);
    expect((await asked).status).toBe(503);
    await isBack();
  });

  test.runIf(ownTask() !== undefined)(
    'the kernel says how much a thread worked: one that goes round in circles does, one that waits does not',
    async () => {
      begin();
      await isBack();
      const task = Number(await (await ask('/task')).text());
      expect(task).not.toBe(ownTask());
      const idle = workedMs(task)!;
      const asked = ask('/stuck');
      await until('work of a thread', () => workedMs(task)! > idle + PATIENCE.stuck / 2);
      let told = false;
      void asked.then(() => (told = true));
      await until('end of a thread that is stuck', () => {
        vi.advanceTimersByTime(PATIENCE.ping);
        return told;
      });
      expect((await asked).status).toBe(503);
      expect(workedMs(task)).toBe(undefined);
      await isBack();
    },
  );

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
