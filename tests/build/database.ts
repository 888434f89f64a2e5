/** Databases for tests, on the server that the run started: each file has its own, cloned from a template that is filled once a run. */
import { createHash } from 'node:crypto';
import pg from 'pg';
import { runBeside } from '../../ops/shell';
import type { FaultId } from '../../src/demo/faults';

/** What a database holds when a test gets it. */
export type Content =
  /** Nothing at all. */
  | 'bare'
  /** The newest schema and an empty workspace. */
  | 'empty'
  /** The demo, ending at the moment at which its template was made. */
  | { readonly visitors: number; readonly seed?: number; readonly faults?: readonly FaultId[] };

const TEMPLATE_LOCK = 7_351_900;

const base = (): string => {
  const url = process.env['TEST_DATABASE_URL'];
  if (!url) throw new Error('TEST_DATABASE_URL is not set; run ./signal-post test --only unit [FILE …]');
  return url;
};

const urlOf = (name: string): string => {
  const url = new URL(base());
  url.pathname = `/${name}`;
  return url.toString();
};

/** A database of its own with this content; a name belongs to one test file. */
export const testDatabase = async (name: string, content: Content): Promise<string> => {
  const client = new pg.Client({ connectionString: base() });
  await client.connect();
  try {
    await client.query(`drop database if exists ${name} with (force)`);
    if (content === 'bare') await client.query(`create database ${name}`);
    else await clone(client, name, content);
  } finally {
    await client.end();
  }
  return urlOf(name);
};

const clone = async (client: pg.Client, name: string, content: Exclude<Content, 'bare'>): Promise<void> => {
  const said = JSON.stringify(content);
  const template = `template_${createHash('sha256').update(said).digest('hex').slice(0, 12)}`;
  // Whoever comes first fills it, the others wait; and nobody may be connected to what is being cloned.
  await client.query('select pg_advisory_lock($1)', [TEMPLATE_LOCK]);
  try {
    const { rowCount } = await client.query('select 1 from pg_database where datname = $1', [template]);
    if (!rowCount) {
      await client.query(`create database ${template}_begun`);
      const made = await runBeside(process.execPath, ['--import', 'tsx', 'tests/build/fill-template.ts', urlOf(`${template}_begun`), said]);
      if (!made.ok) {
        await client.query(`drop database ${template}_begun with (force)`);
        throw new Error(`the template ${said} could not be filled: ${made.out}`);
      }
      await client.query(`alter database ${template}_begun rename to ${template}`);
    }
    await client.query(`create database ${name} template ${template}`);
  } finally {
    await client.query('select pg_advisory_unlock($1)', [TEMPLATE_LOCK]);
  }
};

/** Throws away what earlier runs filled: the sources may have changed since, and the demo ends at the moment at which it is made. */
export const dropTemplates = async (url: string): Promise<void> => {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<{ name: string }>(`select datname as name from pg_database where datname ~ '^template_[0-9a-f]{12}'`);
  for (const { name } of rows) await client.query(`drop database ${name} with (force)`);
  await client.end();
};
