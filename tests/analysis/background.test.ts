/** Work in the background takes a tenth at most while somebody waits, and all that it needs when nobody does. */
import { expect, test } from 'vitest';
import { inBackground, somebodyWaits, type Clock } from '../../src/analysis/background';

/** A clock that work and waits set on, and nothing else. */
class Hands implements Clock {
  at = 0;
  /** What happens when, besides. */
  constructor(private readonly plan: readonly (readonly [number, () => void])[] = []) {}
  private done = 0;
  now = (): number => this.at;
  giveWay = (): Promise<void> => Promise.resolve();
  wait = (ms: number): Promise<void> => {
    this.at += ms;
    for (; this.done < this.plan.length && this.plan[this.done]![0] <= this.at; this.done++) this.plan[this.done]![1]();
    return Promise.resolve();
  };
}

/** Steps that take so many ms; when each began. */
function* stepsOf(count: number, ms: number, clock: Hands, began: number[]): Generator<void, string> {
  for (let i = 0; i < count; i++) {
    began.push(clock.at);
    clock.at += ms;
    yield;
  }
  return 'done';
}

test('while somebody waits each step begins ten times its time after the one before; when nobody does, the next comes at once', async () => {
  const over = somebodyWaits();
  const other = somebodyWaits();
  // The first leaves, and says so twice: the other still waits.
  const clock = new Hands([
    [300, over],
    [310, over],
    [600, other],
  ]);
  const began: number[] = [];
  const { value, ms } = await inBackground(stepsOf(30, 5, clock, began), undefined, clock);
  expect([value, ms]).toEqual(['done', 150]);
  expect(began.slice(0, 13)).toEqual([0, 50, 100, 150, 200, 250, 300, 350, 400, 450, 500, 550, 600]);
  expect(began.slice(13)).toEqual(Array.from({ length: 17 }, (_, i) => 605 + i * 5));
});

test('what somebody waits for is not kept waiting by that', async () => {
  const over = somebodyWaits();
  const clock = new Hands();
  const began: number[] = [];
  await inBackground(stepsOf(30, 5, clock, began), () => true, clock);
  expect(began).toEqual(Array.from({ length: 30 }, (_, i) => i * 5));
  over();
});

test('it gives way after each step, whether somebody waits or not, and hands on what the work throws', async () => {
  const clock = new Hands();
  let ways = 0;
  clock.giveWay = () => Promise.resolve(void ways++);
  await inBackground(stepsOf(4, 1, clock, []), undefined, clock);
  expect(ways).toBe(4);
  // eslint-disable-next-line require-yield
  const failing = (function* (): Generator<void, string> {
    throw new Error('it cannot');
  })();
  await expect(inBackground(failing, undefined, clock)).rejects.toThrow('it cannot');
});
