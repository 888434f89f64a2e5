/** Alerts: rules, what was seen last, what happened, and what is on its way to somebody. */
import { randomBytes, randomUUID } from 'node:crypto';
import { sql, type Transaction } from 'kysely';
import { FIRST_RULE } from '../core/alerts/default-rule';
import type { Delivery } from '../core/alerts/delivery';
import type { InboxAlert } from '../core/alerts/inbox';
import type { KeptRule } from '../core/alerts/kept-rule';
import { isAbout, type AlertRule } from '../core/alerts/rule';
import type { Fallen, Happened } from '../core/alerts/happened';
import type { Watched } from '../core/alerts/watched';
import type { Told } from '../core/alerts/written';
import type { Database } from './database';
import { LOCKS } from './locks';
import type { Schema } from './schema';
import { THE_WORKSPACE } from './workspace-store';

/** With which a receiver of a webhook proves who sent it. Source: Standard Webhooks, "Signature scheme": 24 to 64 bytes, in base64, after `whsec_`. */
const newSecret = (): string => `whsec_${randomBytes(32).toString('base64')}`;

type Tx = Transaction<Schema> | Database['db'];

const ruleRows = (db: Tx) => db.selectFrom('alert_rules').selectAll().where('workspace_id', '=', THE_WORKSPACE).where('removed_at', 'is', null).orderBy('id'); // prettier-ignore

export const alertRules = async ({ db }: Database): Promise<KeptRule[]> =>
  (await ruleRows(db).execute()).map((r) => ({ ...r.body, id: Number(r.id), rev: r.rev, author: r.author, at: r.at.getTime() }));

/** The secret of a rule, for whoever sets a receiver up; `undefined` where there is no such rule. */
export const secretOf = async ({ db }: Database, id: number): Promise<string | undefined> =>
  (await db.selectFrom('alert_rules').select('secret').where('workspace_id', '=', THE_WORKSPACE).where('id', '=', String(id)).executeTakeFirst())?.secret; // prettier-ignore

/** Its ID. */
export const addRule = async ({ db }: { readonly db: Tx }, rule: AlertRule, author: string): Promise<number> => {
  const { id } = await db
    .insertInto('alert_rules')
    .values({ workspace_id: THE_WORKSPACE, body: JSON.stringify(rule), secret: newSecret(), author, removed_at: null })
    .returning('id')
    .executeTakeFirstOrThrow();
  return Number(id);
};

/** Whether it was still as it was seen. */
export const changeRule = async ({ db }: Database, id: number, rev: number, rule: AlertRule, author: string): Promise<boolean> => {
  const r = await db
    .updateTable('alert_rules')
    .set({ body: JSON.stringify(rule), author, at: new Date(), rev: sql<number>`rev + 1` })
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('id', '=', String(id))
    .where('rev', '=', rev)
    .where('removed_at', 'is', null)
    .executeTakeFirst();
  return Number(r.numUpdatedRows) > 0;
};

/** Removes one, and what waits to be sent by it; whether there was it. */
export const removeRule = async ({ db }: Database, id: number): Promise<boolean> =>
  db.transaction().execute(async (tx) => {
    const r = await tx
      .updateTable('alert_rules')
      .set({ removed_at: new Date() })
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('id', '=', String(id))
      .where('removed_at', 'is', null)
      .executeTakeFirst();
    await tx
      .updateTable('deliveries')
      .set({ state: 'given up', error: 'Its rule was removed.', done_at: new Date() })
      .where('rule_id', '=', String(id))
      .where('state', '=', 'waiting')
      .execute();
    return Number(r.numUpdatedRows) > 0;
  });

/** Where what happened is to be looked at, as a path. */
export const linkOf = (h: Pick<Happened, 'at'>): string =>
  h.at === null ? '/clearance/alerts' : 'question' in h.at ? `/clearance/${encodeURIComponent(h.at.question)}` : `/arrivals?item=${encodeURIComponent(`finding:${h.at.finding.replaceAll('%', '%25').replaceAll(':', '%3A')}`)}`; // prettier-ignore

const toldOf = (h: Happened, at: number): Told => ({ kind: h.kind, severity: h.severity, says: h.says, link: linkOf(h), at });

/** The newest sign-off of each question that fell in this time, or was taken back, where none holds in its place. */
const fallenBetween = async (db: Tx, after: Date, upTo: Date): Promise<Fallen[]> =>
  (
    await db
      .selectFrom('sign_offs as s')
      .distinctOn('s.question_id')
      .select(['s.id', 's.question_id', 's.author', 's.because'])
      .where('s.workspace_id', '=', THE_WORKSPACE)
      .where('s.fell_at', '>', after)
      .where('s.fell_at', '<=', upTo)
      .where(({ not, exists, selectFrom }) =>
        not(
          exists(
            selectFrom('sign_offs as h')
              .select('h.id')
              .whereRef('h.workspace_id', '=', 's.workspace_id')
              .whereRef('h.question_id', '=', 's.question_id')
              .where('h.fell_at', 'is', null),
          ),
        ),
      )
      .orderBy('s.question_id')
      .orderBy('s.id', 'desc')
      .execute()
  ).map((r) => ({ id: Number(r.id), questionId: r.question_id, author: r.author, because: r.because }));

export interface Looked {
  /** What happened since the last look. */
  readonly happened: readonly Happened[];
  readonly watched: Watched;
}

/** One look: reads what was seen before, has `look` say what is so now and what happened, and keeps all that follows of it, together or not at all.
 *  Shape: how many were told. The first look tells nothing; one that is older than the last is left out. `digestAt`: when a daily digest goes out next.
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
    if (kept && kept.at.getTime() >= at) return 0;
    const number = Number(kept?.look ?? 0) + 1;
    const { happened, watched } = look(kept?.body, number, kept ? await fallenBetween(tx, kept.at, new Date(at)) : []);
    if (!kept && (await ruleRows(tx).execute()).length === 0) await addRule({ db: tx }, FIRST_RULE, 'Signal Post');
    const state = { workspace_id: THE_WORKSPACE, look: String(number), at: new Date(at), body: JSON.stringify(watched) };
    await tx
      .insertInto('alert_state')
      .values(state)
      .onConflict((c) => c.column('workspace_id').doUpdateSet({ look: state.look, at: state.at, body: state.body }))
      .execute();
    const rules = await ruleRows(tx).execute();
    const told = happened.filter((h) => rules.some((r) => isAbout(r.body, h)));
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
        ) // prettier-ignore
        .onConflict((c) => c.columns(['workspace_id', 'cause']).doNothing())
        .execute();
    for (const r of rules) {
      const own = told.filter((h) => isAbout(r.body, h)).map((h) => toldOf(h, at));
      if (own.length === 0 || r.body.by === 'inbox') continue;
      const isDaily = r.body.pace === 'daily';
      // What comes before the digest goes out goes with it.
      const waiting = isDaily
        ? await tx
            .selectFrom('deliveries')
            .select(['id', 'told'])
            .where('rule_id', '=', r.id)
            .where('state', '=', 'waiting')
            .where('tries', '=', 0)
            .where('next_at', '>', new Date(at))
            .executeTakeFirst()
        : undefined;
      if (waiting) {
        await tx.updateTable('deliveries').set({ told: JSON.stringify([...waiting.told, ...own]) }).where('id', '=', waiting.id).execute(); // prettier-ignore
        continue;
      }
      await insertDelivery(tx, { id: Number(r.id), ...r.body }, own, isDaily ? digestAt : at);
    }
    return told.length;
  });

const insertDelivery = async (
  db: Tx,
  rule: Pick<KeptRule, 'id' | 'name' | 'by' | 'to'>,
  told: readonly Told[],
  nextAt: number,
): Promise<string> => {
  const id = randomUUID();
  await db
    .insertInto('deliveries')
    .values({
      id,
      workspace_id: THE_WORKSPACE,
      rule_id: String(rule.id),
      rule_name: rule.name,
      by: rule.by,
      target: rule.to,
      told: JSON.stringify(told),
      next_at: new Date(nextAt),
      claimed_until: null,
      status: null,
      error: null,
      done_at: null,
    })
    .execute();
  return id;
};

/** Something to be sent now, by a rule. */
export const addDelivery = ({ db }: Database, rule: KeptRule, told: readonly Told[], at: number): Promise<string> =>
  insertDelivery(db, rule, told, at);

const MAX_SHOWN = 200;

/** The newest ones. */
export const deliveries = async ({ db }: Database): Promise<Delivery[]> =>
  (await db.selectFrom('deliveries').selectAll().where('workspace_id', '=', THE_WORKSPACE).orderBy('made_at', 'desc').limit(MAX_SHOWN).execute()).map((r) => ({
    id: r.id,
    ruleId: Number(r.rule_id),
    rule: r.rule_name,
    by: r.by as AlertRule['by'],
    target: r.target,
    count: r.told.length,
    says: r.told[0]?.says ?? '',
    madeAt: r.made_at.getTime(),
    nextAt: r.next_at.getTime(),
    tries: r.tries,
    state: r.state as Delivery['state'],
    status: r.status,
    error: r.error,
    doneAt: r.done_at?.getTime() ?? null,
  })); // prettier-ignore

/** Has one sent again, under the same ID; whether there is it. */
export const sendAgain = async ({ db }: Database, id: string): Promise<boolean> => {
  const r = await db
    .updateTable('deliveries')
    .set({ state: 'waiting', next_at: new Date(), tries: 0, claimed_until: null, done_at: null })
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('id', '=', id)
    .executeTakeFirst();
  return Number(r.numUpdatedRows) > 0;
};

export interface Claimed {
  readonly id: string;
  readonly by: AlertRule['by'];
  readonly rule: string;
  readonly target: string;
  readonly told: readonly Told[];
  readonly secret: string;
  readonly madeAt: number;
  /** With this one. */
  readonly tries: number;
}

/** Takes one that is due; nobody else takes it for so long. */
export const claimDelivery = async ({ pool }: Database, claimS: number): Promise<Claimed | undefined> => {
  const { rows } = await pool.query<{ id: string; by: string; rule_name: string; target: string; told: Told[]; secret: string; made_at: Date; tries: number }>(
    `update deliveries d set claimed_until = now() + make_interval(secs => $1), tries = d.tries + 1
     from alert_rules r
     where r.id = d.rule_id and d.id = (
       select id from deliveries
       where state = 'waiting' and next_at <= now() and (claimed_until is null or claimed_until < now())
       order by next_at limit 1 for update skip locked)
     returning d.id, d.by, d.rule_name, d.target, d.told, r.secret, d.made_at, d.tries`,
    [claimS],
  ); // prettier-ignore
  const [r] = rows;
  return r && { id: r.id, by: r.by as AlertRule['by'], rule: r.rule_name, target: r.target, told: r.told, secret: r.secret, madeAt: r.made_at.getTime(), tries: r.tries }; // prettier-ignore
};

/** What became of a try. `nextAt`: when it is tried again; left out where it is over. */
export const noteTry = async (
  { db }: Database,
  id: string,
  {
    ok,
    status,
    error,
    nextAt,
  }: { readonly ok: boolean; readonly status: number | null; readonly error: string | null; readonly nextAt?: number | undefined },
): Promise<void> => {
  const isOver = ok || nextAt === undefined;
  await db
    .updateTable('deliveries')
    .set({
      state: ok ? 'delivered' : isOver ? 'given up' : 'waiting',
      status,
      error: error?.slice(0, 500) ?? null,
      claimed_until: null,
      ...(isOver ? { done_at: new Date() } : { next_at: new Date(nextAt) }),
    })
    .where('id', '=', id)
    // Its rule may have been removed meanwhile.
    .where('state', '=', 'waiting')
    .execute();
};

/** When the next one is due, UTC epoch ms; `undefined` where nothing waits. */
export const nextDelivery = async ({ db }: Database): Promise<number | undefined> =>
  (
    await db.selectFrom('deliveries').select('next_at').where('state', '=', 'waiting').orderBy('next_at').limit(1).executeTakeFirst()
  )?.next_at.getTime();

/** Open ones first that nobody put off, then those that are put off, then done ones; newest first. */
export const inbox = async (
  { db }: Database,
  now: number,
  limit: number,
): Promise<{ readonly alerts: InboxAlert[]; readonly open: number }> => {
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
  };
};

/** How many are open and not put off. */
export const openAlerts = async ({ db }: Pick<Database, 'db'>, now: number): Promise<number> => {
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
