// Loaded before the server: whoever started it may ask what it holds.
process.on('message', (asked) => {
  if (asked !== 'memory') return;
  globalThis.gc();
  process.send(process.memoryUsage());
});
process.channel.unref();
