/** Loading the columns out of the product's own tables, against a bare COPY of the same rows whose bytes are thrown away.
 *  Asserted first: the columns hold every message, with its person's identifier and its properties.
 */
import assert from 'node:assert/strict';
import pg from 'pg';
import { to as copyTo } from 'pg-copy-streams';
import { MessageTable } from '../src/core/table/message-table';
import { columnRows } from '../src/db/message-store';
import { openDatabase } from '../src/db/database';
import { loadTable } from '../src/analysis/columns';
import { prepareDemo } from '../ops/prepare';
import { measure, size } from './measure';
import { emptied } from './served';

const VISITORS = size(30_000, 300);
const ROUNDS = 5;
const GOAL = 1.5;

export const benchLoad = async (): Promise<boolean> => {
  const url = process.env['BENCH_DATABASE_URL'];
  assert(url, 'BENCH_DATABASE_URL is not set; run ./signal-post bench');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await emptied(client);
  await prepareDemo(url, { visitors: VISITORS });
  await client.query('vacuum analyze messages');
  const database = openDatabase(url);
  const load = async (): Promise<MessageTable> => {
    const table = new MessageTable();
    await loadTable(database, table);
    return table;
  };
  try {
    const table = await load();
    const { rows } = await client.query<{ n: string; viewed: string; loan_days: string; users: string }>(
      `select count(*) as n, count(*) filter (where name = 'Tool Viewed') as viewed,
         coalesce(sum((body -> 'properties' ->> 'loan_days')::numeric) filter (where name = 'Loan Started'), 0) as loan_days,
         count(distinct body -> 'ids' ->> 'user') as users from messages`,
    );
    const expected = rows[0]!;
    assert.equal(table.length, Number(expected.n));
    assert.equal(table.rowsOf('Tool Viewed').length, Number(expected.viewed));
    assert.equal(
      [...table.rowsOf('Loan Started')].reduce((n, r) => n + Number(table.valueOf(r, 'loan_days') ?? 0), 0),
      Number(expected.loan_days),
    );
    assert.equal(table.nodes.ofKind('user').length, Number(expected.users));
    const bare = async (): Promise<void> => {
      let bytes = 0;
      for await (const chunk of client.query(copyTo(`copy (${columnRows(0)}) to stdout`)) as AsyncIterable<Buffer>) bytes += chunk.length;
      assert(bytes > 0);
    };
    const t = await measure(
      [
        { name: 'load', run: async () => void (await load()) },
        { name: 'copy', run: bare },
      ],
      ROUNDS,
    );
    const ratio = t.get('load')! / t.get('copy')!;
    const met = ratio <= GOAL;
    console.log(
      `${met ? 'met   ' : 'MISSED'}  loading ${table.length.toLocaleString('en-GB')} messages, times the time of a bare COPY (${t.get('load')!.toFixed(0)} ms against ${t.get('copy')!.toFixed(0)} ms): ${ratio.toFixed(2)} (goal at most ${GOAL})`,
    );
    return met;
  } finally {
    await client.end();
    await database.pool.end();
  }
};
