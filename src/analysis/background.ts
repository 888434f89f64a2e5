/** Work of the thread that nobody waits for, beside what somebody does. */

let views = 0;

/** Somebody waits from now on; what is returned is called when that is over, once. */
export const somebodyWaits = (): (() => void) => {
  views++;
  let isOver = false;
  return () => {
    if (isOver) return;
    isOver = true;
    views--;
  };
};

/** While somebody waits, work in the background has this part of the thread's time at most. */
const SHARE = 1 / 10;
const LOOK_AGAIN_MS = 5;

/** After work in the background there is a pause of so many times what it took, so that it keeps to the share, too. `SIGNAL_POST_PAUSES`: another
 *  factor, for tests, whose waits must not hang on how busy the machine was.
 */
export const PAUSE_FACTOR = Number(process.env['SIGNAL_POST_PAUSES'] ?? 1 / SHARE - 1);

/** By which the share is kept. */
export interface Clock {
  /** In ms. */
  now(): number;
  /** Gives all else that waits its turn. */
  giveWay(): Promise<void>;
  wait(ms: number): Promise<void>;
}

const REAL: Clock = {
  now: () => performance.now(),
  giveWay: () => new Promise((next) => setImmediate(next)),
  wait: (ms) => new Promise((next) => setTimeout(next, ms)),
};

export interface Done<T> {
  readonly value: T;
  /** What it took, without the pauses. */
  readonly ms: number;
}

/** Runs a computation step by step. All else that waits has its turn in between; after a step that somebody waited through, there is a pause of as many times
 *  what it took as keeps to the share, or until nobody waits, or `isWanted` says that it is this that somebody waits for.
 */
export const inBackground = async <T>(
  steps: Generator<void, T>,
  isWanted: () => boolean = () => false,
  { now, giveWay, wait } = REAL,
): Promise<Done<T>> => {
  let ms = 0;
  for (;;) {
    const from = now();
    const step = steps.next();
    const took = now() - from;
    ms += took;
    if (step.done) return { value: step.value, ms };
    const until = from + took / SHARE;
    await giveWay();
    while (views > 0 && !isWanted() && now() < until) await wait(LOOK_AGAIN_MS);
  }
};
