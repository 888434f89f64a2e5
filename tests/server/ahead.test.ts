import fc from 'fast-check';
import { expect, test } from 'vitest';
import { ahead } from '../../src/server/ahead';

/** Some turns of the loop. */
const turns = async (n: number): Promise<void> => {
  for (let i = 0; i < n; i++) await new Promise((next) => setImmediate(next));
};

test('results come in the order of the pieces, never more at once than allowed, whatever each takes', async () => {
  let together = 0;
  await fc.assert(
    fc.asyncProperty(fc.scheduler(), fc.nat(12), fc.integer({ min: 1, max: 4 }), async (s, count, max) => {
      let [under, highest] = [0, 0];
      async function* source(): AsyncGenerator<number> {
        for (let i = 0; i < count; i++) {
          await s.schedule(Promise.resolve());
          yield i;
        }
      }
      const got: number[] = [];
      const reading = (async () => {
        for await (const i of ahead(source(), max, async (i) => {
          highest = Math.max(highest, ++under);
          await s.schedule(Promise.resolve());
          under--;
          return i;
        }))
          got.push(i);
      })();
      await s.waitFor(reading);
      expect(got).toEqual(Array.from({ length: count }, (_, i) => i));
      expect(highest).toBeLessThanOrEqual(max);
      together = Math.max(together, highest);
    }),
    { seed: 4, numRuns: 60 },
  );
  // Some were really under way together.
  expect(together).toBeGreaterThan(1);
});

test('a source that breaks off is told of after all that it gave', async () => {
  async function* source(): AsyncGenerator<number> {
    yield 1;
    yield 2;
    await turns(1);
    throw new Error('broken off');
  }
  const got: number[] = [];
  await expect(async () => {
    for await (const n of ahead(source(), 3, (n) => turns(2).then(() => n))) got.push(n);
  }).rejects.toThrow('broken off');
  expect(got).toEqual([1, 2]);
});

test('a piece that fails is told of in its turn, nothing after it is given, and the source is let go', async () => {
  let released = false;
  async function* source(): AsyncGenerator<number> {
    try {
      for (let n = 1; ; n++) yield n;
    } finally {
      released = true;
    }
  }
  const got: number[] = [];
  await expect(async () => {
    for await (const n of ahead(source(), 2, (n) => (n === 3 ? Promise.reject(new Error('no')) : turns(1).then(() => n)))) got.push(n);
  }).rejects.toThrow('no');
  expect(got).toEqual([1, 2]);
  expect(released).toBe(true);
});
