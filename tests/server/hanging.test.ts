import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { unlessHanging, type HangPatience } from '../../src/server/hanging';

const PATIENCE: HangPatience = { lookMs: 1000, answerMs: 200 };
beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const never = new Promise<never>(() => undefined);
const watched = <T>(work: Promise<T>, ask: () => Promise<void>) => {
  const seen: { answer?: T | string } = {};
  void unlessHanging<T | string>(work, () => 'hangs', PATIENCE, ask).then((a) => (seen.answer = a));
  return seen;
};

test('work that never ends beside a database that does not answer is given up after a stated time', async () => {
  const seen = watched(never, () => never);
  await vi.advanceTimersByTimeAsync(1199);
  expect(seen.answer).toBeUndefined();
  await vi.advanceTimersByTimeAsync(2);
  expect(seen.answer).toBe('hangs');
});

test('a database that refuses is as good as one that is silent', async () => {
  const seen = watched(never, () => Promise.reject(new Error('away')));
  await vi.advanceTimersByTimeAsync(1001);
  expect(seen.answer).toBe('hangs');
});

test('long work beside a database that answers is waited for, and the database asked again each time', async () => {
  let asked = 0;
  let done = (_: string): void => undefined;
  const seen = watched(new Promise<string>((go) => (done = go)), () => {
    asked++;
    return Promise.resolve();
  });
  await vi.advanceTimersByTimeAsync(10_500);
  expect([seen.answer, asked]).toEqual([undefined, 10]);
  done('done');
  await vi.advanceTimersByTimeAsync(0);
  expect(seen.answer).toBe('done');
  await vi.advanceTimersByTimeAsync(10_000);
  expect(asked).toBe(10);
});

test('it hangs after a while: then it is given up', async () => {
  let answers = true;
  const seen = watched(never, () => (answers ? Promise.resolve() : never));
  await vi.advanceTimersByTimeAsync(3500);
  answers = false;
  await vi.advanceTimersByTimeAsync(1300);
  expect(seen.answer).toBe('hangs');
});

test('quick work asks nobody; what fails fails', async () => {
  let asked = 0;
  const ask = () => Promise.resolve(void asked++);
  expect(await unlessHanging(Promise.resolve(1), () => 2, PATIENCE, ask)).toBe(1);
  await expect(unlessHanging(Promise.reject(new Error('no')), () => 2, PATIENCE, ask)).rejects.toThrow('no');
  await vi.advanceTimersByTimeAsync(5000);
  expect(asked).toBe(0);
});
