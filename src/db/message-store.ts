/** Reading messages, by sequence number, with the findings under the version in force. */
import type { RecordedMessage } from '../core/arrival/live-message';
import type { IntakeTotals } from '../core/arrival/intake-totals';
import { to as copyTo } from 'pg-copy-streams';
import type { Database } from './database';
import type { StoredFinding } from './finding-tally';
import { THE_WORKSPACE } from './workspace-store';

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

/** What the columns hold of a message. */
export interface ColumnRow {
  readonly seq: number;
  readonly sourceId: string;
  readonly kind: 'event' | 'identify';
  readonly name: string;
  readonly release: string;
  /** UTC epoch ms. */
  readonly occurredAt: number;
  readonly body: Record<string, unknown>;
  readonly findings: readonly StoredFinding[];
}

/** The rows that the columns are loaded from, as COPY sends them. */
export const COLUMN_ROWS = `select m.seq, m.source_id, m.kind, m.name, m.release, (extract(epoch from m.occurred_at) * 1000)::bigint, m.body, v.findings
  from messages m left join verdicts v on v.workspace_id = m.workspace_id and v.seq = m.seq
    and v.plan_version = coalesce((select published_version from workspaces where id = m.workspace_id), 0)
  where m.workspace_id = ${THE_WORKSPACE} order by m.seq`;

const UNESCAPES: Record<string, string> = { b: '\b', f: '\f', n: '\n', r: '\r', t: '\t', v: '\v' };
/** A value of COPY's text format. Source: PostgreSQL documentation, COPY, "Text Format". */
const plain = (v: string): string => (v.includes('\\') ? v.replace(/\\(.)/gs, (_, c: string) => UNESCAPES[c] ?? c) : v);

/** Gives every message to `take`, oldest first, in one stream: for loading the columns at once.
 *  Rows of a body that is not an object cannot be in the table; the intake refuses them.
 */
export const streamMessages = async ({ pool }: Database, take: (row: ColumnRow) => void): Promise<void> => {
  const client = await pool.connect();
  let failed: Error | undefined;
  try {
    const stream = client.query(copyTo(`copy (${COLUMN_ROWS}) to stdout`));
    stream.setEncoding('utf8');
    let rest = '';
    for await (const chunk of stream as AsyncIterable<string>) {
      const text = rest + chunk;
      let from = 0;
      for (let to = text.indexOf('\n'); to >= 0; to = text.indexOf('\n', from)) {
        const [seq, sourceId, kind, name, release, at, body, findings] = text.slice(from, to).split('\t');
        take({
          seq: Number(seq),
          sourceId: sourceId!,
          kind: kind as ColumnRow['kind'],
          name: plain(name!),
          release: plain(release!),
          occurredAt: Number(at),
          body: JSON.parse(plain(body!)) as Record<string, unknown>,
          findings: findings === '\\N' ? NO_FINDINGS : (JSON.parse(plain(findings!)) as StoredFinding[]),
        });
        from = to + 1;
      }
      rest = text.slice(from);
    }
  } catch (e) {
    failed = e as Error;
    throw e;
  } finally {
    client.release(failed);
  }
};

const NO_FINDINGS: readonly StoredFinding[] = [];
