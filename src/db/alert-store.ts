/** What was seen at the last look, what happened since, and the inbox. */
import { sql } from 'kysely';
import { FIRST_RULE } from '../core/alerts/default-rule';
import type { Fallen, Happened } from '../core/alerts/happened';
import type { InboxAlert } from '../core/alerts/inbox';
import { STANDS_AFTER_MS, type Standing } from '../core/alerts/standing';
import { tellingOf } from '../core/alerts/telling';
import type { Watched } from '../core/alerts/watched';
import { addRule, alertRules } from './alert-rule-store';
import type { Database } from './database';
import { addDelivery, addToDigest } from './delivery-store';
import { LOCKS } from './locks';
import { fallenBetween } from './sign-off-store';
import { THE_WORKSPACE } from './workspace-store';

export interface Looked {
  /** What happened since the last look. */
  readonly happened: readonly Happened[];
  readonly watched: Watched;
}

/** More than this is no clock that is a little off. */
const AHEAD_MS = 60_000;

/** Whether a look was noted by a clock that was ahead of the database's: it must not keep all later ones from being told until that time has come. */
const isAhead = async (tx: Database['db'], at: Date): Promise<boolean> => {
  const { rows } = await sql<{ now: Date }>`select clock_timestamp() as now`.execute(tx);
  return at.getTime() > rows[0]!.now.getTime() + AHEAD_MS;
};

/** One look: reads what was seen before, has `look` say what is so now and what happened, and keeps all that follows of it, together or not at all.
 *  Shape: how many were told. The first look tells nothing; one that is older than the last is left out, unless that one's clock was ahead. `digestAt`: when a daily digest goes out next.
 */
export const noteLook = async (
  { db }: Database,
  at: number,
  digestAt: number,
  look: (before: Watched | undefined, number: number, fallen: readonly Fallen[]) => Looked,
): Promise<number> =>
  db.transaction().execute(async (tx) => {
    await sql`select pg_advisory_xact_lock(${LOCKS.alerts})`.execute(tx);
    const kept = await tx.selectFrom('alert_state').selectAll().where('workspace_id', '=', THE_WORKSPACE).executeTakeFirst();
    const ahead = kept !== undefined && kept.at.getTime() >= at;
    if (ahead && !(await isAhead(tx, kept.at))) return 0;
    // When the last look was in truth nobody knows then: rather a sign-off that fell is told twice than not at all.
    const since = kept && (ahead ? new Date(at - STANDS_AFTER_MS) : kept.at);
    const number = Number(kept?.look ?? 0) + 1;
    const { happened, watched } = look(kept?.body, number, since ? await fallenBetween({ db: tx }, since, new Date(at)) : []);
    const state = { workspace_id: THE_WORKSPACE, look: String(number), at: new Date(at), body: JSON.stringify(watched) };
    await tx
      .insertInto('alert_state')
      .values(state)
      .onConflict((c) => c.column('workspace_id').doUpdateSet({ look: state.look, at: state.at, body: state.body }))
      .execute();
    const rules = await alertRules({ db: tx });
    if (!kept && rules.length === 0) await addRule({ db: tx }, FIRST_RULE, 'Signal Post');
    const { told, sent } = tellingOf(rules, happened, at);
    if (told.length > 0)
      await tx
        .insertInto('alerts')
        .values(
          told.map((h) => ({
            workspace_id: THE_WORKSPACE,
            cause: h.cause,
            kind: h.kind,
            severity: h.severity,
            body: JSON.stringify(h),
            at: new Date(at),
            done_at: null,
            done_by: null,
            snoozed_until: null,
          })),
        )
        .onConflict((c) => c.columns(['workspace_id', 'cause']).doNothing())
        .execute();
    for (const { rule, told: own } of sent) {
      const isDaily = rule.pace === 'daily';
      // What comes before the digest goes out goes with it.
      if (isDaily && (await addToDigest({ db: tx }, rule.id, own))) continue;
      await addDelivery({ db: tx }, rule, own, isDaily ? digestAt : at);
    }
    return told.length;
  });

/** Open ones first that nobody put off, then those that are put off, then done ones; newest first. */
export const inbox = async (
  { db }: Database,
  now: number,
  limit: number,
): Promise<{ readonly alerts: InboxAlert[]; readonly open: number; readonly standing: Standing }> => {
  const at = new Date(now);
  const rows = await db
    .selectFrom('alerts')
    .selectAll()
    .where('workspace_id', '=', THE_WORKSPACE)
    .orderBy(sql`case when done_at is not null then 2 when snoozed_until > ${at} then 1 else 0 end`)
    .orderBy('id', 'desc')
    .limit(limit)
    .execute();
  return {
    alerts: rows.map((r) => ({
      id: Number(r.id),
      kind: r.kind as Happened['kind'],
      severity: r.severity as Happened['severity'],
      says: r.body.says,
      place: r.body.at,
      at: r.at.getTime(),
      doneAt: r.done_at?.getTime() ?? null,
      doneBy: r.done_by,
      snoozedUntil: r.snoozed_until?.getTime() ?? null,
    })),
    open: await openAlerts({ db }, now),
    standing: await standing({ db }, now),
  };
};

const standing = async ({ db }: Pick<Database, 'db'>, now: number): Promise<Standing> => {
  const looked = await db.selectFrom('alert_state').select('at').where('workspace_id', '=', THE_WORKSPACE).executeTakeFirst();
  const { n } = await db
    .selectFrom('deliveries')
    .select((eb) => eb.fn.countAll<string>().as('n'))
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('state', '=', 'waiting')
    .where('next_at', '<', new Date(now - STANDS_AFTER_MS))
    .where((eb) => eb.or([eb('claimed_until', 'is', null), eb('claimed_until', '<', new Date(now))]))
    .executeTakeFirstOrThrow();
  return { lookedAt: looked?.at.getTime() ?? null, overdue: Number(n) };
};

/** How many are open and not put off. */
const openAlerts = async ({ db }: Pick<Database, 'db'>, now: number): Promise<number> => {
  const { n } = await db
    .selectFrom('alerts')
    .select((eb) => eb.fn.countAll<string>().as('n'))
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('done_at', 'is', null)
    .where((eb) => eb.or([eb('snoozed_until', 'is', null), eb('snoozed_until', '<=', new Date(now))]))
    .executeTakeFirstOrThrow();
  return Number(n);
};

export type Handled = { readonly done: string } | { readonly open: true } | { readonly snoozeUntil: number };

/** Says of alerts that they are done, open again, or put off; of all that are open where none is named. How many. */
export const handleAlerts = async ({ db }: Database, ids: readonly number[] | 'all', how: Handled): Promise<number> => {
  const set =
    'done' in how
      ? { done_at: new Date(), done_by: how.done }
      : 'open' in how
        ? { done_at: null, done_by: null, snoozed_until: null }
        : { snoozed_until: new Date(how.snoozeUntil), done_at: null, done_by: null };
  let q = db.updateTable('alerts').set(set).where('workspace_id', '=', THE_WORKSPACE);
  q = ids === 'all' ? q.where('done_at', 'is', null) : q.where('id', 'in', ids.map(String));
  return Number((await q.executeTakeFirst()).numUpdatedRows);
};
