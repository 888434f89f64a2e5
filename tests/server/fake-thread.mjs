// A thread that does what its address says, for the tests of whoever asks it.
import { readlinkSync } from 'node:fs';
import { parentPort } from 'node:worker_threads';

const text = (value) => new TextEncoder().encode(value);
const cancelled = [];
/** Lines are made one by one, each when it is asked for. */
let nextLine = () => undefined;

/** The number by which the kernel knows this thread. */
const own = Number(readlinkSync('/proc/thread-self').split('/').at(-1));

const does = {
  '/task': ({ id }) => {
    parentPort.postMessage({ task: own });
    parentPort.postMessage({ id, status: 200, headers: [] });
    parentPort.postMessage({ id, bytes: text(String(own)) });
    parentPort.postMessage({ id, end: true });
  },
  '/asleep': () => void Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0),
  '/echo': ({ id, ...asked }) => {
    parentPort.postMessage({
      id,
      status: 201,
      headers: [
        ['content-type', 'application/json'],
        ['x-from', 'thread'],
      ],
    });
    for (const piece of JSON.stringify(asked).match(/.{1,10}/gs)) parentPort.postMessage({ id, bytes: text(piece) });
    parentPort.postMessage({ id, end: true });
  },
  '/lines': async ({ id }) => {
    parentPort.postMessage({ id, status: 200, headers: [['content-type', 'application/x-ndjson']] });
    for (let n = 0; n < 20 && !cancelled.includes(id); n++) {
      const asked = new Promise((next) => (nextLine = next));
      parentPort.postMessage({ id, bytes: text(`${JSON.stringify({ n })}\n`) });
      await asked;
    }
    parentPort.postMessage({ id, end: true });
  },
  '/next-line': ({ id }) => {
    nextLine();
    parentPort.postMessage({ id, status: 204, headers: [] });
    parentPort.postMessage({ id, end: true });
  },
  '/lines-then-end': ({ id }) => {
    parentPort.postMessage({ id, status: 200, headers: [['content-type', 'application/x-ndjson']] });
    parentPort.postMessage({ id, bytes: text('{"n":0}\n') });
    process.exit(4);
  },
  '/cancelled': ({ id }) => {
    parentPort.postMessage({ id, status: 200, headers: [] });
    parentPort.postMessage({ id, bytes: text(JSON.stringify(cancelled)) });
    parentPort.postMessage({ id, end: true });
  },
  '/broken': ({ id }) => parentPort.postMessage({ id, broken: true }),
  '/never': () => undefined,
  '/end': () => process.exit(3),
  '/throw': () => {
    throw new Error('as asked');
  },
  '/stuck': () => {
    for (;;);
  },
  '/fill': () => {
    const all = [];
    for (;;) all.push(new Array(100_000).fill({}).map(() => ({})));
  },
};

parentPort.on('message', (said) => {
  if (said.ask) void does[said.ask.path](said.ask);
  else if (said.cancel) cancelled.push(said.cancel);
  else if (said.ping) parentPort.postMessage({ pong: said.ping, standing: { ready: true } });
  else process.exit(0);
});
