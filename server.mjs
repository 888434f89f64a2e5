// The entry of the built application: starts Astro's server, drains it on SIGTERM and SIGINT.
import { get } from 'node:http';
import { isIP } from 'node:net';
import compression from 'compression';
import proxyAddress from 'proxy-addr';

process.env.NODE_ENV ??= 'production';

// Who asks is whoever the connection is with, unless that is a proxy that was named: then whoever it says. Anybody can write such a header.
const CALLER = 'x-signal-post-caller';
let isProxy = () => false;
try {
  const proxies = (process.env.SIGNAL_POST_PROXIES ?? '').split(',').map((p) => p.trim()).filter(Boolean); // prettier-ignore
  if (proxies.length > 0) isProxy = proxyAddress.compile(proxies);
} catch (e) {
  console.error(
    `SIGNAL_POST_PROXIES: ${e.message}. Write addresses or networks with commas between them, such as 10.0.0.7, 192.168.0.0/24.`,
  );
  process.exit(1);
}
const nameCaller = (request) => {
  delete request.headers[CALLER];
  // From the connection outwards, as far as each is trusted; what is no address ends it.
  const all = proxyAddress.all(request, isProxy).map((a) => String(a ?? '').trim());
  const end = all.findIndex((a) => isIP(a) === 0);
  request.headers[CALLER] = (end < 0 ? all : all.slice(0, end)).at(-1) ?? '';
};

process.env.ASTRO_NODE_AUTOSTART = 'disabled';
process.env.SIGNAL_POST_THREAD = new URL('./dist/analysis/thread.mjs', import.meta.url).href;
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
  const own = `http://${host}:${port}`;
  process.env.SIGNAL_POST_ADDRESS ??= own;
  get(`${own}/api/alive`, (answer) => answer.resume()).on('error', () => undefined);
});
// Files and answers are packed; streams are not, since each of their pieces is to go out at once, and the intake's answers are short.
const pack = compression({
  threshold: 1024,
  level: 5,
  filter: (request, response) =>
    !/event-stream|x-ndjson/.test(String(response.getHeader('content-type'))) && compression.filter(request, response),
});
// What the intake takes as it comes goes to it first; all else, and all before it was loaded, to Astro.
const others = server.server.listeners('request');
server.server.removeAllListeners('request');
server.server.on('request', (request, response) => {
  nameCaller(request);
  // A request of this method cannot be made in the standard's words, so nothing below can read it. Source: Fetch Standard, forbidden method.
  if (request.method === 'TRACE' || request.method === 'TRACK') {
    response.writeHead(405, { 'content-type': 'application/json; charset=utf-8', allow: 'GET, HEAD, POST, OPTIONS' });
    response.end(JSON.stringify({ error: 'wrong method', detail: `${request.method} is not answered here.` }));
    return;
  }
  if (globalThis.signalPost?.takes(request, response)) return;
  pack(request, response, () => {
    for (const other of others) other.call(server.server, request, response);
  });
});

let stopping = false;
const stop = () => {
  if (stopping) return;
  stopping = true;
  const force = setTimeout(() => server.server.closeAllConnections(), 3000);
  server.server.close(async () => {
    clearTimeout(force);
    await globalThis.signalPost?.stop();
    process.exit(0);
  });
  server.server.closeIdleConnections();
  // Event streams never end by themselves.
  globalThis.signalPost?.endStreams();
};
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
// The script that started this one holds the other end: when it is killed, this goes too.
if (process.env.SIGNAL_POST_TIED === '1') {
  process.stdin.resume();
  process.stdin.on('end', stop);
}
