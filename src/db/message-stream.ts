/** All stored messages as bytes, in one COPY: for loading the columns at once. */
import type pg from 'pg';
import type { Database } from './database';
import { columnRows } from './message-store';

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

const int64 = (view: DataView, at: number): number => view.getInt32(at) * 2 ** 32 + view.getUint32(at + 4);

/** Reads rows of COPY's binary format: the count of fields, then each field after its length.
 *  Source: PostgreSQL documentation, COPY, "Binary Format". PostgreSQL sends each row in a message of its own, as it does the header
 *  and the trailer.
 */
const rowsTo = (take: TakeRow): ((chunk: Buffer) => void) => {
  const at = new Int32Array(TEXTS * 2);
  let bytes = Buffer.alloc(0) as Buffer;
  let view = new DataView(bytes.buffer);
  let begun = false;
  return (given) => {
    let chunk = given;
    if (!begun) {
      // The header may come together with the first row.
      begun = true;
      if (chunk.toString('latin1', 0, SIGNATURE.length) !== SIGNATURE) throw new Error('PostgreSQL sent no binary copy');
      chunk = chunk.subarray(19 + chunk.readInt32BE(15));
    }
    if (chunk.length < 2 || chunk.readInt16BE(0) < 0) return;
    if (chunk.byteOffset + chunk.length + PADDING > chunk.buffer.byteLength) {
      const longer = Buffer.allocUnsafeSlow(chunk.length + PADDING);
      chunk.copy(longer);
      chunk = longer;
    }
    // Many rows lie in the same memory.
    if (chunk.buffer !== view.buffer) {
      bytes = Buffer.from(chunk.buffer);
      view = new DataView(chunk.buffer);
    }
    const numbers = chunk.byteOffset + 2;
    let i = numbers + NUMBERS * 12;
    for (let k = 0; k < TEXTS; k++) {
      const length = view.getInt32(i);
      at[2 * k] = i + 4;
      at[2 * k + 1] = i += 4 + Math.max(0, length);
    }
    const occurredAt = EPOCH_2000_MS + int64(view, numbers + 16) / 1000;
    take(bytes, view, at, int64(view, numbers + 4), occurredAt, EPOCH_2000_MS + int64(view, numbers + 28) / 1000);
  };
};

/** A COPY out whose rows are handled where they lie, in the memory that they were received in. */
class CopyOut implements pg.Submittable {
  private failed: Error | undefined;
  constructor(
    private readonly text: string,
    private readonly row: (chunk: Buffer) => void,
    private readonly done: (failed?: Error) => void,
  ) {}
  submit(connection: pg.Connection): void {
    (connection as unknown as { query(text: string): void }).query(this.text);
  }
  handleCopyData({ chunk }: { chunk: Buffer }): void {
    if (this.failed) return;
    try {
      this.row(chunk);
    } catch (e) {
      this.failed = e as Error;
    }
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

/** Gives the messages after a sequence number to `take`, oldest first, in one stream.
 *  Errors: what `take` throws, and what the database says, reject.
 */
export const streamMessages = async ({ pool }: Database, after: number, take: TakeRow): Promise<void> => {
  const client = await pool.connect();
  let failed: Error | undefined;
  try {
    await new Promise<void>((resolve, reject) => {
      client.once('error', reject);
      client.query(
        new CopyOut(`copy (${columnRows(after)}) to stdout (format binary)`, rowsTo(take), (e) => {
          client.removeListener('error', reject);
          if (e) reject(e);
          else resolve();
        }),
      );
    });
  } catch (e) {
    failed = e as Error;
    throw e;
  } finally {
    client.release(failed);
  }
};
