/** Keeps a long run's memory near what it holds: what was read and let go is taken back as it goes on, not when the heap has grown to gigabytes. */
import { getHeapStatistics, setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

/** So often it is looked at how much there is. */
export const EVERY = 1000;
/** So many bytes may lie about. */
const LOOSE = 12_000_000;

/** Called with each message, or with each step of so many messages' work; collects what lies about when it has become much. */
export const tidy = (): ((messages?: number) => void) => {
  let n = 0;
  let held = 0;
  let collect: (() => void) | undefined;
  return (messages = 1) => {
    if ((n += messages) < EVERY) return;
    n = 0;
    if (!collect) {
      setFlagsFromString('--expose-gc');
      // What is new has a small place of its own, which stays as it is: what does not live long is swept out of it at once.
      setFlagsFromString('--semi-space-growth-factor=1');
      collect = runInNewContext('gc') as () => void;
    } else if (getHeapStatistics().used_heap_size < held + LOOSE) return;
    collect();
    held = getHeapStatistics().used_heap_size;
  };
};
