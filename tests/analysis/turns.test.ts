/** Holding a state and changing it, in all orders: nobody sees a state change that it holds, and nobody waits for ever. */
import fc from 'fast-check';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Turns } from '../../src/analysis/turns';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

// oxlint-disable-next-line no-restricted-globals -- by the clock of the test, see above
const pause = (ms: number): Promise<void> => new Promise((next) => setTimeout(next, ms));

/** Runs work by a clock that goes on only as fast as the work needs it; what it gives. */
const byClock = async <T>(work: () => Promise<T>): Promise<T> => {
  let over = false;
  const done = work().finally(() => (over = true));
  done.catch(() => undefined);
  while (!over) await vi.advanceTimersByTimeAsync(1);
  return done;
};

/** A store that grows, and a state that follows it, row by row with pauses in between, as one that is read from a database. */
const world = (patience = { held: 5, free: 1000 }) => {
  const store = { rows: 0, version: 1 };
  let fails = 0;
  const turns = new Turns<{ readonly version: number; rows: number }>({
    patience,
    bring: async (before, alone) => {
      const { version } = store;
      await pause(1);
      if (fails > 0) {
        fails--;
        throw new Error('away');
      }
      const to = store.rows;
      if (before?.version !== version) return { version, rows: to };
      if (before.rows !== to)
        await alone(async () => {
          while (before.rows < to) {
            before.rows++;
            await pause(0);
          }
        });
      return before;
    },
  });
  return { store, turns, fail: (times: number) => (fails = times) };
};

test('whatever comes in which order: a held state stays as it was, and is no older than what was there when nobody held it', () =>
  byClock(async () => {
    const step = fc.record({
      what: fc.constantFrom('hold', 'hold', 'hold', 'row', 'row', 'publish', 'pause'),
      ms: fc.integer({ min: 0, max: 12 }),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 5, maxLength: 60 }), async (steps) => {
        const { store, turns } = world();
        const came: number[] = [];
        const rowsAt = (at: number): number => came.filter((c) => c < at).length;
        const working: Promise<void>[] = [];
        for (const { what, ms } of steps) {
          if (what === 'row') came.push((store.rows++, Date.now()));
          else if (what === 'publish') store.version++;
          else if (what === 'pause') await pause(ms);
          else
            working.push(
              (async () => {
                const asked = Date.now();
                const { state, age, release } = await turns.hold();
                const seen = { ...state };
                // What has no age has all that was there when it was asked for; what has one, all of that time.
                const at = age === 0 ? asked : Date.now() - age;
                expect(state.rows).toBeGreaterThanOrEqual(rowsAt(at));
                for (let i = 0; i < 3; i++) {
                  await pause(ms / 3);
                  expect(state).toEqual(seen);
                }
                release();
                release();
              })(),
            );
        }
        await Promise.all(working);
        const { state, release } = await turns.hold();
        expect(state).toEqual(store);
        release();
      }),
      { numRuns: 60 },
    );
  }));

test('what was already recorded somebody came is in what it gets, though a look is under way already', () =>
  byClock(async () => {
    const { store, turns } = world();
    (await turns.hold()).release();
    for (let i = 0; i < 50; i++) {
      const early = turns.hold().then((h) => h.release());
      await pause(i % 3);
      store.rows++;
      const { state, release } = await turns.hold();
      expect(state.rows).toBe(store.rows);
      release();
      await early;
    }
  }));

test('one look at a time, whenever somebody comes: also in the moment between the end of one and the beginning of the next', () =>
  byClock(async () => {
    let [looks, max] = [0, 0];
    let end: () => void = () => undefined;
    const turns = new Turns<object>({
      patience: { held: 1500, free: 5000 },
      bring: async (before) => {
        max = Math.max(max, ++looks);
        await new Promise<void>((done) => (end = done));
        looks--;
        return before ?? {};
      },
    });
    const came = [turns.hold(), turns.hold()];
    end();
    for (let i = 0; i < 30; i++) {
      await Promise.resolve();
      came.push(turns.hold());
    }
    // oxlint-disable-next-line no-restricted-globals -- by the clock of the test
    const ending = setInterval(() => end(), 1);
    for (const hold of came) (await hold).release();
    clearInterval(ending);
    expect(max).toBe(1);
  }));

test('a long computation keeps nobody waiting: the others compute on the state that it holds, and the rest comes after it', () =>
  byClock(async () => {
    const { store, turns } = world();
    const long = await turns.hold();
    store.rows = 3;
    const from = Date.now();
    const short = await turns.hold();
    // As long as its patience says, by the clock of the test.
    expect(Date.now() - from).toBe(5);
    expect([short.state.rows, long.state.rows]).toEqual([0, 0]);
    // The first look began a ms before it ended; then the patience.
    expect([short.age, long.age]).toEqual([6, 0]);
    expect(turns.isWaitedFor).toBe(true);
    // One has waited in vain: the next one need not.
    const again = Date.now();
    const third = await turns.hold();
    expect([Date.now() - again, third.state.rows, third.age]).toEqual([0, 0, short.age]);
    third.release();
    short.release();
    long.release();
    const after = await turns.hold();
    expect([after.state.rows, after.age]).toEqual([3, 0]);
    expect(turns.isWaitedFor).toBe(false);
    after.release();
  }));

test('another version is made beside one that is held', () =>
  byClock(async () => {
    const { store, turns } = world();
    const long = await turns.hold();
    store.version = 2;
    let version = 0;
    while (version !== 2) {
      const { state, release } = await turns.hold();
      version = state.version;
      release();
      await pause(1);
    }
    expect(long.state.version).toBe(1);
    long.release();
  }));

test('what fails is told to whoever waits for it, and to nobody after', () =>
  byClock(async () => {
    const { store, turns, fail } = world();
    fail(1);
    await expect(turns.hold()).rejects.toThrow('away');
    const first = await turns.hold();
    first.release();
    store.rows = 1;
    fail(1);
    await expect(turns.hold()).rejects.toThrow('away');
    const next = await turns.hold();
    expect(next.state.rows).toBe(1);
    next.release();
  }));

test('what waits for one holder alone is let in by that one; where another holds the state too, nobody lets go in vain', () =>
  byClock(async () => {
    const { store, turns } = world();
    const first = await turns.hold();
    expect(turns.waitsForOne).toBe(false);
    store.rows = 3;
    // Somebody comes for the newest, and gets the one before, which they hold as well.
    const second = await turns.hold();
    expect([second.state, turns.isWaitedFor, turns.waitsForOne]).toEqual([first.state, true, false]);
    second.release();
    expect(turns.waitsForOne).toBe(true);
    first.release();
    const next = await turns.hold();
    expect([next.state.rows, turns.waitsForOne]).toEqual([3, false]);
    next.release();
  }));
