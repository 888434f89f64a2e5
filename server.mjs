// The entry of the built application: starts Astro's server, drains it on SIGTERM and SIGINT.
import { get } from 'node:http';

process.env.ASTRO_NODE_AUTOSTART = 'disabled';
globalThis.signalPostThread = new URL('./dist/analysis/thread.mjs', import.meta.url);
const { startServer } = await import('./dist/server/entry.mjs');
const { server } = startServer();
// Streams of lines have no end; whoever sends slowly is looked after where bodies are read.
server.server.requestTimeout = 0;
server.server.headersTimeout = 15_000;
// Longer than what stands before it keeps a connection, so that no request meets one that is just being closed.
server.server.keepAliveTimeout = 75_000;
server.server.maxConnections = 4000;
server.server.on('error', (e) => {
  console.error(`The server cannot listen: ${e.message}`);
  process.exit(1);
});
// The application is loaded, and its analysis begun, before anybody asks.
server.server.on('listening', () => {
  const { address, family, port } = server.server.address();
  const host = { '0.0.0.0': '127.0.0.1', '::': '[::1]' }[address] ?? (family === 'IPv6' ? `[${address}]` : address);
  globalThis.signalPostAddress = `http://${host}:${port}`;
  get(`${globalThis.signalPostAddress}/api/alive`, (answer) => answer.resume()).on('error', () => undefined);
});
// What the intake takes as it comes goes to it first; all else, and all before it was loaded, to Astro.
const others = server.server.listeners('request');
server.server.removeAllListeners('request');
server.server.on('request', (request, response) => {
  if (globalThis.signalPostIntake?.(request, response) || globalThis.signalPostLive?.(request, response)) return;
  for (const other of others) other.call(server.server, request, response);
});

let stopping = false;
const stop = () => {
  if (stopping) return;
  stopping = true;
  const force = setTimeout(() => server.server.closeAllConnections(), 3000);
  server.server.close(async () => {
    clearTimeout(force);
    await Promise.all([globalThis.signalPostAnalysis?.stop(), globalThis.signalPostLeave?.()]);
    await globalThis.signalPostDatabase?.pool.end().catch(() => undefined);
    process.exit(0);
  });
  server.server.closeIdleConnections();
  // Event streams never end by themselves.
  globalThis.signalPostStreams?.forEach((end) => end());
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
// The script that started this one holds the other end: when it is killed, this goes too.
if (process.env.SIGNAL_POST_TIED === '1') {
  process.stdin.resume();
  process.stdin.on('end', stop);
}
