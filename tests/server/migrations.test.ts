/** Migrations over data of the versions before: what was there is there afterwards, and means the same. */
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { migrate, MIGRATION_NAMES, migrationsOf } from '../../src/db/migrate';
import { openDatabase, type Database } from '../../src/db/database';
import { LOCKS } from '../../src/db/locks';
import { sharedIds } from '../../src/db/message-store';
import { writeMessages, type MessageRow } from '../../src/db/message-writer';
import { testDatabase } from '../build/database';
import { until } from '../build/wait';

let database: Database;
let client: pg.Client;
beforeAll(async () => {
  const url = await testDatabase('migrations_test', 'bare');
  database = openDatabase(url);
  client = new pg.Client({ connectionString: url });
  await client.connect();
});
afterAll(async () => {
  await client.end();
  await database.pool.end();
});

const AT = Date.parse('2026-10-05T12:00:00Z');
const put = async (seq: number, id: string, source: string, at = AT): Promise<void> => {
  await client.query('select ensure_message_partition($1)', [new Date(at).toISOString()]);
  await client.query(
    `insert into messages (seq, workspace_id, message_id, source_id, kind, name, release, occurred_at, received_at, body) overriding system value
     values ($1, 1, $2, $3, 'event', 'Parcel Posted', '1', $4, $4, $5)`,
    [seq, id, source, new Date(at).toISOString(), JSON.stringify({ id, seq })],
  );
};
const keys = async () => (await client.query<Record<string, unknown>>('select * from message_keys order by message_id, seq')).rows;

test('keys of the first versions get their place; what two sources shared an ID for is told apart; nothing is lost', async () => {
  await migrate(database, '0006-ids-by-byte');
  await client.query(`insert into workspaces (name) values ('Before')`);
  await put(1, 'a', 'shop');
  await put(2, 'b', 'shop');
  // Of a time that has no month of its own any more.
  await put(3, 'old', 'shop', Date.parse('1987-03-01T00:00:00Z'));
  await client.query(`insert into message_keys (workspace_id, message_id) values (1, 'a'), (1, 'b'), (1, 'old'), (1, 'gone')`);

  await migrate(database, '0007-true-messages');
  expect((await keys()).map((k) => [k['message_id'], k['content'], k['seq']])).toEqual([
    ['a', '', '1'],
    ['b', '', '2'],
    ['gone', '', null],
    ['old', '', '3'],
  ]);
  // Under version 7 another source's message was another content of the same ID, and so was a second one of the same source.
  await put(4, 'a', 'desk');
  await put(5, 'b', 'shop');
  await client.query(
    `insert into message_keys (workspace_id, message_id, content, seq) values (1, 'a', 'desk says so', 4), (1, 'b', 'shop says more', 5)`,
  );

  await migrate(database);
  expect((await keys()).map((k) => [k['message_id'], k['source_id'], k['content'], k['seq'], k['elsewhere']])).toEqual([
    ['a', 'shop', '', '1', false],
    ['a', 'desk', '@desk', '4', true],
    ['b', 'shop', '', '2', false],
    ['b', 'shop', 'shop says more', '5', false],
    ['gone', '', '', null, false],
    ['old', 'shop', '', '3', false],
  ]);
  const { rows } = await client.query<{ n: string }>('select count(*) as n from messages');
  expect(Number(rows[0]!.n)).toBe(5);
  expect(await migrate(database)).toEqual([]);
});

test('after it, a retry of an old message is known, from its own source alone', async () => {
  const row = (messageId: string, sourceId: string, seq: number): MessageRow => ({
    messageId,
    content: '',
    sourceId,
    kind: 'event',
    name: 'Parcel Posted',
    release: '1',
    occurredAt: AT,
    receivedAt: AT,
    body: Buffer.from(JSON.stringify({ id: messageId, seq })),
    findings: [],
  });
  await client.query(`select setval('messages_seq_seq', 100)`);
  const steps = {
    judge: () => Promise.resolve(),
    sameAs: (r: MessageRow, body: string) =>
      JSON.stringify(JSON.parse(body)) === JSON.stringify(JSON.parse(Buffer.from(r.body).toString())),
    contentOf: (r: MessageRow) => Buffer.from(r.body).toString(),
  };
  const rows = [
    row('a', 'shop', 1),
    row('a', 'desk', 4),
    row('a', 'kiosk', 9),
    row('b', 'shop', 2),
    row('new', 'desk', 10),
    row('new', 'shop', 10),
    row('gone', 'shop', 11),
  ];
  const { duplicates } = await writeMessages(database, rows, steps);
  expect(rows.map((r) => duplicates.has(r))).toEqual([true, true, false, true, false, false, true]);
  // And what each of them says, with other content, again and again.
  const again = [row('a', 'kiosk', 12), row('new', 'shop', 13), row('new', 'desk', 14), row('new', 'desk', 10)];
  expect([...(await writeMessages(database, again, steps)).duplicates].map((r) => again.indexOf(r))).toEqual([3]);
  const once = [...again.slice(0, 3), row('fresh', 'desk', 15)].map((r) => ({ ...r, content: '' }));
  expect([...(await writeMessages(database, once, steps)).duplicates].map((r) => once.indexOf(r))).toEqual([0, 1, 2]);
  expect(
    (await keys())
      .filter((k) => k['message_id'] === 'new')
      .map((k) => [k['source_id'], String(k['content']).replace(/{.*}/, 'other'), k['elsewhere']]),
  ).toEqual([
    ['desk', '', false],
    ['shop', '@shop', true],
    ['shop', 'other@shop', true],
    ['desk', 'other', false],
  ]);
  expect((await sharedIds(database, 0, 1e6)).reused).toHaveLength(4);
});

test('a month that rows lie in already goes on there, and old times have one table together', async () => {
  const before = Number(
    (await client.query<{ n: string }>(`select count(*) as n from pg_inherits where inhparent = 'messages'::regclass`)).rows[0]!.n,
  );
  for (let year = 1; year < 2000; year += 37)
    await put(1000 + year, `y-${year}`, 'shop', Date.parse(`${String(year).padStart(4, '0')}-06-01T00:00:00Z`));
  const after = Number(
    (await client.query<{ n: string }>(`select count(*) as n from pg_inherits where inhparent = 'messages'::regclass`)).rows[0]!.n,
  );
  expect(after).toBe(before);
});

test('step by step it is told what is done; one who comes at the same time does none of it twice', async () => {
  const url = await testDatabase('migrations_told', 'bare');
  const [one, other] = [openDatabase(url), openDatabase(url)];
  try {
    await migrate(one, MIGRATION_NAMES[14]);
    const told: string[] = [];
    const [a, b] = await Promise.all([migrate(one, undefined, (name, before, of) => told.push(`${name} ${before} ${of}`)), migrate(other)]);
    expect([...a, ...b].sort()).toEqual(MIGRATION_NAMES.slice(15));
    expect(told[0]).toBe(`${MIGRATION_NAMES[15]!} 0 ${MIGRATION_NAMES.length - 15}`);
    expect(await migrationsOf(one.db)).toEqual(MIGRATION_NAMES);
  } finally {
    await Promise.all([one.pool.end(), other.pool.end()]);
  }
});

test('while another process changes the schema nothing is looked at: a table that is renamed meanwhile is no failure', async () => {
  const url = await testDatabase('migrations_waiting', 'bare');
  const [one, other] = [openDatabase(url), openDatabase(url)];
  const holder = new pg.Client({ connectionString: url });
  await holder.connect();
  const told: string[] = [];
  // What the others ask for, who wait for the lock and have asked for nothing else since.
  const waiting = (n: number): Promise<boolean> =>
    until(`${n} who wait`, async () => {
      const { rows } = await holder.query<{ query: string }>(
        `select query from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() and state = 'active'`,
      );
      return rows.length === n && rows.every((r) => r.query.includes('pg_advisory_lock($1)'));
    });
  try {
    await migrate(one, MIGRATION_NAMES[14]);
    await holder.query('select pg_advisory_lock($1)', [LOCKS.schema]);
    const first = migrate(other, MIGRATION_NAMES[15]);
    await waiting(1);
    const second = migrate(one, undefined, (name, before, of) => told.push(`${name} ${before} ${of}`));
    await waiting(2);
    expect(told).toEqual([]);
    await holder.query('select pg_advisory_unlock($1)', [LOCKS.schema]);
    // Locks are given in the order in which they were asked for.
    expect(await first).toEqual([MIGRATION_NAMES[15]]);
    expect(await second).toEqual(MIGRATION_NAMES.slice(16));
    const rest = MIGRATION_NAMES.slice(16);
    expect(told).toEqual(rest.map((name, i) => `${name} ${i} ${rest.length}`));
  } finally {
    await Promise.all([one.pool.end(), other.pool.end(), holder.end()]);
  }
});

test('a database that a newer version brought further is left alone, and says so', async () => {
  const before = await migrationsOf(database.db);
  await client.query(`insert into kysely_migration (name, timestamp) values ('9999-something-new', '2030-01-01T00:00:00.000Z')`);
  await expect(migrate(database)).rejects.toThrow(
    /A newer version of this program has changed this database: it has 9999-something-new, and this version ends with 00/,
  );
  expect(await migrationsOf(database.db)).toEqual([...before, '9999-something-new']);
  await client.query(`delete from kysely_migration where name = '9999-something-new'`);
  expect(await migrate(database)).toEqual([]);
});
