/** Reading messages, by sequence number, with the findings under the version in force. */
import type { RecordedMessage } from '../core/arrival/live-message';
import type { IntakeDay, IntakeTotals } from '../core/arrival/intake-totals';
import type { Database } from './database';
import type { JudgedMessage } from '../core/arrival/judged-message';
import type { MessageKind } from '../core/table/message-kinds';
import { THE_WORKSPACE } from './workspace-store';

export interface ReadMessage extends RecordedMessage {
  readonly findings: JudgedMessage['findings'];
}

interface RawRow {
  seq: string;
  message_id: string;
  source_id: string;
  kind: MessageKind;
  name: string;
  release: string;
  occurred_at: Date;
  received_at: Date;
  body: Record<string, unknown>;
  findings: JudgedMessage['findings'] | null;
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

/** Messages after a sequence number up to another, oldest first: those of these names alone, or all where none are given, without what was found. */
export const messagesToJudge = async (
  { pool }: Database,
  {
    after,
    upTo,
    limit,
    names,
  }: { readonly after: number; readonly upTo: number; readonly limit: number; readonly names?: readonly string[] | undefined },
): Promise<{ readonly seq: number; readonly kind: MessageKind; readonly name: string; readonly body: Record<string, unknown> }[]> =>
  (
    await pool.query<Pick<RawRow, 'seq' | 'kind' | 'name' | 'body'>>(
      `select m.seq, m.kind, m.name, m.body from messages m
       where m.workspace_id = $1 and m.seq > $2 and m.seq <= $3${names ? ' and m.name = any($5)' : ''} order by m.seq limit $4`,
      [THE_WORKSPACE, after, upTo, limit, ...(names ? [names] : [])],
    )
  ).rows.map((r) => ({ ...r, seq: Number(r.seq) }));

/** The newest messages, newest first. */
export const newestMessages = async ({ pool }: Database, limit: number): Promise<ReadMessage[]> =>
  (await pool.query<RawRow>(`${SELECT} where m.workspace_id = $1 order by m.seq desc limit $2`, [THE_WORKSPACE, limit])).rows.map(
    toMessage,
  );

export const messagesBySeq = async ({ pool }: Database, seqs: readonly number[]): Promise<ReadMessage[]> =>
  (await pool.query<RawRow>(`${SELECT} where m.workspace_id = $1 and m.seq = any($2) order by m.seq desc`, [THE_WORKSPACE, seqs])).rows.map(
    toMessage,
  );

/** Which of these IDs a source has sent, in any order. */
export const takenIds = async ({ pool }: Database, sourceId: string, ids: readonly string[]): Promise<string[]> =>
  (
    await pool.query<{ id: string }>(
      `select t.id from unnest($1::text[]) as t(id)
       where exists (select from message_keys k where k.workspace_id = $2 and k.message_id = t.id and k.source_id = $3)`,
      [ids, THE_WORKSPACE, sourceId],
    )
  ).rows.map((r) => r.id);

export const intakeTotals = async ({ pool }: Database): Promise<IntakeTotals[]> =>
  (
    await pool.query<{ source_id: string; accepted: string; duplicates: string; rejected: string }>(
      `select source_id, sum(accepted) as accepted, sum(duplicates) as duplicates, sum(refused) as rejected
       from intake_counts where workspace_id = $1 group by source_id order by source_id`,
      [THE_WORKSPACE],
    )
  ).rows.map((r) => ({
    sourceId: r.source_id,
    accepted: Number(r.accepted),
    duplicates: Number(r.duplicates),
    rejected: Number(r.rejected),
  }));

/** What the intake answered, by source and day in UTC, oldest first. */
export const intakeDays = async ({ pool }: Database): Promise<IntakeDay[]> =>
  (
    await pool.query<{ source_id: string; day: number; accepted: string; duplicates: string; rejected: string }>(
      `select source_id, day - date '1970-01-01' as day, accepted, duplicates, refused as rejected
       from intake_counts where workspace_id = $1 order by day, source_id`,
      [THE_WORKSPACE],
    )
  ).rows.map((r) => ({
    sourceId: r.source_id,
    day: r.day,
    accepted: Number(r.accepted),
    duplicates: Number(r.duplicates),
    rejected: Number(r.rejected),
  }));

const SLACK = 1.05;

/** About how many messages there are, a little more rather than less; 0 where the database does not know yet. */
export const aboutHowMany = async ({ pool }: Database): Promise<number> => {
  const { rows } = await pool.query<{ n: number }>(
    `select coalesce(sum(greatest(c.reltuples, 0)), 0)::float8 as n
     from pg_inherits i join pg_class c on c.oid = i.inhrelid where i.inhparent = 'messages'::regclass`,
  );
  return Math.ceil(rows[0]!.n * SLACK);
};

/** The rows that the columns are loaded from: those after a sequence number, oldest first. */
export const columnRows = (
  after: number,
): string => `select m.seq, m.occurred_at, m.received_at, m.source_id, m.kind, m.name, m.release, m.body, v.findings
  from messages m left join verdicts v on v.workspace_id = ${THE_WORKSPACE} and v.seq = m.seq
    and v.plan_version = coalesce((select published_version from workspaces where id = ${THE_WORKSPACE}), 0)
  where m.workspace_id = ${THE_WORKSPACE}${after > 0 ? ` and m.seq > ${Math.floor(after)}` : ''} order by m.seq`;

/** What was found under the version in force on messages up to one: each verdict with the numbers of the messages that have it, ascending. */
export const verdictsUpTo = async (
  { pool }: Database,
  upTo: number,
): Promise<{ readonly findings: JudgedMessage['findings']; readonly seqs: readonly number[] }[]> =>
  (
    await pool.query<{ findings: string; seqs: string }>(
      `select findings::text as findings, string_agg(seq::text, ',' order by seq) as seqs from verdicts
       where workspace_id = $1 and seq <= $2
         and plan_version = coalesce((select published_version from workspaces where id = $1), 0) group by findings::text`,
      [THE_WORKSPACE, upTo],
    )
  ).rows.map((r) => ({ findings: JSON.parse(r.findings) as JudgedMessage['findings'], seqs: r.seqs.split(',').map(Number) }));

/** Numbers of the messages after one and up to another whose ID had come before: from their own source with other content, or from another. */
export const sharedIds = async ({ pool }: Database, after: number, upTo: number): Promise<Record<'reused' | 'elsewhere', number[]>> => {
  const seqs = async (where: string): Promise<number[]> =>
    (
      await pool.query<{ seq: string }>(
        `select seq from message_keys where ${where} and workspace_id = $1 and seq > $2 and seq <= $3 order by seq`,
        [THE_WORKSPACE, after, upTo],
      )
    ).rows.map((r) => Number(r.seq));
  return { reused: await seqs("content <> '' and content not like '@%'"), elsewhere: await seqs('elsewhere') };
};
