/** The plan: entities, the log of changes, and versions.
 *  Long because a draft, its log and its versions are written under the same locks.
 */
import { sql, type Transaction } from 'kysely';
import { contentHash } from '../core/plan/content-hash';
import { completed, completedPlan, DEFAULT_SETTINGS } from '../core/plan/defaults';
import { applyEdits, invertAll, type Edit, type EditProblem } from '../core/plan/edit';
import { mayBeRefused, refusedBy, type Refusal } from '../core/plan/kept-rules';
import { emptyPlan, SETTINGS_ID, type BodyOf, type Id, type Kind, type Plan } from '../core/plan/plan';
import type { ChangedEntity, Draft, EditOutcome, Revisions } from '../core/plan/draft';
import type { LoggedChange } from '../core/plan/review';
import type { PublishedPlan, Version } from '../core/plan/version';
import type { Database } from './database';
import type { Schema } from './schema';
import { LOCKS } from './locks';
import { THE_WORKSPACE } from './workspace-store';

export const PLAN_CHANNEL = 'signal_post_plan';

type Tx = Transaction<Schema>;

/** Six parameters a row; the protocol allows 65,535. */
const ROWS_AT_ONCE = 2000;

const assemble = (rows: { kind: Kind; id: string; rev: number; body: BodyOf[Kind] }[]): { plan: Plan; revisions: Revisions } => {
  const plan = structuredClone(emptyPlan(DEFAULT_SETTINGS)) as Record<Kind, Record<Id, BodyOf[Kind]>>;
  const revisions: { [K in Kind]?: Record<Id, number> } = {};
  for (const r of rows) {
    plan[r.kind][r.id] = completed(r.kind, r.body);
    (revisions[r.kind] ??= {})[r.id] = r.rev;
  }
  return { plan: plan as Plan, revisions };
};

/** The working state of the plan. One snapshot: the last change belongs to the entities read. */
export const loadDraft = async ({ db }: Database): Promise<Draft> =>
  db
    .transaction()
    .setIsolationLevel('repeatable read')
    .execute(async (tx) => {
      const rows = await tx
        .selectFrom('plan_entities')
        .select(['kind', 'id', 'rev', 'body'])
        .where('workspace_id', '=', THE_WORKSPACE)
        .orderBy('kind')
        .orderBy('id')
        .execute();
      const last = await tx
        .selectFrom('plan_changes')
        .select((eb) => eb.fn.max('seq').as('seq'))
        .where('workspace_id', '=', THE_WORKSPACE)
        .executeTakeFirst();
      return { ...assemble(rows), lastChange: Number(last?.seq ?? 0) };
    });

/** More changes than this are not worth following one by one. */
const MAX_FOLLOWED = 500;

/** Entities touched by the changes after one, as they are now; `undefined` when there are so many that all had better be read. */
export const draftSince = async (
  { db }: Database,
  after: number,
): Promise<{ readonly changed: readonly ChangedEntity[]; readonly lastChange: number } | undefined> =>
  db
    .transaction()
    .setIsolationLevel('repeatable read')
    .execute(async (tx) => {
      const changes = await tx
        .selectFrom('plan_changes')
        .select(['seq', 'edits'])
        .where('workspace_id', '=', THE_WORKSPACE)
        .where('seq', '>', String(after))
        .orderBy('seq')
        .limit(MAX_FOLLOWED + 1)
        .execute();
      if (changes.length > MAX_FOLLOWED) return undefined;
      if (changes.length === 0) {
        // A database that was put back to an earlier state knows fewer changes than were seen.
        const last = await tx.selectFrom('plan_changes').select('seq').orderBy('seq', 'desc').limit(1).executeTakeFirst();
        return Number(last?.seq ?? 0) < after ? undefined : { changed: [], lastChange: after };
      }
      const touched = new Map<Kind, Set<Id>>();
      for (const c of changes) for (const e of c.edits) touched.set(e.kind, (touched.get(e.kind) ?? new Set()).add(e.id));
      const changed: ChangedEntity[] = [];
      for (const [kind, ids] of touched) {
        const rows = await tx
          .selectFrom('plan_entities')
          .select(['id', 'rev', 'body'])
          .where('workspace_id', '=', THE_WORKSPACE)
          .where('kind', '=', kind)
          .where('id', 'in', [...ids])
          .execute();
        const found = new Map(rows.map((r) => [r.id, r]));
        for (const id of ids) {
          const row = found.get(id);
          changed.push({ kind, id, rev: row?.rev ?? 0, body: row ? completed(kind, row.body) : null });
        }
      }
      return { changed, lastChange: Number(changes.at(-1)?.seq ?? after) };
    });

/** Edits that do not fit what is there now. */
export class Conflict extends Error {
  constructor(readonly problem: EditProblem) {
    super('conflict');
  }
}

/** Edits that fit, and make of the plan what it must not be. */
export class Refused extends Error {
  constructor(readonly refusal: Refusal) {
    super(refusal.says);
  }
}

/** The whole draft, as it is in a transaction. */
const wholeIn = async (tx: Tx): Promise<Plan> =>
  assemble(
    await tx
      .selectFrom('plan_entities')
      .select(['kind', 'id', 'rev', 'body'])
      .where('workspace_id', '=', THE_WORKSPACE)
      .orderBy('kind')
      .orderBy('id')
      .execute(),
  ).plan;

/** As `applyChange`, within a transaction of the caller’s. Errors: throws `Conflict` or `Refused`, so that the transaction is rolled back. */
export const applyChangeIn = async (
  tx: Tx,
  edits: readonly Edit[],
  known: Revisions,
  label: string,
  author: string,
  at = new Date(),
): Promise<EditOutcome> => {
  // One change after the other, so that they become visible in the order of their numbers.
  await sql`select pg_advisory_xact_lock(${LOCKS.change})`.execute(tx);
  let plan = emptyPlan(DEFAULT_SETTINGS);
  const revs = new Map<Kind, Map<Id, number>>();
  const touched = new Map<Kind, Set<Id>>();
  for (const e of edits) touched.set(e.kind, (touched.get(e.kind) ?? new Set()).add(e.id));
  for (const [kind, ids] of touched) {
    const rows = await tx
      .selectFrom('plan_entities')
      .select(['id', 'rev', 'body'])
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('kind', '=', kind)
      .where('id', 'in', [...ids])
      .orderBy('id')
      .forUpdate()
      .execute();
    const creates = edits.some((e) => e.kind === kind && e.op === 'create');
    if (kind === 'settings' && rows.length === 0 && !creates) rows.push({ id: SETTINGS_ID, rev: 0, body: DEFAULT_SETTINGS });
    plan = { ...plan, [kind]: Object.fromEntries(rows.map((r) => [r.id, completed(kind, r.body)])) };
    revs.set(kind, new Map(rows.map((r) => [r.id, r.rev])));
  }
  for (const edit of edits) {
    const rev = known[edit.kind]?.[edit.id];
    const current = revs.get(edit.kind)?.get(edit.id) ?? 0;
    if (edit.op === 'remove' && rev !== undefined && rev !== current)
      throw new Conflict({ code: 'stale', kind: edit.kind, id: edit.id, theirs: plan[edit.kind][edit.id] });
  }
  const result = applyEdits(plan, edits);
  if (!result.ok) throw new Conflict(result.problem);
  plan = result.plan;
  if (edits.some(mayBeRefused)) {
    const whole = await wholeIn(tx);
    // The settings that every workspace has are there before anybody has written them.
    const writesSettings = edits.some((e) => e.kind === 'settings' && e.op === 'create');
    const after = applyEdits(writesSettings ? { ...whole, settings: {} } : whole, edits);
    const refusal = after.ok ? refusedBy(whole, after.plan, edits) : undefined;
    if (refusal) throw new Refused(refusal);
  }
  const revisions: { [K in Kind]?: Record<Id, number> } = {};
  for (const [kind, ids] of touched) {
    const table = plan[kind] as Record<Id, BodyOf[Kind]>;
    const gone = [...ids].filter((id) => !table[id]);
    if (gone.length > 0)
      await tx
        .deleteFrom('plan_entities')
        .where('workspace_id', '=', THE_WORKSPACE)
        .where('kind', '=', kind)
        .where('id', 'in', gone)
        .execute();
    const kept = [...ids].filter((id) => table[id]);
    for (const id of kept) (revisions[kind] ??= {})[id] = (revs.get(kind)?.get(id) ?? 0) + 1;
    for (let i = 0; i < kept.length; i += ROWS_AT_ONCE)
      await tx
        .insertInto('plan_entities')
        .values(
          kept.slice(i, i + ROWS_AT_ONCE).map((id) => ({
            workspace_id: THE_WORKSPACE,
            kind,
            id,
            rev: revisions[kind]![id]!,
            body: JSON.stringify(table[id]),
            updated_at: at,
          })),
        )
        .onConflict((c) =>
          c.columns(['workspace_id', 'kind', 'id']).doUpdateSet((eb) => ({
            rev: eb.ref('excluded.rev'),
            body: eb.ref('excluded.body'),
            updated_at: eb.ref('excluded.updated_at'),
          })),
        )
        .execute();
  }
  const row = await tx
    .insertInto('plan_changes')
    .values({ workspace_id: THE_WORKSPACE, at, author, label, edits: JSON.stringify(edits) })
    .returning('seq')
    .executeTakeFirstOrThrow();
  await sql`select pg_notify(${PLAN_CHANNEL}, ${row.seq})`.execute(tx);
  return { ok: true, change: Number(row.seq), revisions };
};

/** Applies edits, all or none, and writes them to the log. Shape: `at` where it is a history that is written.
 *  Errors: an edit that no longer fits comes back as the problem with both values; nothing is written then.
 */
export const applyChange = async (
  { db }: Database,
  edits: readonly Edit[],
  known: Revisions,
  label: string,
  author: string,
  at?: Date,
): Promise<EditOutcome> => {
  try {
    return await db.transaction().execute((tx) => applyChangeIn(tx, edits, known, label, author, at));
  } catch (e) {
    if (e instanceof Conflict) return { ok: false, problem: e.problem };
    if (e instanceof Refused) return { ok: false, refusal: e.refusal };
    throw e;
  }
};

const versionColumns = ['number', 'content_hash', 'note', 'author', 'at'] as const;
const toVersion = (r: { number: number; content_hash: string; note: string; author: string; at: Date }): Version => ({
  number: r.number,
  contentHash: r.content_hash,
  note: r.note,
  author: r.author,
  at: r.at.getTime(),
});

export const listVersions = async ({ db }: Database): Promise<Version[]> =>
  (
    await db
      .selectFrom('plan_versions')
      .select(versionColumns)
      .where('workspace_id', '=', THE_WORKSPACE)
      .orderBy('number', 'desc')
      .execute()
  ).map(toVersion);

/** Of an integer of PostgreSQL. */
const MAX_NUMBER = 2 ** 31 - 1;

/** A version with its document: the one of this number, or the newest. */
export const loadVersion = async ({ db }: Database, number?: number): Promise<PublishedPlan | undefined> => {
  if (number !== undefined && !(Number.isInteger(number) && number > 0 && number <= MAX_NUMBER)) return undefined;
  let query = db
    .selectFrom('plan_versions')
    .select([...versionColumns, 'document'])
    .where('workspace_id', '=', THE_WORKSPACE);
  query = number === undefined ? query.orderBy('number', 'desc').limit(1) : query.where('number', '=', number);
  const row = await query.executeTakeFirst();
  return row && { ...toVersion(row), plan: completedPlan(row.document) };
};

/** Publishes the draft as the next version.
 *  Shape: the new version; when the draft says the same as the newest version, that one, with `changed` false.
 *  Messages written later are judged by it; those before it are listed for rechecking, in the same transaction.
 *  `at` is for loading a history; it is now otherwise.
 */
export const publish = async (
  { db }: Database,
  note: string,
  author: string,
  at: Date = new Date(),
): Promise<Version & { changed: boolean }> =>
  db.transaction().execute(async (tx) => {
    await sql`select pg_advisory_xact_lock(${LOCKS.write})`.execute(tx);
    await sql`select id from workspaces where id = ${THE_WORKSPACE} for update`.execute(tx);
    const rows = await tx
      .selectFrom('plan_entities')
      .select(['kind', 'id', 'rev', 'body'])
      .where('workspace_id', '=', THE_WORKSPACE)
      .execute();
    const { plan } = assemble(rows);
    const hash = contentHash(plan);
    const newest = await tx
      .selectFrom('plan_versions')
      .select(versionColumns)
      .where('workspace_id', '=', THE_WORKSPACE)
      .orderBy('number', 'desc')
      .limit(1)
      .executeTakeFirst();
    if (newest?.content_hash === hash) return { ...toVersion(newest), changed: false };
    const number = (newest?.number ?? 0) + 1;
    const row = await tx
      .insertInto('plan_versions')
      .values({ workspace_id: THE_WORKSPACE, number, document: JSON.stringify(plan), content_hash: hash, note, author, at })
      .returning(versionColumns)
      .executeTakeFirstOrThrow();
    await tx.updateTable('workspaces').set({ published_version: number }).where('id', '=', THE_WORKSPACE).execute();
    await sql`insert into rechecks (workspace_id, plan_version, up_to, done, finished_at)
      select ${THE_WORKSPACE}, ${number}, coalesce(max(seq), 0), 0, case when count(seq) = 0 then now() end from (select max(seq) as seq from messages) m`.execute(
      tx,
    );
    await sql`select pg_notify(${PLAN_CHANNEL}, 'published')`.execute(tx);
    return { ...toVersion(row), changed: true };
  });

/** Changes newest first: the last ones, or those before a number. */
export const recentChanges = async ({ db }: Database, limit: number, before?: number): Promise<LoggedChange[]> => {
  let query = db.selectFrom('plan_changes').selectAll().where('workspace_id', '=', THE_WORKSPACE);
  if (before !== undefined) query = query.where('seq', '<', String(before));
  return (await query.orderBy('seq', 'desc').limit(limit).execute()).map((r) => ({
    seq: Number(r.seq),
    at: r.at.getTime(),
    author: r.author,
    label: r.label,
    edits: r.edits,
  }));
};

const completedEdit = (e: Edit): Edit => (e.op === 'set' ? e : { ...e, body: completed(e.kind, e.body) });

/** The draft as it was at an instant: today's with all later changes taken back. */
export const draftAt = async (database: Database, at: Date): Promise<Plan> => {
  const draft = await loadDraft(database);
  const later = await database.db
    .selectFrom('plan_changes')
    .select(['seq', 'edits'])
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('at', '>', at)
    .where('seq', '<=', String(draft.lastChange))
    .orderBy('seq', 'desc')
    .execute();
  let { plan } = draft;
  for (const c of later) {
    const r = applyEdits(plan, invertAll(c.edits.map(completedEdit)));
    if (!r.ok) throw new Error(`change ${c.seq} cannot be taken back`);
    plan = r.plan;
  }
  return plan;
};

/** Number of the newest version; 0 when nothing is published. */
export const newestNumber = async ({ db }: Database): Promise<number> =>
  (await db.selectFrom('workspaces').select('published_version').where('id', '=', THE_WORKSPACE).executeTakeFirst())?.published_version ??
  0;
