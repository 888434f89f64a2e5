/** Work in the background takes a tenth at most while somebody waits, and all that it needs when nobody does. */
import { expect, test } from 'vitest';
import { inBackground, somebodyWaits } from '../../src/analysis/background';

/** Busy for some ms; when each step began. */
function* stepsOf(count: number, ms: number, began: number[]): Generator<void, string> {
  for (let i = 0; i < count; i++) {
    const from = performance.now();
    began.push(from);
    while (performance.now() - from < ms);
    yield;
  }
  return 'done';
}

test('while somebody waits each step is followed by nine times its time; when nobody does, the next comes at once', async () => {
  const over = somebodyWaits();
  const other = somebodyWaits();
  const began: number[] = [];
  const work = inBackground(stepsOf(30, 5, began));
  await new Promise((next) => setTimeout(next, 300));
  // 300 ms with 5 ms of each 50: six or seven steps, and never twenty.
  expect(began.length).toBeGreaterThan(1);
  expect(began.length).toBeLessThanOrEqual(7);
  over();
  over();
  const before = began.length;
  await new Promise((next) => setTimeout(next, 100));
  expect(began.length - before).toBeLessThanOrEqual(3);
  other();
  const { value, ms } = await work;
  expect([value, ms > 149 && ms < 600]).toEqual(['done', true]);
  expect(began).toHaveLength(30);
  const last = began.slice(-10);
  expect(last.at(-1)! - last[0]!).toBeLessThan(9 * 45);
});

test('what somebody waits for is not kept waiting by that', async () => {
  const over = somebodyWaits();
  const began: number[] = [];
  await inBackground(stepsOf(30, 5, began), () => true);
  expect(began.at(-1)! - began[0]!).toBeLessThan(600);
  over();
});
