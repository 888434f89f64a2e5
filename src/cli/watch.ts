/** Runs something again when files change. */
import { watch } from 'chokidar';

const PAUSE_MS = 100;

/** Resolves when the signal ends it.
 *  Shape: runs once when the files are watched, and again after each change, never twice at a time; changes that come together are one.
 */
export const whenever = async (paths: readonly string[], work: () => Promise<void>, end: AbortSignal): Promise<void> => {
  const watcher = watch([...paths], { ignored: (path) => /(?:^|\/)(?:node_modules|\.git|dist)(?:\/|$)/.test(path), ignoreInitial: true });
  let running: Promise<void> | undefined;
  let isStale = false;
  let timer: NodeJS.Timeout | undefined;
  const again = (): void => {
    if (running) {
      isStale = true;
      return;
    }
    running = work().finally(() => {
      running = undefined;
      if (isStale && !end.aborted) {
        isStale = false;
        again();
      }
    });
  };
  await new Promise<void>((done) => watcher.once('ready', done));
  watcher.on('all', () => {
    clearTimeout(timer);
    timer = setTimeout(again, PAUSE_MS);
  });
  again();
  await new Promise<void>((done) => {
    if (end.aborted) done();
    else end.addEventListener('abort', () => done(), { once: true });
  });
  clearTimeout(timer);
  await watcher.close();
  await running;
};
