/** Asking the analysis thread: whatever becomes of it, each who asked has an answer, and it comes back by itself. */
import { afterEach, describe, expect, test } from 'vitest';
import { Analysis, type Patience } from '../../src/server/analysis';
import { asRequest } from '../../src/server/log';

const PATIENCE: Patience = { ping: 50, stuck: 600, deadline: 60_000, firstPause: 20 };
let analysis: Analysis;
/** What is not about a thread that is stuck waits for one that is slow. */
const PATIENT: Partial<Patience> = { stuck: 30_000 };
const begin = (more: Partial<Patience> = {}, heapMb = 200): void => {
  analysis = new Analysis(new URL('./fake-thread.mjs', import.meta.url), { takesJobs: false, heapMb }, { ...PATIENCE, ...more });
};
const ask = (path: string, signal = new AbortController().signal, body?: string): Promise<Response> =>
  analysis.ask(body === undefined ? 'GET' : 'POST', path, body, signal);
const isBack = async (): Promise<void> => {
  await expect.poll(async () => (await ask('/echo')).status, { timeout: 10_000 }).toBe(201);
};
afterEach(() => analysis.stop());

test('an answer comes whole, with its status and headers; many are told apart', async () => {
  begin(PATIENT);
  const answers = await Promise.all(Array.from({ length: 50 }, (_, i) => asRequest(`r-${i}`, () => ask('/echo', undefined, `body ${i}`))));
  for (const [i, r] of answers.entries()) {
    expect([r.status, r.headers.get('x-from')]).toEqual([201, 'thread']);
    expect(await r.json()).toEqual({ method: 'POST', path: '/echo', body: `body ${i}`, requestId: `r-${i}` });
  }
  await expect.poll(() => analysis.standing).toEqual({ ready: true });
});

test('lines come as they are made', async () => {
  begin(PATIENT);
  const r = await ask('/lines');
  const came: { readonly text: string; readonly at: number }[] = [];
  for await (const piece of r.body as unknown as AsyncIterable<Uint8Array>)
    came.push({ text: new TextDecoder().decode(piece), at: performance.now() });
  expect(came.map((c) => c.text)).toEqual(Array.from({ length: 100 }, (_, n) => `${JSON.stringify({ n })}\n`));
  // The first was there long before the last was made.
  expect(came.at(-1)!.at - came[0]!.at).toBeGreaterThan(500);
});

test('whoever leaves ends the work: the reader of lines, and the request that is given up', async () => {
  begin(PATIENT);
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
      begin({ stuck: 20_000 }, 40);
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
    const from = performance.now();
    expect((await ask('/stuck')).status).toBe(503);
    expect(performance.now() - from).toBeGreaterThan(500);
    await isBack();
  });
});

test('a view that breaks off is told so at once', async () => {
  begin();
  const r = await ask('/broken');
  expect([r.status, await r.json()]).toMatchObject([500, { error: 'unexpected error' }]);
});

test('a view that takes too long is given up with what to do; the others go on', async () => {
  // Long enough for the thread to begin, on a machine that is busy with other tests.
  begin({ deadline: 3000 });
  const [late, other] = await Promise.all([ask('/never'), ask('/echo')]);
  expect(other.status).toBe(201);
  expect([late.status, await late.json()]).toMatchObject([503, { error: 'took too long' }]);
  await expect.poll(async () => ((await (await ask('/cancelled')).json()) as number[]).length).toBe(1);
});
