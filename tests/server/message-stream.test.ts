/** The stream that columns are loaded from, against rows that PostgreSQL holds. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openDatabase, type Database } from '../../src/db/database';
import { migrate } from '../../src/db/migrate';
import { streamMessages } from '../../src/db/message-stream';
import { testDatabase } from '../build/database';

/** Longer than what is read at once, as long as it to the byte, and short: rows lie across the borders of what comes in every way. */
const LENGTHS = [1, 262_144, 3, 700_000, 65_536, 131_072, 2, 1_500_000];
const SHORT_ROWS = 20_000;

let database: Database;
beforeAll(async () => {
  database = openDatabase(await testDatabase('message_stream_test', 'bare'));
  await migrate(database);
  await database.pool.query(`select ensure_message_partition('2026-11-15T00:00:00Z')`);
  await database.pool.query(
    `insert into messages (workspace_id, message_id, source_id, kind, name, release, occurred_at, received_at, body)
     select 1, 'm' || n, 'web', 'event', 'Naïve ' || n, '', timestamptz '2026-11-15T00:00:00.123Z', timestamptz '2026-11-15T00:00:01Z', to_json(repeat('x', length))
     from unnest($1::int[]) with ordinality as l(length, n)
     union all select 1, 's' || n, 'web', 'event', 'Short', '1', '2026-11-15', '2026-11-15', to_json(n) from generate_series(1, ${SHORT_ROWS}) n`,
    [LENGTHS],
  );
  await database.pool.query(`insert into verdicts select 1, 0, seq, '[{"code":"x"}]' from messages where message_id = 'm3'`);
});
afterAll(() => database.pool.end());

const read = async (after = 0): Promise<{ seq: number; texts: string[]; occurredAt: number }[]> => {
  const rows: { seq: number; texts: string[]; occurredAt: number }[] = [];
  await streamMessages(database, after, (bytes, _view, at, seq, occurredAt) => {
    const texts = Array.from({ length: 6 }, (_, k) => bytes.toString('utf8', at[2 * k], at[2 * k + 1]));
    rows.push({ seq, texts, occurredAt });
  });
  return rows;
};

test('every row comes whole and in order, however it lies across what is read at once', async () => {
  const rows = await read();
  const { rows: expected } = await database.pool.query<{ seq: string; name: string; body: string; findings: string | null }>(
    `select m.seq, m.name, m.body::text, v.findings::text from messages m left join verdicts v using (workspace_id, seq) order by seq`,
  );
  expect(rows.length).toBe(LENGTHS.length + SHORT_ROWS);
  expect(rows.map((r) => [String(r.seq), r.texts[2], r.texts[4], r.texts[5]])).toEqual(
    expected.map((e) => [e.seq, e.name, e.body, e.findings ?? '']),
  );
  expect(rows[0]!.occurredAt).toBe(Date.parse('2026-11-15T00:00:00.123Z'));
  expect((await read(rows[5]!.seq)).map((r) => r.seq)).toEqual(rows.slice(6).map((r) => r.seq));
});

test('what the reader throws and what the database says reject, and the pool serves on', async () => {
  let taken = 0;
  await expect(
    streamMessages(database, 0, () => {
      if (++taken === 5) throw new Error('no room');
    }),
  ).rejects.toThrow('no room');
  expect(taken).toBe(5);
  await database.pool.query('alter table verdicts rename to elsewhere');
  await expect(read()).rejects.toThrow('verdicts');
  await database.pool.query('alter table elsewhere rename to verdicts');
  expect((await read()).length).toBe(LENGTHS.length + SHORT_ROWS);
  expect((await database.pool.query<{ n: number }>('select 1 as n')).rows).toEqual([{ n: 1 }]);
});

test('a connection that breaks before the first row rejects', async () => {
  const holder = await database.pool.connect();
  await holder.query('begin; lock table verdicts');
  const broken = read().then(
    () => 'no error',
    (e: unknown) => String(e),
  );
  await expect
    .poll(
      async () =>
        (
          await database.pool.query(
            `select pg_terminate_backend(pid) from pg_stat_activity where wait_event_type = 'Lock' and query like 'copy (%'`,
          )
        ).rowCount,
    )
    .toBe(1);
  expect(await broken).toMatch(/terminat/);
  await holder.query('rollback');
  holder.release();
  expect((await read()).length).toBe(LENGTHS.length + SHORT_ROWS);
});
