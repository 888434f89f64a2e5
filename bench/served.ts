/** The built application with an empty database and a write key, for benchmarks that go over HTTP. */
import assert from 'node:assert/strict';
import { spawn, type ChildProcess } from 'node:child_process';
import { Agent, request as httpRequest } from 'node:http';
import pg from 'pg';
import { prepareDemo } from '../ops/prepare';
import { SERVER, stopServer } from '../ops/serve';
import { freePort } from '../ops/shell';

export interface Served {
  readonly base: string;
  readonly key: string;
  readonly server: ChildProcess;
  readonly client: pg.Client;
  /** Ends the server and starts it again; resolves when it has been told to start. */
  readonly restart: () => Promise<void>;
}

/** Empties the database of a connection, once nobody else is connected to it. */
export const emptied = async (client: pg.Client): Promise<void> => {
  await client.query(
    'select pg_terminate_backend(pid, 60000) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()',
  );
  await client.query('drop schema if exists pgboss cascade; drop schema public cascade; create schema public');
};

/** Runs `work` against a server of its own, on a database that was emptied and holds a demo of so many visitors. */
export const served = async <T>(firstPort: number, work: (s: Served) => Promise<T>, visitors = 300): Promise<T> => {
  const url = process.env['BENCH_DATABASE_URL'];
  assert(url, 'BENCH_DATABASE_URL is not set; run ./signal-post bench');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await emptied(client);
  await prepareDemo(url, { visitors });
  await client.query('analyze');
  try {
    return await servedFrom(url, firstPort, client, work);
  } finally {
    await client.end();
  }
};

/** The same on a database that has all it needs. */
export const servedFrom = async <T>(url: string, firstPort: number, client: pg.Client, work: (s: Served) => Promise<T>): Promise<T> => {
  const port = await freePort(firstPort);
  const base = `http://127.0.0.1:${port}`;
  const start = (): ChildProcess =>
    spawn(process.execPath, [...SERVER], {
      stdio: 'ignore',
      env: { ...process.env, HOST: '127.0.0.1', PORT: String(port), DATABASE_URL: url },
    });
  let server = start();
  try {
    for (let i = 0; i < 100 && !(await fetch(`${base}/api/health`).catch(() => undefined))?.ok; i++)
      await new Promise((next) => setTimeout(next, 100));
    const minted = await fetch(`${base}/api/keys`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ sourceId: 'web', label: 'bench' }),
    });
    const { key } = (await minted.json()) as { key: string };
    return await work({
      base,
      key,
      client,
      get server() {
        return server;
      },
      restart: async () => {
        await stopServer(server);
        server = start();
      },
    });
  } finally {
    // The next one empties the database: whoever still writes to it would hold what is dropped, and each would wait for the other.
    await stopServer(server);
  }
};

const agent = new Agent({ keepAlive: true });

/** Sends a batch and reads the answer, with little of the platform in between: what is measured is the intake, not its sender. */
export const post = ({ base, key }: Pick<Served, 'base' | 'key'>, body: string): Promise<{ readonly accepted: number }> =>
  new Promise((resolve, reject) => {
    const headers = { authorization: `Bearer ${key}`, 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) };
    const r = httpRequest(`${base}/intake`, { method: 'POST', agent, headers }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on('data', (c: Buffer) => chunks.push(c));
      answer.on('end', () => resolve(JSON.parse(Buffer.concat(chunks).toString()) as { accepted: number }));
    });
    r.on('error', reject);
    r.end(body);
  });

const properties = { tool_id: 'T-0412', tool_name: 'Cordless drill 18 V', tool_category: 'drills', branch: 'Quayside', deposit: 2500 };

/** A message that conforms. */
export const conforming = (id: string, at: number, visitor: number): Record<string, unknown> => ({
  id,
  name: 'Tool Viewed',
  time: new Date(at).toISOString(),
  ids: { anonymous: `a-${visitor}` },
  properties,
  release: '9.0.0',
  page: '/tools/T-0412',
});
