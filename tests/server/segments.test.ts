/** Columns read from what is kept of them are the columns that all messages give; what is broken is made again. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import { loadTable, loadWhole } from '../../src/analysis/columns';
import { MessageTable } from '../../src/core/table/message-table';
import { SEGMENT_FORMAT, writeSegment } from '../../src/core/table/segment';
import { openDatabase, type Database } from '../../src/db/database';
import { dropSegments, readSegments, segmentsUpTo, storeSegment, type StoredSegment } from '../../src/db/segment-store';
import { said } from '../build/messages';
import { testDatabase } from '../build/database';

let database: Database;
let whole: MessageTable;
beforeAll(async () => {
  const url = await testDatabase('segments_test', { visitors: 300 });
  database = openDatabase(url);
  whole = new MessageTable();
  await loadTable(database, whole);
});
afterAll(() => database.pool.end());

/** Keeps the first rows in runs of so many. */
const keep = async (runs: readonly number[]): Promise<number> => {
  let from = 0;
  for (const rows of runs) {
    const after = from === 0 ? 0 : whole.seq.get(from - 1);
    const to = from + rows;
    await storeSegment(database, { after, upTo: whole.seq.get(to - 1), rows, bytes: writeSegment(whole, from, to) }, SEGMENT_FORMAT);
    from = to;
  }
  return from;
};
const stored = async (format = SEGMENT_FORMAT): Promise<StoredSegment[]> => {
  const all: StoredSegment[] = [];
  await readSegments(database, format, (s) => all.push(s));
  return all;
};
const verdictsOf = (t: MessageTable) => [...t.judgedRows()].map((row) => [row, t.verdicts.get(row)]);

test('with none kept, with some, and with all', async () => {
  expect(whole.length).toBeGreaterThan(2000);
  expect(whole.judgedRows().length).toBeGreaterThan(100);
  for (const runs of [[], [1], [700, 1, 900], [700, 1, 900, whole.length - 1601]]) {
    await dropSegments(database);
    const kept = await keep(runs);
    expect(await segmentsUpTo(database, SEGMENT_FORMAT)).toBe(kept === 0 ? 0 : whole.seq.get(kept - 1));
    const read = await loadWhole(database, 'user');
    expect(said(read)).toEqual(said(whole));
    expect(verdictsOf(read)).toEqual(verdictsOf(whole));
    expect([...read.nodes]).toEqual([...whole.nodes]);
    expect([...read.reused, ...read.elsewhere]).toEqual([...whole.reused, ...whole.elsewhere]);
  }
});

test('the bytes come back as they were stored; the first who keeps a run is believed', async () => {
  await dropSegments(database);
  await keep([500]);
  const first = (await stored())[0]!;
  expect(Buffer.from(first.bytes).equals(Buffer.from(writeSegment(whole, 0, 500)))).toBe(true);
  await storeSegment(database, { ...first, upTo: 7, rows: 1 }, SEGMENT_FORMAT);
  expect((await stored()).map((s) => s.upTo)).toEqual([first.upTo]);
  // Of another format it is replaced, and until then nobody reads it.
  expect(await stored(SEGMENT_FORMAT + 1)).toEqual([]);
  await storeSegment(database, { ...first, upTo: 7, rows: 1 }, SEGMENT_FORMAT + 1);
  expect(await stored()).toEqual([]);
  expect(await segmentsUpTo(database, SEGMENT_FORMAT + 1)).toBe(7);
});

test('what is broken is thrown away, and all is read from the messages', async () => {
  const broken: [string, (bytes: Buffer) => Buffer][] = [
    ['cut off', (b) => b.subarray(0, b.length >> 1)],
    ['of another kind', () => Buffer.from('not a segment at all')],
    ['empty', () => Buffer.alloc(0)],
    // Readable, and not what it is said to be.
    ['another run', () => Buffer.from(writeSegment(whole, 3, 9))],
  ];
  for (const [what, change] of broken) {
    await dropSegments(database);
    await keep([600, 400]);
    const second = (await stored())[1]!;
    await database.pool.query('update column_segments set bytes = $1 where after = $2', [change(Buffer.from(second.bytes)), second.after]);
    expect([what, said(await loadWhole(database, 'user'))]).toEqual([what, said(whole)]);
    expect(await segmentsUpTo(database, SEGMENT_FORMAT)).toBe(0);
  }
});
