/** Writing messages, in groups.
 *  Long because the look-up, the rows, the keys and the counts of a group go to the database together.
 */
import { LOCKS } from './locks';
import { sql } from 'kysely';
import type pg from 'pg';
import type { Database } from './database';
import type { JudgedMessage } from '../core/arrival/judged-message';
import type { MessageKind } from '../core/table/message-kinds';
import { BinaryWriter } from './binary';
import { withClient } from './checkout';
import { verdicts } from './verdict-rows';
import { inlined, sendWithCopy, textArrayLiteral, type Statement } from './one-message';
import { DAY_MS } from '../core/time';
import { THE_WORKSPACE } from './workspace-store';

export const MESSAGE_CHANNEL = 'signal_post_messages';

export interface MessageRow {
  readonly messageId: string;
  /** Empty for what comes first under its ID, else what tells it from the others; found out while it is written. */
  content: string;
  readonly sourceId: string;
  readonly kind: MessageKind;
  readonly name: string;
  readonly release: string;
  readonly occurredAt: number;
  readonly receivedAt: number;
  /** The message as JSON text, as it came, in UTF-8. */
  readonly body: Uint8Array;
  findings: JudgedMessage['findings'];
}

export interface WriteResult {
  /** Rows that were already recorded, with the same content. */
  readonly duplicates: ReadonlySet<MessageRow>;
}

/** What a group needs from its caller. */
export interface WriteSteps {
  /** Judges the rows by the version in force, before they are stored. */
  readonly judge: (publishedVersion: number | null) => Promise<void>;
  /** The lock is held: the next group may begin, and is behind this one. */
  readonly locked?: () => void;
  /** Whether a row says what a stored message says, given as JSON text. */
  readonly sameAs: (row: MessageRow, body: string) => boolean;
  /** What tells a row from others under its ID. */
  readonly contentOf: (row: MessageRow) => string;
}

const COLUMNS = 'seq, workspace_id, message_id, source_id, kind, name, release, occurred_at, received_at, body';
const FIELDS = COLUMNS.split(',').length;
/** From the begin of a row to its number: the count of fields, and the number's length. */
const TO_SEQ = 6;

/** Rows as COPY reads them, their numbers left open; where each begins, and where the last one ends. */
const encoded = (rows: readonly MessageRow[]): { readonly bytes: BinaryWriter; readonly starts: readonly number[] } => {
  const w = new BinaryWriter();
  /** By name: what most messages of it share, and where it is. */
  const shared = new Map<string, { readonly like: MessageRow; readonly from: number; readonly to: number }>();
  const starts = rows.map((r) => {
    const start = w.length;
    w.int16(FIELDS);
    w.bigint(0);
    w.integer(THE_WORKSPACE);
    w.text(r.messageId);
    const known = shared.get(r.name);
    if (known && known.like.sourceId === r.sourceId && known.like.release === r.release && known.like.kind === r.kind)
      w.again(known.from, known.to);
    else {
      const from = w.length;
      w.text(r.sourceId);
      w.text(r.kind);
      w.text(r.name);
      w.text(r.release);
      shared.set(r.name, { like: r, from, to: w.length });
    }
    w.instant(r.occurredAt);
    w.instant(r.receivedAt);
    w.raw(r.body);
    return start;
  });
  return { bytes: w, starts: [...starts, w.length] };
};

/** The bytes of the rows that are new. */
const piecesOf = (
  rows: readonly MessageRow[],
  bytes: BinaryWriter,
  starts: readonly number[],
  repeated: ReadonlySet<MessageRow>,
): Buffer[] => {
  const pieces: Buffer[] = [];
  let from = 0;
  if (repeated.size > 0)
    rows.forEach((r, i) => {
      if (!repeated.has(r)) return;
      if (starts[i]! > from) pieces.push(bytes.slice(from, starts[i]));
      from = starts[i + 1]!;
    });
  if (bytes.length > from) pieces.push(bytes.slice(from, bytes.length));
  return pieces;
};

/** Months of which this process knows that their partition is there. */
const knownMonths = new WeakMap<Database, Set<string>>();

const ensurePartitions = async (database: Database, client: pg.PoolClient, rows: readonly MessageRow[]): Promise<void> => {
  let known = knownMonths.get(database);
  if (!known) knownMonths.set(database, (known = new Set()));
  // Of a history every row has a time of its own, and most lie in the month of the row before.
  let [from, to] = [Infinity, -Infinity];
  for (const { receivedAt } of rows) {
    if (receivedAt >= from && receivedAt < to) continue;
    const day = new Date(receivedAt);
    from = Date.UTC(day.getUTCFullYear(), day.getUTCMonth());
    to = Date.UTC(day.getUTCFullYear(), day.getUTCMonth() + 1);
    const month = day.toISOString().slice(0, 7);
    if (known.has(month)) continue;
    await client.query('select ensure_message_partition($1)', [`${month}-15T00:00:00Z`]);
    known.add(month);
  }
};

/** The IDs that were already recorded, each with the source that had it first. Mostly there are none, so a group is written first and looked up only where the
 *  index says that one repeats. Nobody else writes while the lock is held, so that IDs need not be kept and looked for in one statement, which costs twice as
 *  much. The limit keeps the planner from making a join of it, whose plan swings with what it believes of the table.
 */
const takenOf = (ids: string): string => `select t.id, k.source_id as owner from unnest(${ids}) as t(id)
  cross join lateral (select source_id from message_keys where workspace_id = ${THE_WORKSPACE} and message_id = t.id and content = '' limit 1) k`;

/** What the first messages of sources under IDs said. */
const firstBodiesOf = (ids: string, texts: string): string => `select t.n, m.body::text as body
  from unnest(${ids}, ${texts}) with ordinality as t(id, content, n)
  join message_keys k on k.workspace_id = ${THE_WORKSPACE} and k.message_id = t.id and k.content = t.content
  left join messages m on m.seq = k.seq`;

/** Which of several texts under IDs are there already. */
const knownTextsOf = (ids: string, texts: string): string => `select t.n from unnest(${ids}, ${texts}) with ordinality as t(id, content, n)
  where exists (select from message_keys k where k.workspace_id = ${THE_WORKSPACE} and k.message_id = t.id and k.content = t.content)`;

/** The look-up goes by the index, however few rows the planner believes there are. */
const BY_INDEX = 'set local enable_seqscan = off; set local enable_bitmapscan = off';

interface Begun {
  readonly version: number | null;
  readonly firstSeq: number;
}

/** Several statements as one message. Statement by statement at the server: what follows the lock sees what was committed before it was held. */
const together = async (client: pg.PoolClient, statements: readonly string[]): Promise<readonly pg.QueryResult[]> =>
  (await client.query(statements.join(';\n'))) as unknown as readonly pg.QueryResult[];

/** Takes the lock, and a stretch of numbers as long as the group (those of duplicates stay unused). */
const begin = async (client: pg.PoolClient, count: number): Promise<Begun> => {
  const answers = await together(client, [
    'begin',
    `select pg_advisory_xact_lock(${LOCKS.write})`,
    `select published_version as v, setval('messages_seq_seq', nextval('messages_seq_seq') + ${count - 1}) as last
     from workspaces where id = ${THE_WORKSPACE}`,
    'savepoint before_ids',
  ]);
  const row = (answers[2] as pg.QueryResult<{ v: number | null; last: string }>).rows[0];
  if (!row) throw new Error('there is no workspace');
  return { version: row.v, firstSeq: Number(row.last) - count + 1 };
};

/** Which message it is. A NUL is in neither. */
export const keyOf = (sourceId: string, messageId: string): string => `${sourceId}\0${messageId}`;

/** The source of keys that are older than their sources and whose message no longer exists. */
const UNKNOWN = '';

/** What tells a row from the others under its ID, in the key: nothing for the first of all; the content where its source says something else under the ID
 *  again; and the source where another had the ID first (docs/decisions/0016). What tells contents apart has no @.
 */
const keyText = (r: MessageRow, owner: string | undefined, content = r.content): string =>
  owner === undefined || owner === r.sourceId || owner === UNKNOWN ? content : `${content}@${r.sourceId}`;

/** ID → the source that had it first. */
type Owners = ReadonlyMap<string, string>;

interface LookedUp {
  /** Rows that were already recorded. */
  readonly repeated: ReadonlySet<MessageRow>;
  /** Of the IDs that were already recorded. */
  readonly owners: Owners;
}

const NOTHING: LookedUp = { repeated: new Set(), owners: new Map() };

const ids = (rows: readonly MessageRow[]): string => textArrayLiteral(rows.map((r) => r.messageId));

/** What was already recorded of a group. A row whose ID was taken by another content of its source is new; it gets what tells it from that. */
const lookUp = async (
  client: pg.PoolClient,
  rows: readonly MessageRow[],
  { sameAs, contentOf }: Pick<WriteSteps, 'sameAs' | 'contentOf'>,
): Promise<LookedUp> => {
  const answers = await together(client, ['rollback to savepoint before_ids', BY_INDEX, takenOf(ids(rows))]);
  const owners = new Map((answers.at(-1) as pg.QueryResult<{ id: string; owner: string }>).rows.map((r) => [r.id, r.owner]));
  const taken = rows.filter((r) => owners.has(r.messageId));
  const repeated = new Set<MessageRow>();
  if (taken.length === 0) return NOTHING;
  const texts = (content: string | undefined, of: readonly MessageRow[]): string =>
    textArrayLiteral(of.map((r) => keyText(r, owners.get(r.messageId), content)));
  const { rows: firsts } = await client.query<{ n: string; body: string | null }>(firstBodiesOf(ids(taken), texts('', taken)));
  const others: MessageRow[] = [];
  for (const { n, body } of firsts) {
    const r = taken[Number(n) - 1]!;
    // What no longer exists to compare with counts as sent again.
    if (body === null || sameAs(r, body)) repeated.add(r);
    else {
      if (r.content === '') r.content = contentOf(r);
      others.push(r);
    }
  }
  if (others.length > 0) {
    const { rows: known } = await client.query<{ n: string }>(knownTextsOf(ids(others), texts(undefined, others)));
    for (const { n } of known) repeated.add(others[Number(n) - 1]!);
  }
  return { repeated, owners };
};

/** The keys of the rows that are new. */
const keysOf = (rows: readonly MessageRow[], firstSeq: number, { repeated, owners }: LookedUp): string => {
  const first = new Map<string, string>();
  let isPlain = true;
  const fresh = rows.flatMap((r, i) => {
    if (repeated.has(r)) return [];
    let owner = owners.get(r.messageId) ?? first.get(r.messageId);
    if (owner === undefined) first.set(r.messageId, (owner = r.sourceId));
    const text = keyText(r, owner);
    isPlain &&= text === '';
    return [{ r, seq: firstSeq + i, text, elsewhere: owner !== r.sourceId && owner !== UNKNOWN }];
  });
  const list = fresh.map((f) => f.r);
  const keys = `${ids(list)}, ${textArrayLiteral(list.map((r) => r.sourceId))}`;
  if (isPlain && fresh.length === rows.length)
    return `insert into message_keys (workspace_id, message_id, source_id, content, seq)
      select ${THE_WORKSPACE}, id, source, '', ${firstSeq - 1} + n from unnest(${keys}) with ordinality as t(id, source, n)`;
  return `insert into message_keys (workspace_id, message_id, source_id, content, seq, elsewhere)
    select ${THE_WORKSPACE}, * from unnest(${keys}, ${textArrayLiteral(fresh.map((f) => f.text))}, '{${fresh.map((f) => f.seq).join(',')}}'::bigint[],
      '{${fresh.map((f) => String(f.elsewhere)).join(',')}}'::boolean[])`;
};

const isRepeated = (e: unknown): boolean => {
  const { code, table } = e as { code?: string; table?: string };
  return code === '23505' && table === 'message_keys';
};

/** After a group with messages that were already recorded, so many are looked up first: whoever sends something again does not stop at once. */
const LOOKED_UP_AFTER = 64;
const lookUpsLeft = new WeakMap<Database, number>();

/** Writes a group of messages in one transaction; when this resolves they are on disk.
 *  Shape: `rows` of distinct messages, in the order of arrival, at least one; those under one ID differ in `content`. `judge` is called under the write lock with the version
 *  in force, so that no message is ever judged by a version that was already replaced.
 *  Errors: throws what the database says; nothing of the group is written then.
 */
export const writeMessages = async (
  database: Database,
  rows: readonly MessageRow[],
  { judge, locked, ...compare }: WriteSteps,
): Promise<WriteResult> => {
  const { bytes, starts } = encoded(rows);
  return withClient(database, async (client) => {
    await ensurePartitions(database, client, rows);
    const { version, firstSeq } = await begin(client, rows.length);
    locked?.();
    await judge(version);
    rows.forEach((_, i) => bytes.patch64(starts[i]! + TO_SEQ, firstSeq + i));
    const store = (found: LookedUp): Promise<void> => {
      const { repeated } = found;
      const judged = rows.flatMap((r, i): JudgedMessage[] =>
        r.findings.length > 0 && !repeated.has(r) ? [{ ...r, seq: firstSeq + i }] : [],
      );
      const statements = [
        keysOf(rows, firstSeq, found),
        `copy messages (${COLUMNS}) from stdin (format binary)`,
        ...[verdicts(version ?? 0, judged), countsOf(rows, repeated)].flatMap((s) => (s ? [inlined(s)] : [])),
        `select pg_notify('${MESSAGE_CHANNEL}', '')`,
        'commit',
      ];
      return sendWithCopy(client, statements, piecesOf(rows, bytes, starts, repeated));
    };
    const left = lookUpsLeft.get(database) ?? 0;
    let found = NOTHING;
    try {
      if (left > 0) found = await lookUp(client, rows, compare);
      await store(found);
    } catch (e) {
      if (left > 0 || !isRepeated(e)) throw e;
      found = await lookUp(client, rows, compare);
      await store(found);
    }
    lookUpsLeft.set(database, found.owners.size > 0 ? LOOKED_UP_AFTER : Math.max(0, left - 1));
    return { duplicates: found.repeated };
  });
};

const countsOf = (rows: readonly MessageRow[], duplicates: ReadonlySet<MessageRow>): Statement => {
  const counts = new Map<string, { source_id: string; day: string; accepted: number; duplicates: number }>();
  const countOf = (day: string, sourceId: string) => {
    const key = `${day} ${sourceId}`;
    const c = counts.get(key) ?? { source_id: sourceId, day, accepted: 0, duplicates: 0 };
    counts.set(key, c);
    return c;
  };
  let last: { readonly c: ReturnType<typeof countOf>; readonly day: number; readonly source: string } | undefined;
  for (const r of rows) {
    const day = Math.floor(r.receivedAt / DAY_MS);
    if (last?.source !== r.sourceId || last.day !== day)
      last = { c: countOf(new Date(day * DAY_MS).toISOString().slice(0, 10), r.sourceId), day, source: r.sourceId };
    if (duplicates.has(r)) last.c.duplicates++;
    else last.c.accepted++;
  }
  return {
    text: `insert into intake_counts select $1, source_id, day, accepted, duplicates, 0
     from json_to_recordset($2) as t(source_id text, day date, accepted bigint, duplicates bigint) order by source_id, day
     on conflict (workspace_id, source_id, day) do update set accepted = intake_counts.accepted + excluded.accepted,
       duplicates = intake_counts.duplicates + excluded.duplicates`,
    values: [THE_WORKSPACE, JSON.stringify([...counts.values()])],
  };
};

/** Counts messages that came again within one batch, and those that were rejected. */
export const countTurnedAway = async ({ db }: Database, sourceId: string, duplicates: number, rejected: number): Promise<void> => {
  if (duplicates + rejected === 0) return;
  await sql`insert into intake_counts values (${THE_WORKSPACE}, ${sourceId}, (now() at time zone 'UTC')::date, 0, ${duplicates}, ${rejected})
    on conflict (workspace_id, source_id, day) do update set duplicates = intake_counts.duplicates + excluded.duplicates,
      refused = intake_counts.refused + excluded.refused`.execute(db);
};
