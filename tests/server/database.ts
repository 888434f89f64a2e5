/** A database of its own for a test file, on the server that the test run started. */
import pg from 'pg';

export const freshTestDatabase = async (name: string): Promise<string> => {
  const base = process.env['TEST_DATABASE_URL'];
  if (!base) throw new Error('TEST_DATABASE_URL is not set; run ./signal-post test --only unit');
  const client = new pg.Client({ connectionString: base });
  await client.connect();
  await client.query(`drop database if exists ${name} with (force)`);
  await client.query(`create database ${name}`);
  await client.end();
  const url = new URL(base);
  url.pathname = `/${name}`;
  return url.toString();
};
