/** A demo whose loading was broken off is begun anew on an empty database. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import { prepareDemo } from '../../ops/prepare';
import { openDatabase, type Database } from '../../src/db/database';
import { clearWorkspace, ensureWorkspace, workspaceName } from '../../src/db/workspace-store';
import { testDatabase } from '../build/database';

let database: Database;
let url: string;
beforeAll(async () => {
  url = await testDatabase('cleared_test', { visitors: 60 });
  database = openDatabase(url);
});
afterAll(() => database.pool.end());

const rowsByTable = async (): Promise<Record<string, number>> => {
  const { rows } = await database.pool.query<{ name: string }>(
    `select tablename as name from pg_tables where schemaname = 'public' and tablename not like 'kysely%'`,
  );
  const counts = rows.map(async ({ name }) => {
    const { rows: n } = await database.pool.query<{ n: string }>(`select count(*) as n from "${name}"`);
    return [name, Number(n[0]!.n)] as const;
  });
  return Object.fromEntries(await Promise.all(counts));
};

test('every table is emptied, whichever there are; the migrations stay', async () => {
  const before = await rowsByTable();
  expect(before['messages']).toBeGreaterThan(100);
  expect(before['plan_entities']).toBeGreaterThan(50);
  await clearWorkspace(database);
  const after = await rowsByTable();
  expect(Object.keys(after).sort()).toEqual(Object.keys(before).sort());
  expect(Object.values(after).every((n) => n === 0)).toBe(true);
  expect((await database.pool.query('select 1 from kysely_migration')).rowCount).toBeGreaterThan(10);
});

test('a workspace is made once; after a loading that was broken off the demo is loaded whole', async () => {
  expect(await ensureWorkspace(database, 'Oddment (loading)')).toBe(true);
  expect(await ensureWorkspace(database, 'another')).toBe(false);
  expect(await workspaceName(database)).toBe('Oddment (loading)');
  await prepareDemo(url, { visitors: 60 });
  expect(await workspaceName(database)).toBe('Oddment');
  expect((await rowsByTable())['messages']).toBeGreaterThan(100);
});
