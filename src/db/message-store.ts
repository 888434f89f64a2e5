/** Messages: written in groups, read by sequence number. */
import { pipeline } from 'node:stream/promises';
import { Readable } from 'node:stream';
import { sql } from 'kysely';
import type pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import type { RecordedMessage } from '../core/arrival/live-message';
import type { IntakeTotals } from '../core/arrival/intake-totals';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

/** Advisory lock under which messages get their sequence numbers, so that the order of numbers is the order of commits and
 *  whoever tails by number misses nothing. */
export const WRITE_LOCK = 7351001;
export const MESSAGE_CHANNEL = 'signal_post_messages';

export interface StoredFinding {
  readonly code: string;
  readonly severity: string;
  readonly path: readonly (string | number)[];
  readonly params: unknown;
}

export interface MessageRow {
  readonly messageId: string;
  readonly sourceId: string;
  readonly kind: 'event' | 'identify';
  readonly name: string;
  readonly release: string;
  readonly occurredAt: number;
  readonly receivedAt: number;
  /** The message as JSON text, as it came. */
  readonly body: string;
  findings: readonly StoredFinding[];
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

/** One row of the findings table from the findings of several messages. */
interface Tally {
  code: string;
  event_name: string;
  field: string;
  source_id: string;
  release: string;
  severity: string;
  params: unknown;
  count: number;
  first_at: number;
  last_at: number;
  samples: string[];
}

export interface JudgedMessage {
  readonly seq: string;
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  readonly occurredAt: number;
  readonly findings: readonly StoredFinding[];
}

const SAMPLES = 5;

const tallyOf = (judged: readonly JudgedMessage[]): Tally[] => {
  const tallies = new Map<string, Tally>();
  for (const m of judged)
    for (const f of m.findings) {
      const field = f.path.join('.');
      const key = JSON.stringify([f.code, m.name, field, m.sourceId, m.release]);
      const t = tallies.get(key);
      if (t) {
        t.count++;
        t.first_at = Math.min(t.first_at, m.occurredAt);
        t.last_at = Math.max(t.last_at, m.occurredAt);
        t.samples.push(m.seq);
        if (t.samples.length > SAMPLES) t.samples.shift();
        t.params = f.params;
      } else
        tallies.set(key, {
          code: f.code,
          event_name: m.name,
          field,
          source_id: m.sourceId,
          release: m.release,
          severity: f.severity,
          params: f.params,
          count: 1,
          first_at: m.occurredAt,
          last_at: m.occurredAt,
          samples: [m.seq],
        });
    }
  return [...tallies.values()];
};

/** Adds the findings of messages to the counts of a plan version. Runs in the caller's transaction. */
const addTallies = async (client: pg.PoolClient, planVersion: number, judged: readonly JudgedMessage[]): Promise<void> => {
  const tallies = tallyOf(judged);
  if (tallies.length === 0) return;
  await client.query(
    `insert into findings
     select $1, $2, code, event_name, field, source_id, release, severity, params, count,
       to_timestamp(first_at / 1000.0), to_timestamp(last_at / 1000.0), samples
     from json_to_recordset($3) as t(code text, event_name text, field text, source_id text, release text, severity text, params json,
       count bigint, first_at float8, last_at float8, samples bigint[])
     order by code, event_name, field, source_id, release
     on conflict (workspace_id, plan_version, code, event_name, field, source_id, release) do update set
       count = findings.count + excluded.count, params = excluded.params, severity = excluded.severity,
       first_at = least(findings.first_at, excluded.first_at), last_at = greatest(findings.last_at, excluded.last_at),
       samples = (excluded.samples || findings.samples)[1:${SAMPLES}]`,
    [THE_WORKSPACE, planVersion, JSON.stringify(tallies)],
  );
};

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
      else judged.push({ seq, ...byId.get(id)! });
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

export interface ReadMessage extends RecordedMessage {
  readonly findings: readonly StoredFinding[];
}

interface RawRow {
  seq: string;
  message_id: string;
  source_id: string;
  kind: 'event' | 'identify';
  name: string;
  release: string;
  occurred_at: Date;
  received_at: Date;
  body: Record<string, unknown>;
  findings: StoredFinding[] | null;
}

const toMessage = (r: RawRow): ReadMessage => ({
  seq: Number(r.seq),
  messageId: r.message_id,
  sourceId: r.source_id,
  kind: r.kind,
  name: r.name,
  release: r.release,
  occurredAt: r.occurred_at.getTime(),
  receivedAt: r.received_at.getTime(),
  body: r.body,
  findings: r.findings ?? [],
});

const SELECT = `select m.seq, m.message_id, m.source_id, m.kind, m.name, m.release, m.occurred_at, m.received_at, m.body, v.findings
  from messages m left join verdicts v on v.workspace_id = m.workspace_id and v.seq = m.seq
    and v.plan_version = coalesce((select published_version from workspaces where id = m.workspace_id), 0)`;

/** Messages after a sequence number, oldest first. */
export const messagesAfter = async ({ pool }: Database, seq: number, limit: number): Promise<ReadMessage[]> =>
  (
    await pool.query<RawRow>(`${SELECT} where m.workspace_id = $1 and m.seq > $2 order by m.seq limit $3`, [THE_WORKSPACE, seq, limit])
  ).rows.map(toMessage);

/** The newest messages, newest first. */
export const newestMessages = async ({ pool }: Database, limit: number): Promise<ReadMessage[]> =>
  (await pool.query<RawRow>(`${SELECT} where m.workspace_id = $1 order by m.seq desc limit $2`, [THE_WORKSPACE, limit])).rows.map(
    toMessage,
  );

export const messagesBySeq = async ({ pool }: Database, seqs: readonly number[]): Promise<ReadMessage[]> =>
  (await pool.query<RawRow>(`${SELECT} where m.workspace_id = $1 and m.seq = any($2) order by m.seq desc`, [THE_WORKSPACE, seqs])).rows.map(
    toMessage,
  );

export interface Recheck {
  readonly planVersion: number;
  readonly upTo: number;
  readonly done: number;
}

/** The rechecks that are not finished, oldest version first. */
export const openRechecks = async ({ db }: Database): Promise<Recheck[]> =>
  (
    await db
      .selectFrom('rechecks')
      .select(['plan_version', 'up_to', 'done'])
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('finished_at', 'is', null)
      .orderBy('plan_version')
      .execute()
  ).map((r) => ({
    planVersion: r.plan_version,
    upTo: Number(r.up_to),
    done: Number(r.done),
  }));

/** Stores the verdicts of one page of a recheck and moves its mark on, in one transaction; false when another process was there first. */
export const storeRecheckPage = async (
  { pool }: Database,
  r: Recheck,
  upTo: number,
  judged: readonly JudgedMessage[],
): Promise<boolean> => {
  const client = await pool.connect();
  try {
    await client.query('begin');
    const moved = await client.query(
      `update rechecks set done = $4, finished_at = case when $4 >= up_to then now() end
       where workspace_id = $1 and plan_version = $2 and done = $3 and finished_at is null`,
      [THE_WORKSPACE, r.planVersion, r.done, upTo],
    );
    if (moved.rowCount === 1) {
      await client.query(`insert into verdicts select $1, $2, seq, findings from json_to_recordset($3) as t(seq bigint, findings json)`, [
        THE_WORKSPACE,
        r.planVersion,
        JSON.stringify(judged.map((j) => ({ seq: j.seq, findings: j.findings }))),
      ]);
      await addTallies(client, r.planVersion, judged);
      if (upTo >= r.upTo) await client.query(`select pg_notify('${MESSAGE_CHANNEL}', 'rechecked')`);
    }
    await client.query('commit');
    return moved.rowCount === 1;
  } catch (e) {
    await client.query('rollback').catch(() => undefined);
    throw e;
  } finally {
    client.release();
  }
};

export const intakeTotals = async ({ pool }: Database): Promise<IntakeTotals[]> =>
  (
    await pool.query<{ source_id: string; accepted: string; duplicates: string; refused: string }>(
      `select source_id, sum(accepted) as accepted, sum(duplicates) as duplicates, sum(refused) as refused
       from intake_counts where workspace_id = $1 group by source_id order by source_id`,
      [THE_WORKSPACE],
    )
  ).rows.map((r) => ({
    sourceId: r.source_id,
    accepted: Number(r.accepted),
    duplicates: Number(r.duplicates),
    refused: Number(r.refused),
  }));
