/** From the schema of every earlier state there is a way to the newest, and it ends where a new database begins. */
import { afterAll, beforeAll, expect, test } from 'vitest';
import { openDatabase, type Database } from '../../src/db/database';
import { migrate, MIGRATION_NAMES } from '../../src/db/migrate';
import { testDatabase } from '../build/database';

const opened: Database[] = [];
const bare = async (name: string): Promise<Database> => {
  const database = openDatabase(await testDatabase(name, 'bare'));
  opened.push(database);
  return database;
};
afterAll(() => Promise.all(opened.map((d) => d.pool.end())));

/** Columns, indexes, constraints and functions, as PostgreSQL tells them. */
const schemaOf = async ({ pool }: Database): Promise<string[]> => {
  const { rows } = await pool.query<{ said: string }>(`
    select 'column ' || table_name || '.' || column_name || ' ' || data_type || ' ' || is_nullable || ' ' || coalesce(column_default, '') as said
      from information_schema.columns where table_schema = 'public'
    union all select 'index ' || indexdef from pg_indexes where schemaname = 'public'
    union all select 'constraint ' || conrelid::regclass || ' ' || pg_get_constraintdef(oid) from pg_constraint where connamespace = 'public'::regnamespace
    union all select 'function ' || proname || ' ' || md5(prosrc) from pg_proc where pronamespace = 'public'::regnamespace
    order by 1`);
  return rows.map((r) => r.said);
};

let newest: readonly string[];
beforeAll(async () => {
  const fresh = await bare('upgrade_newest');
  await migrate(fresh);
  newest = await schemaOf(fresh);
  expect(newest.length).toBeGreaterThan(100);
});

test.each(MIGRATION_NAMES.slice(0, -1).map((name, i) => [name, i] as const))('from %s', async (name, i) => {
  const database = await bare('upgrade_earlier');
  expect(await migrate(database, name)).toEqual(MIGRATION_NAMES.slice(0, i + 1));
  await database.pool.query(`insert into workspaces (name) values ('Before')`);
  expect(await migrate(database)).toEqual(MIGRATION_NAMES.slice(i + 1));
  expect(await schemaOf(database)).toEqual(newest);
  expect((await database.pool.query('select name from workspaces')).rows).toEqual([{ name: 'Before' }]);
  await database.pool.end();
  opened.splice(opened.indexOf(database), 1);
});
