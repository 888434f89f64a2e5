/** Rows out of PostgreSQL as bytes, in one COPY, read where they lie. */
import type { Socket } from 'node:net';
import type pg from 'pg';
import { readInPlace } from './quick-socket';

/** Takes a row: its bytes, which are there only now, at least three before the last of all; and where its first field begins. Before each field
 *  is its length as four bytes, −1 for null.
 */
export type TakeFields = (bytes: Buffer, view: DataView, at: number) => void;

/** Bytes that are behind every row, so that four can be read at once anywhere. */
const PADDING = 4;
const SIGNATURE = 'PGCOPY\n';
/** Of a message of the protocol: its letter, and its length, which counts itself. */
const HEAD = 5;
const COPY_DATA = 100;
const READY_FOR_QUERY = 90;
const FIRST_CAPACITY = 1 << 18;

export const int64 = (view: DataView, at: number): number => view.getInt32(at) * 2 ** 32 + view.getUint32(at + 4);

/** Reads rows of COPY's binary format: the count of fields, then each field after its length.
 *  Source: PostgreSQL documentation, COPY, "Binary Format". PostgreSQL sends each row in a message of its own, as it does the header
 *  and the trailer.
 */
class Rows {
  private begun = false;
  constructor(private readonly take: TakeFields) {}

  read(bytes: Buffer, view: DataView, from: number, to: number): void {
    let begin = from;
    if (!this.begun) {
      // The header may come together with the first row.
      this.begun = true;
      if (bytes.toString('latin1', from, from + SIGNATURE.length) !== SIGNATURE) throw new Error('PostgreSQL sent no binary copy');
      begin += 19 + view.getInt32(from + 15);
    }
    if (begin + 2 > to || view.getInt16(begin) < 0) return;
    this.take(bytes, view, begin + 2);
  }
}

type Listener = (chunk: Buffer) => void;

/** A COPY out whose rows are read where they lie, in one piece of memory. While it runs it listens to the connection in the driver's stead,
 *  which would make an object of every row, and hands on to the driver whatever is no row.
 *  Source of the messages: PostgreSQL documentation, "Message Formats".
 */
class CopyOut implements pg.Submittable {
  private bytes = Buffer.allocUnsafeSlow(FIRST_CAPACITY) as Buffer;
  private view = new DataView(this.bytes.buffer);
  private used = 0;
  private failed: Error | undefined;
  private stream!: Socket;
  private driver: Listener[] = [];

  constructor(
    private readonly text: string,
    private readonly rows: Rows,
    private readonly done: (failed?: Error) => void,
  ) {}

  submit(connection: pg.Connection): void {
    this.stream = connection.stream as Socket;
    this.driver = this.stream.listeners('data') as Listener[];
    this.stream.on('data', this.receive);
    for (const l of this.driver) this.stream.removeListener('data', l);
    readInPlace(this.stream, true);
    (connection as unknown as { query(text: string): void }).query(this.text);
  }

  private readonly receive = (chunk: Buffer): void => {
    this.keep(chunk);
    const { view } = this;
    let at = 0;
    while (at + HEAD <= this.used) {
      const end = at + 1 + view.getInt32(at + 1);
      if (end > this.used) break;
      const letter = view.getUint8(at);
      if (letter === COPY_DATA) this.row(at + HEAD, end);
      else if (letter === READY_FOR_QUERY) return this.handBack(at);
      else this.hand(at, end);
      at = end;
    }
    if (at > 0) {
      this.bytes.copyWithin(0, at, this.used);
      this.used -= at;
    }
  };

  /** Puts what came behind what is kept of the last chunk. */
  private keep(chunk: Buffer): void {
    const needed = this.used + chunk.length + PADDING;
    if (needed > this.bytes.length) {
      const more = Buffer.allocUnsafeSlow(Math.max(needed, this.bytes.length * 2));
      this.bytes.copy(more, 0, 0, this.used);
      this.bytes = more;
      this.view = new DataView(more.buffer);
    }
    chunk.copy(this.bytes, this.used);
    this.used += chunk.length;
  }

  private row(from: number, to: number): void {
    if (this.failed) return;
    try {
      this.rows.read(this.bytes, this.view, from, to);
    } catch (e) {
      this.failed = e as Error;
    }
  }

  private hand(from: number, to: number): void {
    const message = Buffer.from(this.bytes.subarray(from, to));
    for (const l of this.driver) l.call(this.stream, message);
  }

  private handBack(from: number): void {
    for (const l of this.driver) this.stream.on('data', l);
    this.stream.removeListener('data', this.receive);
    readInPlace(this.stream, false);
    this.hand(from, this.used);
  }

  handleCommandComplete(): void {
    // What follows, that the connection is ready again, says that all is over.
  }
  handleError(e: Error): void {
    this.done(e);
  }
  handleReadyForQuery(): void {
    this.done(this.failed);
  }
}

/** Gives the rows of a query to `take`.
 *  Errors: what `take` throws, and what the database says, reject.
 */
export const copyOut = (client: pg.PoolClient, query: string, take: TakeFields): Promise<void> =>
  new Promise((resolve, reject) => {
    client.once('error', reject);
    client.query(
      new CopyOut(`copy (${query}) to stdout (format binary)`, new Rows(take), (e) => {
        client.removeListener('error', reject);
        if (e) reject(e);
        else resolve();
      }),
    );
  });
