/** All stored messages as bytes, in one COPY: for loading the columns at once. */
import { withClient } from './checkout';
import { copyOut, int64 } from './copy-out';
import type { Database } from './database';
import { columnRows } from './message-store';

/** Takes one stored message: bytes of UTF-8, which are there only now; begin and end of source, kind, name, release, body and findings
 *  (of no bytes: none) among them, at least three bytes before the last of all; its sequence number; when it occurred and when it
 *  was received, UTC epoch ms.
 */
export type TakeRow = (bytes: Buffer, view: DataView, at: Int32Array, seq: number, occurredAt: number, receivedAt: number) => void;

const NUMBERS = 3;
const TEXTS = 6;
const EPOCH_2000_MS = Date.UTC(2000, 0, 1);

/** The planner would sort all messages, on disk, before it sends the first. The indexes have them in order already, and whoever loads
 *  columns reads nearly every page one after the other.
 */
const IN_ORDER = 'begin read only; set local random_page_cost = 1.1; set local jit = off';

/** Gives the messages after a sequence number to `take`, oldest first, in one stream.
 *  Errors: what `take` throws, and what the database says, reject.
 */
export const streamMessages = (database: Database, after: number, take: TakeRow): Promise<void> =>
  withClient(database, async (client) => {
    const at = new Int32Array(TEXTS * 2);
    await client.query(IN_ORDER);
    await copyOut(client, columnRows(after), (bytes, view, numbers) => {
      let i = numbers + NUMBERS * 12;
      for (let k = 0; k < TEXTS; k++) {
        const length = view.getInt32(i);
        at[2 * k] = i + 4;
        at[2 * k + 1] = i += 4 + Math.max(0, length);
      }
      const occurredAt = EPOCH_2000_MS + int64(view, numbers + 16) / 1000;
      take(bytes, view, at, int64(view, numbers + 4), occurredAt, EPOCH_2000_MS + int64(view, numbers + 28) / 1000);
    });
    await client.query('commit');
  });
