/** Intake end to end over HTTP (batches of 500, checked, deduplicated, durable) against a bare COPY of the same rows. */
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { Agent, request as httpRequest } from 'node:http';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { prepareDemo } from '../ops/prepare';
import { SERVER } from '../ops/serve';
import { freePort } from '../ops/shell';
import { goal, measure } from './measure';

const MESSAGES = 20_000;
const BATCH = 500;
const SENDERS = 8;
const ROUNDS = 9;

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

const agent = new Agent({ keepAlive: true, maxSockets: SENDERS });

/** Sends a body and reads the answer, with little of the platform in between: what is measured is the intake, not its sender. */
const post = (url: string, key: string, body: string): Promise<unknown> =>
  new Promise((resolve, reject) => {
    const headers = { authorization: `Bearer ${key}`, 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) };
    const r = httpRequest(url, { method: 'POST', agent, headers }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on('data', (c: Buffer) => chunks.push(c));
      answer.on('end', () => resolve(JSON.parse(Buffer.concat(chunks).toString())));
    });
    r.on('error', reject);
    r.end(body);
  });

export const benchIntake = async (): Promise<boolean> => {
  const url = process.env['BENCH_DATABASE_URL'];
  assert(url, 'BENCH_DATABASE_URL is not set; run ./signal-post bench');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query('drop schema public cascade; create schema public');
  await prepareDemo(url, { visitors: 300 });
  await client.query(`create table bare (seq bigint generated always as identity, workspace_id integer not null, message_id text not null,
    source_id text not null, kind text not null, name text not null, release text not null, occurred_at timestamptz not null,
    received_at timestamptz not null, body json not null, primary key (seq, received_at), unique (workspace_id, message_id))`);
  const port = await freePort(4720);
  const base = `http://127.0.0.1:${port}`;
  const server = spawn(process.execPath, [...SERVER], {
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
            const answer = (await post(`${base}/intake`, key, bodies[b]!)) as { accepted: number };
            accepted += answer.accepted;
          }
        }),
      );
      assert.equal(accepted, MESSAGES);
    };
    const bare = async (): Promise<void> => {
      const now = new Date().toISOString();
      const lines = make(round++).map(
        (m) => `1\t${String(m['id'])}\tweb\tevent\tTool Viewed\t9.0.0\t${String(m['time'])}\t${now}\t${JSON.stringify(m)}\n`,
      );
      await pipeline(
        Readable.from([lines.join('')]),
        client.query(
          copyFrom('copy bare (workspace_id, message_id, source_id, kind, name, release, occurred_at, received_at, body) from stdin'),
        ),
      );
    };
    const t = await measure(
      [
        { name: 'intake', run: send },
        { name: 'copy', run: bare },
      ],
      ROUNDS,
    );
    console.log([...t].map(([k, ms]) => `${k} ${ms.toFixed(0)} ms`).join(', '));
    const { rows } = await client.query<{ n: string }>(`select count(*) as n from messages where message_id like 'bench-%'`);
    const copied = await client.query<{ n: string }>('select count(*) as n from bare');
    assert.equal(Number(rows[0]!.n), (ROUNDS + 1) * MESSAGES);
    assert.equal(Number(copied.rows[0]!.n), (ROUNDS + 1) * MESSAGES);
    return goal('durable intake over HTTP, of the rate of a bare COPY into one indexed table', t.get('copy')! / t.get('intake')!, 0.6);
  } finally {
    server.kill('SIGTERM');
    await client.end();
  }
};
