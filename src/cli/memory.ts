/** Keeps a long run's memory near what it holds: what was read and let go is taken back as it goes on, not when the heap has grown to gigabytes. */
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

const EVERY = 25_000;

/** Called with each message; collects after every so many. */
export const tidy = (): (() => void) => {
  let n = 0;
  let collect: (() => void) | undefined;
  return () => {
    if (++n % EVERY !== 0) return;
    if (!collect) {
      setFlagsFromString('--expose-gc');
      collect = runInNewContext('gc') as () => void;
    }
    collect();
  };
};
