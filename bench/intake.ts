/** Intake end to end over HTTP (batches of 500, checked, deduplicated, durable) against a bare COPY of the same rows into a table with the
 *  same columns and the same indexes.
 */
import assert from 'node:assert/strict';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { from as copyFrom } from 'pg-copy-streams';
import { goal, measure, size } from './measure';
import { conforming, post, served } from './served';

const MESSAGES = size(20_000, 2000);
const BATCH = 500;
const GROUP = 2000;
const SENDERS = 8;
const ROUNDS = 9;
const VISITORS = size(5000, 500);

const make = (round: number): Record<string, unknown>[] =>
  Array.from({ length: MESSAGES }, (_, i) => conforming(`bench-${round}-${i}-${'x'.repeat(12)}`, Date.now() - i, i % VISITORS));

export const benchIntake = (): Promise<boolean> =>
  served(4720, async (s) => {
    const { client } = s;
    await client.query(`create table bare (seq bigint generated always as identity, workspace_id integer not null, message_id text not null,
    source_id text not null, kind text not null, name text not null, release text not null, occurred_at timestamptz not null,
    received_at timestamptz not null, body json not null, primary key (seq, received_at), unique (workspace_id, message_id))`);
    await client.query(`create table bare_rows (like bare including identity, primary key (seq, received_at));
      create table bare_keys (workspace_id integer not null, message_id text not null, source_id text not null, content text not null, seq bigint not null,
        primary key (workspace_id, message_id, content))`);
    let round = 0;
    const send = async (): Promise<void> => {
      const messages = make(round++);
      const bodies = Array.from({ length: MESSAGES / BATCH }, (_, b) => JSON.stringify(messages.slice(b * BATCH, (b + 1) * BATCH)));
      let accepted = 0;
      await Promise.all(
        Array.from({ length: SENDERS }, async (_, first) => {
          for (let b = first; b < bodies.length; b += SENDERS) {
            const answer = await post(s, bodies[b]!);
            accepted += answer.accepted;
          }
        }),
      );
      assert.equal(accepted, MESSAGES);
    };
    const copyTo = async (table: string, messages: readonly Record<string, unknown>[]): Promise<void> => {
      const now = new Date().toISOString();
      const lines = messages.map(
        (m) => `1\t${String(m['id'])}\tweb\tevent\tTool Viewed\t9.0.0\t${String(m['time'])}\t${now}\t${JSON.stringify(m)}\n`,
      );
      await pipeline(
        Readable.from([lines.join('')]),
        client.query(
          copyFrom(`copy ${table} (workspace_id, message_id, source_id, kind, name, release, occurred_at, received_at, body) from stdin`),
        ),
      );
    };
    const bare = (): Promise<void> => copyTo('bare', make(round++));
    /** What the database does for the same promise, without anything of ours: groups that are on disk, and IDs that are known over all months. */
    const inGroups = async (): Promise<void> => {
      const messages = make(round++);
      for (let i = 0; i < MESSAGES; i += GROUP) {
        const group = messages.slice(i, i + GROUP);
        await client.query('begin');
        await client.query(
          `insert into bare_keys select 1, id, 'web', '', $1::bigint + n from unnest($2::text[]) with ordinality as t(id, n)`,
          [i, group.map((m) => String(m['id']))],
        );
        await copyTo('bare_rows', group);
        await client.query('commit');
      }
    };
    const t = await measure(
      [
        { name: 'intake', run: send },
        { name: 'copy', run: bare },
        { name: 'copy in groups, with keys', run: inGroups },
      ],
      ROUNDS,
    );
    const { rows } = await client.query<{ n: string }>(`select count(*) as n from messages where message_id like 'bench-%'`);
    const copied = await client.query<{ n: string }>('select count(*) as n from bare');
    assert.equal(Number(rows[0]!.n), size(ROUNDS + 1, 1) * MESSAGES);
    assert.equal(Number(copied.rows[0]!.n), size(ROUNDS + 1, 1) * MESSAGES);
    console.log([...t].map(([k, ms]) => `${k} ${ms.toFixed(0)} ms`).join(', '));
    console.log(
      `share   the same, of the rate of the database alone with the same promise: ${(t.get('copy in groups, with keys')! / t.get('intake')!).toFixed(2)}`,
    );
    return goal('durable intake over HTTP, of the rate of a bare COPY into one indexed table', t.get('copy')! / t.get('intake')!, 0.6);
  });
