/** Answers that are asked for again. */
import { expect, test } from 'vitest';
import { Remembered, type Kept, type Recalled } from '../../src/analysis/remembered';

const kept = (text: string, status = 200): Kept => ({ status, headers: [], bytes: new TextEncoder().encode(text) });
const textOf = async ({ answer }: Recalled): Promise<string> => new TextDecoder().decode((await answer).bytes);

const stage = () => {
  let now = 0;
  let times = 0;
  const remembered = new Remembered(() => now);
  return {
    remembered,
    times: () => times,
    wait: (ms: number) => void (now += ms),
    /** How old what is given is said to be. */
    age: (what: string, [of, upTo]: readonly [object, number]) =>
      remembered.answer(what, [of, ''], String(upTo), () => Promise.resolve(kept('anew'))).age,
    /** Asks for something that takes so long, and answers how often it was worked out. */
    ask: (what: string, [of, upTo]: readonly [object, number], tookMs = 0, status = 200, said = '') =>
      textOf(
        remembered.answer(what, [of, said], String(upTo), () => {
          now += tookMs;
          return Promise.resolve(kept(`${what} ${++times}`, status));
        }),
      ),
  };
};
const state = {};

test('while nothing has changed it is worked out once, for a few seconds', async () => {
  const s = stage();
  expect(await s.ask('/a', [state, 1])).toBe('/a 1');
  expect(await s.ask('/a', [state, 1])).toBe('/a 1');
  s.wait(4999);
  expect(await s.ask('/a', [state, 1])).toBe('/a 1');
  s.wait(1);
  expect(await s.ask('/a', [state, 1])).toBe('/a 2');
  // Under another address it is another question.
  expect(await s.ask('/b', [state, 1])).toBe('/b 3');
});

test('a message more, another state, or something said makes it anew', async () => {
  const s = stage();
  await s.ask('/a', [state, 1]);
  expect(await s.ask('/a', [state, 2])).toBe('/a 2');
  expect(await s.ask('/a', [{}, 2])).toBe('/a 3');
  expect(await s.ask('/a', [state, 2], 0, 200, 'acknowledged')).toBe('/a 4');
});

test('what was quick is made anew with the next message', async () => {
  const s = stage();
  await s.ask('/quick', [state, 1], 299);
  expect(await s.ask('/quick', [state, 2], 299)).toBe('/quick 2');
});

test('what took long stands as long again, although a message came; then it is made anew', async () => {
  const s = stage();
  await s.ask('/slow', [state, 1], 400);
  s.wait(399);
  expect(await s.ask('/slow', [state, 2], 400)).toBe('/slow 1');
  s.wait(1);
  expect(await s.ask('/slow', [state, 2], 400)).toBe('/slow 2');
  // What people say is never held back.
  expect(await s.ask('/slow', [state, 2], 400, 200, 'acknowledged')).toBe('/slow 3');
  // However long it took, it does not stand for longer than what is unchanged does.
  await s.ask('/slower', [state, 1], 60_000);
  s.wait(4999);
  expect(await s.ask('/slower', [state, 2], 60_000)).toBe('/slower 4');
  s.wait(1);
  expect(await s.ask('/slower', [state, 2])).toBe('/slower 5');
});

test('what is given although something came since says since when it was asked for; what is of the newest has no age', async () => {
  const s = stage();
  await s.ask('/slow', [state, 1], 400);
  s.wait(100);
  expect(s.age('/slow', [state, 1])).toBe(0);
  // Looked for 400 ms, and 100 since.
  expect(s.age('/slow', [state, 2])).toBe(500);
  s.wait(300);
  expect(s.age('/slow', [state, 2])).toBe(0);
});

test('who asks the same while it is worked out waits for that; who asks of something newer does not', async () => {
  const remembered = new Remembered();
  let done!: (k: Kept) => void;
  let begun = 0;
  const work = () => {
    begun++;
    return new Promise<Kept>((resolve) => (done = resolve));
  };
  const first = remembered.answer('/a', [state], '1', work);
  const second = remembered.answer('/a', [state], '1', work);
  expect(begun).toBe(1);
  done(kept('one'));
  expect([await textOf(first), await textOf(second)]).toEqual(['one', 'one']);
  void remembered.answer('/b', [state], '1', work);
  void remembered.answer('/b', [state], '2', work);
  expect(begun).toBe(3);
});

test('what failed is not kept', async () => {
  const s = stage();
  await s.ask('/a', [state, 1], 0, 503);
  expect(await s.ask('/a', [state, 1])).toBe('/a 2');
  const broken = s.remembered.answer('/c', [state, ''], '1', () => Promise.reject(new Error('broken'))).answer;
  await expect(broken).rejects.toThrow('broken');
  expect(await s.ask('/c', [state, 1])).toBe('/c 3');
});

test('of more than there is room for the oldest go', async () => {
  const remembered = new Remembered();
  let times = 0;
  const ask = (what: string) =>
    remembered.answer(what, [state], '1', () => {
      times++;
      return Promise.resolve({ status: 200, headers: [], bytes: new Uint8Array(20_000_000) });
    }).answer;
  for (const what of ['/1', '/2', '/3']) await ask(what);
  expect(times).toBe(3);
  await ask('/3');
  await ask('/2');
  expect(times).toBe(3);
  await ask('/1');
  expect(times).toBe(4);
});
