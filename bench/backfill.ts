/** A history of three million messages brought in over HTTP, one message a line in one request, against a bare COPY of the same rows into a table with
 *  the same columns and indexes. Both are fed as they are made, so neither waits for a file.
 *  Asserted: every message is accepted, and stands in the database with the time at which it happened. BACKFILL sets how many messages.
 */
import assert from 'node:assert/strict';
import { once } from 'node:events';
import { request as httpRequest, type IncomingMessage } from 'node:http';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { from as copyFrom } from 'pg-copy-streams';
import { goal, size } from './measure';
import { conforming, served } from './served';

const MESSAGES = size(Number(process.env['BACKFILL'] ?? 3_000_000), 6000);
const A_CHUNK = 2000;
const DAYS = 200;
const DAY_MS = 86_400_000;
const GOAL = 0.6;

const timeOf = (now: number, i: number): number => now - Math.floor(((MESSAGES - i) / MESSAGES) * DAYS * DAY_MS) - 60_000;
const chunks = function* (line: (i: number) => string): Generator<string> {
  for (let i = 0; i < MESSAGES; i += A_CHUNK) yield Array.from({ length: Math.min(A_CHUNK, MESSAGES - i) }, (_, k) => line(i + k)).join('');
};

export const benchBackfill = (): Promise<boolean> =>
  served(4730, async (s) => {
    const { client } = s;
    const now = Date.now();
    const message = (i: number): Record<string, unknown> => conforming(`history-${i}-${'x'.repeat(12)}`, timeOf(now, i), i % 50_000);
    await client.query(`create table bare (seq bigint generated always as identity, workspace_id integer not null, message_id text not null,
      source_id text not null, kind text not null, name text not null, release text not null, occurred_at timestamptz not null,
      received_at timestamptz not null, body json not null, primary key (seq, received_at), unique (workspace_id, message_id))`);
    let from = performance.now();
    const lines = function* (): Generator<string> {
      yield* chunks((i) => {
        const m = message(i);
        const at = m['time'] as string;
        return `1\t${m['id'] as string}\tweb\tevent\tTool Viewed\t9.0.0\t${at}\t${at}\t${JSON.stringify(m)}\n`;
      });
    };
    await pipeline(
      Readable.from(lines()),
      client.query(
        copyFrom('copy bare (workspace_id, message_id, source_id, kind, name, release, occurred_at, received_at, body) from stdin'),
      ),
    );
    const bare = performance.now() - from;
    await client.query('drop table bare; checkpoint');

    from = performance.now();
    const r = httpRequest(`${s.base}/api/backfill`, {
      method: 'POST',
      headers: { authorization: `Bearer ${s.key}`, 'content-type': 'application/x-ndjson' },
    });
    const answered = once(r, 'response') as Promise<[IncomingMessage]>;
    await pipeline(Readable.from(chunks((i) => `${JSON.stringify(message(i))}\n`)), r);
    const [answer] = await answered;
    let text = '';
    for await (const part of answer.setEncoding('utf8') as AsyncIterable<string>) text += part;
    const ours = performance.now() - from;
    assert.deepEqual(JSON.parse(text), { accepted: MESSAGES, withFindings: 0, duplicates: 0, rejected: [] });
    const { rows } = await client.query<{ n: string; first: Date; same: boolean }>(
      `select count(*) as n, min(occurred_at) as first, bool_and(received_at = occurred_at) as same from messages where message_id like 'history-%'`,
    );
    assert.deepEqual([Number(rows[0]!.n), rows[0]!.first.getTime(), rows[0]!.same], [MESSAGES, timeOf(now, 0), true]);
    const rate = (ms: number): string => Math.round((MESSAGES / ms) * 1000).toLocaleString('en-GB');
    return goal(
      `a history of ${MESSAGES.toLocaleString('en-GB')} messages (${rate(ours)} a second), of the rate of a bare COPY into one indexed table (${rate(bare)})`,
      bare / ours,
      GOAL,
    );
  });
