/** All stored messages as bytes, in one COPY: for loading the columns at once. */
import type { Socket } from 'node:net';
import type pg from 'pg';
import { withClient } from './checkout';
import type { Database } from './database';
import { columnRows } from './message-store';
import { readInPlace } from './quick-socket';

/** Takes one stored message: bytes of UTF-8, which are there only now; begin and end of source, kind, name, release, body and findings
 *  (of no bytes: none) among them, at least three bytes before the last of all; its sequence number; when it occurred and when it
 *  was received, UTC epoch ms.
 */
export type TakeRow = (bytes: Buffer, view: DataView, at: Int32Array, seq: number, occurredAt: number, receivedAt: number) => void;

/** Bytes that stand behind every row, so that four can be read at once anywhere. */
const PADDING = 4;
const SIGNATURE = 'PGCOPY\n';
const NUMBERS = 3;
const TEXTS = 6;
const EPOCH_2000_MS = Date.UTC(2000, 0, 1);
/** Of a message of the protocol: its letter, and its length, which counts itself. */
const HEAD = 5;
const COPY_DATA = 100;
const READY_FOR_QUERY = 90;
const FIRST_CAPACITY = 1 << 18;

const int64 = (view: DataView, at: number): number => view.getInt32(at) * 2 ** 32 + view.getUint32(at + 4);

/** Reads rows of COPY's binary format: the count of fields, then each field after its length.
 *  Source: PostgreSQL documentation, COPY, "Binary Format". PostgreSQL sends each row in a message of its own, as it does the header
 *  and the trailer.
 */
class Rows {
  private readonly at = new Int32Array(TEXTS * 2);
  private begun = false;
  constructor(private readonly take: TakeRow) {}

  read(bytes: Buffer, view: DataView, from: number, to: number): void {
    let begin = from;
    if (!this.begun) {
      // The header may come together with the first row.
      this.begun = true;
      if (bytes.toString('latin1', from, from + SIGNATURE.length) !== SIGNATURE) throw new Error('PostgreSQL sent no binary copy');
      begin += 19 + view.getInt32(from + 15);
    }
    if (begin + 2 > to || view.getInt16(begin) < 0) return;
    const { at } = this;
    const numbers = begin + 2;
    let i = numbers + NUMBERS * 12;
    for (let k = 0; k < TEXTS; k++) {
      const length = view.getInt32(i);
      at[2 * k] = i + 4;
      at[2 * k + 1] = i += 4 + Math.max(0, length);
    }
    const occurredAt = EPOCH_2000_MS + int64(view, numbers + 16) / 1000;
    this.take(bytes, view, at, int64(view, numbers + 4), occurredAt, EPOCH_2000_MS + int64(view, numbers + 28) / 1000);
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

/** The planner would sort all messages, on disk, before it sends the first. The indexes have them in order already, and whoever loads
 *  columns reads nearly every page one after the other.
 */
const IN_ORDER = 'begin read only; set local random_page_cost = 1.1; set local jit = off';

/** Gives the messages after a sequence number to `take`, oldest first, in one stream.
 *  Errors: what `take` throws, and what the database says, reject.
 */
export const streamMessages = (database: Database, after: number, take: TakeRow): Promise<void> =>
  withClient(database, async (client) => {
    await client.query(IN_ORDER);
    await new Promise<void>((resolve, reject) => {
      client.once('error', reject);
      client.query(
        new CopyOut(`copy (${columnRows(after)}) to stdout (format binary)`, new Rows(take), (e) => {
          client.removeListener('error', reject);
          if (e) reject(e);
          else resolve();
        }),
      );
    });
    await client.query('commit');
  });
