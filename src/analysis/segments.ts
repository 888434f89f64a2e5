/** Keeps runs of messages as columns, in the background: a process that starts then reads these, and only what came since as messages. */
import { SEGMENT_FORMAT, writeSegment } from '../core/table/segment';
import { segmentsUpTo, storeSegment } from '../db/segment-store';
import { database } from '../server/context';
import { heldState, isWholeUpTo, onOneState } from './columns';
import { defineJob } from './jobs';

/** So many messages at a time: what came after the last of them is read as messages, in a fraction of a second. */
const ROWS = 131_072;

/** One run a job, so that whoever waits for the columns has its turn. */
const keepNext = async (): Promise<void> => {
  const after = await segmentsUpTo(database(), SEGMENT_FORMAT);
  const isMore = await onOneState(async () => {
    const { table } = heldState();
    const from = table.rowOf(after + 1);
    const to = from + ROWS;
    if (to > table.length) return false;
    const upTo = table.seq.get(to - 1);
    if (!isWholeUpTo(table, upTo)) return false;
    await storeSegment(database(), { after, upTo, rows: ROWS, bytes: writeSegment(table, from, to) }, SEGMENT_FORMAT);
    return to + ROWS <= table.length;
  });
  if (isMore) await job.ask();
};

const job = defineJob('columns', keepNext, '*/10 * * * *');

/** Asks for what is not kept yet to be kept, by whichever process. */
export const keepColumns = (): Promise<void> => job.ask();
