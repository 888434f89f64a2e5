/** Clients that are slow, greedy or wrong, for `bench crowd`. */
import { connect, type Socket } from 'node:net';
import { gzipSync } from 'node:zlib';
import { pause } from '../ops/shell';
import type { Served } from './served';

/** What is returned ends them, and says what they did. */
const others = (s: Pick<Served, 'base' | 'key'>): (() => Promise<string>) => {
  const { port, host } = new URL(s.base);
  const done = { slow: 0, streams: 0, bombs: 0, wrongKeys: 0, bad: 0 };
  let over = false;
  const sockets = new Set<Socket>();
  const open = (text: string): Socket => {
    const socket = connect(Number(port), '127.0.0.1', () => socket.write(text));
    socket.on('error', () => undefined);
    socket.on('close', () => sockets.delete(socket));
    sockets.add(socket);
    return socket;
  };
  const head = `POST /intake HTTP/1.1\r\nhost: ${host}\r\nauthorization: Bearer ${s.key}\r\ncontent-length: 9000000\r\n\r\n[`;
  const dripping: Socket[] = [];
  for (let i = 0; i < 100; i++, done.slow++) dripping.push(open(i % 2 ? head : `POST /intake HTTP/1.1\r\nhost: ${host}\r\nx-slow: `));
  // Half of the streams are read, half are not.
  for (let i = 0; i < 100; i++, done.streams++) {
    const socket = open(`GET /api/live?after=0 HTTP/1.1\r\nhost: ${host}\r\n\r\n`);
    if (i % 2) socket.pause();
    else socket.resume();
  }
  const loop = async (everyMs: number, work: () => Promise<void>): Promise<void> => {
    while (!over) {
      await work().catch(() => undefined);
      await pause(everyMs);
    }
  };
  const send = (body: BodyInit, headers: Record<string, string>): Promise<unknown> =>
    fetch(`${s.base}/intake`, { method: 'POST', headers: { 'content-type': 'application/json', ...headers }, body }).then((r) => r.text());
  const auth = { authorization: `Bearer ${s.key}` };
  const bomb = new Uint8Array(gzipSync(Buffer.alloc(190_000_000, 10)));
  const bad = JSON.stringify(
    Array.from({ length: 50 }, (_, i) => (i % 2 ? { id: 'x'.repeat(5000), name: 'No' } : { name: 'Tool Viewed', time: 'never' })),
  );
  const loops = [
    loop(1000, async () => {
      for (const socket of dripping) socket.write('a');
      await Promise.resolve();
    }),
    loop(1000, () =>
      send(bomb, { ...auth, 'content-type': 'application/x-ndjson', 'content-encoding': 'gzip' }).then(() => void done.bombs++),
    ),
    loop(20, () => send('[]', { authorization: 'Bearer spk_wrong' }).then(() => void done.wrongKeys++)),
    loop(100, () => send(bad, auth).then(() => void done.bad++)),
  ];
  return async () => {
    over = true;
    for (const socket of sockets) socket.destroy();
    await Promise.all(loops);
    return `${done.slow} slow bodies and heads, ${done.streams} streams half of them unread, ${done.bombs} packed bombs, ${done.wrongKeys} wrong keys, ${done.bad} lists of bad messages`;
  };
};

const [base, key] = process.argv.slice(2);
const end = others({ base: base!, key: key! });
process.on('disconnect', () => process.exit());
process.send!('begun');
process.once('message', () => void end().then((said) => process.send!(said)));
