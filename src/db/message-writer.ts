/** Writing messages, in groups. */
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { sql } from 'kysely';
import type pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import type { Database } from './database';
import type { JudgedMessage } from '../core/arrival/tally';
import type { MessageKind } from '../core/table/message-table';
import { addTallies } from './finding-tally';
import { THE_WORKSPACE } from './workspace-store';

/** Advisory lock under which messages get their sequence numbers, so that the order of numbers is the order of commits and
 *  whoever tails by number misses nothing. */
export const WRITE_LOCK = 7351001;
export const MESSAGE_CHANNEL = 'signal_post_messages';

export interface MessageRow {
  readonly messageId: string;
  readonly sourceId: string;
  readonly kind: MessageKind;
  readonly name: string;
  readonly release: string;
  readonly occurredAt: number;
  readonly receivedAt: number;
  /** The message as JSON text, as it came. */
  readonly body: string;
  findings: JudgedMessage['findings'];
}

export interface WriteResult {
  /** Message IDs that were there before. */
  readonly duplicates: ReadonlySet<string>;
}

const ESCAPES: Record<string, string> = { '\\': '\\\\', '\t': '\\t', '\n': '\\n', '\r': '\\r' };
const escaped = (s: string): string => (/[\\\t\n\r]/.test(s) ? s.replace(/[\\\t\n\r]/g, (c) => ESCAPES[c]!) : s);

const copyLine = (r: MessageRow, ord: number): string =>
  `${ord}\t${escaped(r.messageId)}\t${r.sourceId}\t${r.kind}\t${escaped(r.name)}\t${escaped(r.release)}\t${new Date(r.occurredAt).toISOString()}\t${new Date(r.receivedAt).toISOString()}\t${escaped(r.body)}\t${r.findings.length === 0 ? '\\N' : escaped(JSON.stringify(r.findings))}\n`;

const INCOMING = `create temporary table if not exists incoming (
  ord integer, message_id text, source_id text, kind text, name text, release text,
  occurred_at timestamptz, received_at timestamptz, body json, findings json) on commit delete rows`;

const STORE = `with fresh as (
    insert into message_keys select $1::integer, message_id from incoming order by message_id on conflict do nothing returning message_id),
  stored as (
    insert into messages (workspace_id, message_id, source_id, kind, name, release, occurred_at, received_at, body)
    select $1, i.message_id, source_id, kind, name, release, occurred_at, received_at, body
    from incoming i join fresh using (message_id) order by ord returning seq, message_id),
  judged as (
    insert into verdicts select $1, $2::integer, s.seq, i.findings from stored s join incoming i using (message_id) where i.findings is not null)
  select i.message_id, s.seq from incoming i left join stored s using (message_id) where s.seq is null or i.findings is not null`;

/** Writes a group of messages in one transaction; when this resolves they are on disk.
 *  Shape: `rows` with distinct message IDs, in the order of arrival. `judge` is called under the write lock with the version
 *  in force, so that no message is ever judged by a version that was already replaced.
 *  Errors: throws what the database says; nothing of the group is written then.
 */
export const writeMessages = async (
  { pool }: Database,
  rows: readonly MessageRow[],
  judge: (publishedVersion: number | null) => Promise<void>,
): Promise<WriteResult> => {
  const client = await pool.connect();
  let broken: Error | undefined;
  try {
    await client.query(INCOMING);
    for (const month of new Set(rows.map((r) => new Date(r.receivedAt).toISOString().slice(0, 7))))
      await client.query('select ensure_message_partition($1)', [`${month}-15T00:00:00Z`]);
    await client.query('begin');
    await client.query(`select pg_advisory_xact_lock(${WRITE_LOCK})`);
    const published = await client.query<{ v: number | null }>('select published_version as v from workspaces where id = $1', [
      THE_WORKSPACE,
    ]);
    const version = published.rows[0]?.v ?? null;
    await judge(version);
    await pipeline(Readable.from([rows.map(copyLine).join('')]), client.query(copyFrom('copy incoming from stdin')));
    const answer = await client.query<{ message_id: string; seq: string | null }>(STORE, [THE_WORKSPACE, version ?? 0]);
    const byId = new Map(rows.map((r) => [r.messageId, r]));
    const duplicates = new Set<string>();
    const judged: JudgedMessage[] = [];
    for (const { message_id: id, seq } of answer.rows) {
      if (seq === null) duplicates.add(id);
      else judged.push({ ...byId.get(id)!, seq: Number(seq) });
    }
    await addTallies(client, version ?? 0, judged);
    await countIntake(client, rows, duplicates);
    await client.query(`select pg_notify('${MESSAGE_CHANNEL}', '')`);
    await client.query('commit');
    return { duplicates };
  } catch (e) {
    broken = e as Error;
    await client.query('rollback').then(
      () => (broken = undefined),
      () => undefined,
    );
    throw e;
  } finally {
    client.release(broken);
  }
};

const countIntake = async (client: pg.PoolClient, rows: readonly MessageRow[], duplicates: ReadonlySet<string>): Promise<void> => {
  const counts = new Map<string, { source_id: string; day: string; accepted: number; duplicates: number }>();
  for (const r of rows) {
    const day = new Date(r.receivedAt).toISOString().slice(0, 10);
    const key = `${day} ${r.sourceId}`;
    const c = counts.get(key) ?? { source_id: r.sourceId, day, accepted: 0, duplicates: 0 };
    if (duplicates.has(r.messageId)) c.duplicates++;
    else c.accepted++;
    counts.set(key, c);
  }
  await client.query(
    `insert into intake_counts select $1, source_id, day, accepted, duplicates, 0
     from json_to_recordset($2) as t(source_id text, day date, accepted bigint, duplicates bigint) order by source_id, day
     on conflict (workspace_id, source_id, day) do update set accepted = intake_counts.accepted + excluded.accepted,
       duplicates = intake_counts.duplicates + excluded.duplicates`,
    [THE_WORKSPACE, JSON.stringify([...counts.values()])],
  );
};

/** Counts messages that came again within one batch, and those that were refused. */
export const countTurnedAway = async ({ db }: Database, sourceId: string, duplicates: number, refused: number): Promise<void> => {
  if (duplicates + refused === 0) return;
  await sql`insert into intake_counts values (${THE_WORKSPACE}, ${sourceId}, (now() at time zone 'UTC')::date, 0, ${duplicates}, ${refused})
    on conflict (workspace_id, source_id, day) do update set duplicates = intake_counts.duplicates + excluded.duplicates,
      refused = intake_counts.refused + excluded.refused`.execute(db);
};
