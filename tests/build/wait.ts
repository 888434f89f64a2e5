/** Waiting in tests: for a condition, never for a span of time. The limit is there so that a run ends at all; no test is judged by it. */

/** Longer than anything takes on a machine that has eight other processes to run. */
const WITHIN_MS = Number(process.env['SIGNAL_POST_UNTIL_MS'] ?? 240_000);
const FIRST_PAUSE_MS = 5;
const LONGEST_PAUSE_MS = 200;

// The real ones, also where a test has put a clock of its own in their place since.
// oxlint-disable-next-line no-restricted-properties -- this is where waiting for a condition pauses between its looks
const { setTimeout: later, setImmediate: soon } = globalThis;
// oxlint-disable-next-line no-restricted-globals -- the limit at which waiting is given up, judging nothing
const now = performance.now.bind(performance);
const pause = (ms: number): Promise<void> => new Promise((next) => later(next, ms));

/** What `look` gives as soon as it is neither `undefined` nor `false`.
 *  Errors: `what` did not come within the limit, with what the last look threw where it did.
 */
export const until = async <T>(
  what: string,
  look: () => T | undefined | false | Promise<T | undefined | false>,
  withinMs = WITHIN_MS,
): Promise<T> => {
  const from = now();
  let ms = FIRST_PAUSE_MS;
  let why: unknown;
  do {
    try {
      const found = await look();
      if (found !== undefined && found !== false) return found;
      why = undefined;
    } catch (e) {
      why = e;
    }
    await pause(ms);
    ms = Math.min(LONGEST_PAUSE_MS, ms * 1.5);
  } while (now() - from < withinMs);
  throw new Error(`no ${what} within ${Math.round(withinMs / 1000)} s`, { cause: why });
};

/** A promise with what settles it, for work that a test ends when it wants to. */
export const gate = <T = void>(): { readonly opened: Promise<T>; readonly open: (value: T) => void } => {
  let open!: (value: T) => void;
  const opened = new Promise<T>((done) => (open = done));
  return { opened, open };
};

/** All that is ready to go on has had its turn: what waits for a timer or for another process has not. */
export const settled = async (): Promise<void> => {
  for (let i = 0; i < 20; i++) await new Promise((next) => soon(next));
};

/** Resolves when `holds` throws nothing any more; before each look `meanwhile` is done, such as setting a clock of the test's own on.
 *  Errors: what it threw last, where it goes on throwing.
 */
export const eventually = async (holds: () => unknown, meanwhile: () => unknown = () => undefined): Promise<void> => {
  try {
    await until('end of waiting', async () => {
      await meanwhile();
      await holds();
      return true;
    });
  } catch (e) {
    throw (e as Error).cause ?? e;
  }
};
