/** Intake end to end over HTTP (batches of 500, checked, deduplicated, durable) against a bare COPY of the same rows. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { prepareDemo } from '../ops/prepare';
import { freePort } from '../ops/shell';
import { measure } from './measure';

const MESSAGES = 20_000;
const BATCH = 500;
const SENDERS = 8;
const ROUNDS = 5;

const properties = { tool_id: 'T-0412', tool_name: 'Cordless drill 18 V', tool_category: 'drills', branch: 'Quayside', deposit: 2500 };
const make = (round: number): Record<string, unknown>[] =>
  Array.from({ length: MESSAGES }, (_, i) => ({
    id: `bench-${round}-${i}-${'x'.repeat(12)}`,
    name: 'Tool Viewed',
    time: new Date(Date.now() - i).toISOString(),
    ids: { anonymous: `a-${i % 5000}` },
    properties,
    release: '9.0.0',
    page: '/tools/T-0412',
  }));

export const benchIntake = async (): Promise<boolean> => {
  const url = process.env['BENCH_DATABASE_URL'];
  assert(url, 'BENCH_DATABASE_URL is not set; run ./signal-post bench');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query('drop schema public cascade; create schema public');
  await prepareDemo(url, { visitors: 300 });
  await client.query(`create table bare (seq bigint generated always as identity, message_id text unique, source_id text, kind text, name text,
    release text, occurred_at timestamptz, received_at timestamptz, body json, primary key (seq, received_at))`);
  const port = await freePort(4720);
  const base = `http://127.0.0.1:${port}`;
  const server = spawn(process.execPath, ['server.mjs'], {
    stdio: 'ignore',
    env: { ...process.env, HOST: '127.0.0.1', PORT: String(port), DATABASE_URL: url },
  });
  try {
    for (let i = 0; i < 100 && !(await fetch(`${base}/api/health`).catch(() => undefined))?.ok; i++)
      await new Promise((next) => setTimeout(next, 100));
    const minted = await fetch(`${base}/api/keys`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ sourceId: 'web', label: 'bench' }),
    });
    const { key } = (await minted.json()) as { key: string };
    let round = 0;
    const send = async (): Promise<void> => {
      const messages = make(round++);
      const bodies = Array.from({ length: MESSAGES / BATCH }, (_, b) => JSON.stringify(messages.slice(b * BATCH, (b + 1) * BATCH)));
      let accepted = 0;
      await Promise.all(
        Array.from({ length: SENDERS }, async (_, s) => {
          for (let b = s; b < bodies.length; b += SENDERS) {
            const r = await fetch(`${base}/intake`, {
              method: 'POST',
              headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
              body: bodies[b]!,
            });
            accepted += ((await r.json()) as { accepted: number }).accepted;
          }
        }),
      );
      assert.equal(accepted, MESSAGES);
    };
    const bare = async (): Promise<void> => {
      const now = new Date().toISOString();
      const lines = make(round++).map(
        (m) => `${String(m['id'])}\tweb\tevent\tTool Viewed\t9.0.0\t${String(m['time'])}\t${now}\t${JSON.stringify(m)}\n`,
      );
      await pipeline(
        Readable.from([lines.join('')]),
        client.query(copyFrom('copy bare (message_id, source_id, kind, name, release, occurred_at, received_at, body) from stdin')),
      );
    };
    const t = await measure(
      [
        { name: 'intake', run: send },
        { name: 'copy', run: bare },
      ],
      ROUNDS,
    );
    const { rows } = await client.query<{ n: string }>(`select count(*) as n from messages where message_id like 'bench-%'`);
    const copied = await client.query<{ n: string }>('select count(*) as n from bare');
    assert.equal(Number(rows[0]!.n), (ROUNDS + 1) * MESSAGES);
    assert.equal(Number(copied.rows[0]!.n), (ROUNDS + 1) * MESSAGES);
    console.log(
      `share   durable intake over HTTP, of the rate of a bare COPY into one indexed table: ${(t.get('copy')! / t.get('intake')!).toFixed(2)} (printed, no goal yet)`,
    );
    return true;
  } finally {
    server.kill('SIGTERM');
    await client.end();
  }
};
