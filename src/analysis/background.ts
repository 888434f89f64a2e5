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

export interface Done<T> {
  readonly value: T;
  /** What it took, without the pauses. */
  readonly ms: number;
}

/** Runs a computation step by step. All else that waits has its turn in between; after a step that somebody waited through, there is a pause of as many times
 *  what it took as keeps to the share, or until nobody waits, or `isWanted` says that it is this that somebody waits for.
 */
export const inBackground = async <T>(steps: Generator<void, T>, isWanted: () => boolean = () => false): Promise<Done<T>> => {
  let ms = 0;
  for (;;) {
    const from = performance.now();
    const step = steps.next();
    const took = performance.now() - from;
    ms += took;
    if (step.done) return { value: step.value, ms };
    const until = from + took / SHARE;
    await new Promise((next) => setImmediate(next));
    while (views > 0 && !isWanted() && performance.now() < until) await new Promise((next) => setTimeout(next, LOOK_AGAIN_MS));
  }
};
