// Loaded before the server, and before each of its threads: whoever started it may ask what it holds.
import { isMainThread } from 'node:worker_threads';

if (isMainThread) {
  process.on('message', (asked) => {
    if (asked !== 'memory') return;
    globalThis.gc();
    process.send(process.memoryUsage());
  });
  process.channel.unref();
}
