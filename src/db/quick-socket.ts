/** A connection whose bytes are read into one piece of memory, again and again, instead of a new one for each read. */
import { Socket, type ConnectOpts, type SocketConstructorOpts } from 'node:net';

const CAPACITY = 1 << 18;
const reading = new WeakSet<object>();

/** What a driver gets may be kept by it, so it gets a copy, but for as long as `readInPlace` says. */
export const quickSocket = (): Socket => {
  const onread: ConnectOpts['onread'] = {
    buffer: Buffer.allocUnsafeSlow(CAPACITY),
    callback: (count, memory) => {
      const chunk = (memory as Buffer).subarray(0, count);
      socket.emit('data', reading.has(socket) ? chunk : Buffer.from(chunk));
      return true;
    },
  };
  // The types know the option where a socket is connected, Node.js takes it where one is made.
  const options: SocketConstructorOpts & ConnectOpts = { onread };
  const socket: Socket = new Socket(options);
  return socket;
};

/** Whether who listens to the socket has done with a chunk before the next one comes, and needs no copy. No more than a word to a
 *  socket of another make, such as one that is encrypted.
 */
export const readInPlace = (socket: object, on: boolean): void => {
  if (on) reading.add(socket);
  else reading.delete(socket);
};
