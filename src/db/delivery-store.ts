/** What is on its way to somebody, and what became of it. */
import { randomUUID } from 'node:crypto';
import type { Delivery } from '../core/alerts/delivery';
import type { KeptRule } from '../core/alerts/kept-rule';
import type { AlertRule } from '../core/alerts/rule';
import type { Told } from '../core/alerts/written';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

/** Something to be sent, by a rule; its ID. `nextAt`: when, UTC epoch ms. */
export const addDelivery = async (
  { db }: Pick<Database, 'db'>,
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

/** Puts it to the digest of a rule that nobody has begun to send; whether there was one. */
export const addToDigest = async ({ db }: Pick<Database, 'db'>, ruleId: number, told: readonly Told[]): Promise<boolean> => {
  const waiting = await db
    .selectFrom('deliveries')
    .select(['id', 'told'])
    .where('rule_id', '=', String(ruleId))
    .where('state', '=', 'waiting')
    .where('tries', '=', 0)
    .where('next_at', '>', new Date())
    .forUpdate()
    .executeTakeFirst();
  if (!waiting) return false;
  await db
    .updateTable('deliveries')
    .set({ told: JSON.stringify([...waiting.told, ...told]) })
    .where('id', '=', waiting.id)
    .execute();
  return true;
};

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

/** So many are on their way to one receiver at a time; all mail goes by one. */
const AT_ONE_RECEIVER = 2;
const RECEIVER = `case when by = 'mail' then '' else coalesce(substring(target from '^[a-z]+://([^/?#]*)'), '') end`;

/** Takes one that is due; nobody else takes it for so long. */
export const claimDelivery = async ({ pool }: Database, claimS: number): Promise<Claimed | undefined> => {
  const { rows } = await pool.query<{ id: string; by: string; rule_name: string; target: string; told: Told[]; secret: string; made_at: Date; tries: number }>(
    `with busy as materialized (
       select by, ${RECEIVER} as receiver from deliveries where claimed_until >= now() group by 1, 2 having count(*) >= $2)
     update deliveries d set claimed_until = now() + make_interval(secs => $1), tries = d.tries + 1
     from alert_rules r
     where r.id = d.rule_id and d.id = (
       select id from deliveries
       where state = 'waiting' and next_at <= now() and (claimed_until is null or claimed_until < now())
         -- A receiver that is silent keeps its own waiting, and nobody else's.
         and (by, ${RECEIVER}) not in (select by, receiver from busy)
       order by next_at limit 1 for update skip locked)
     returning d.id, d.by, d.rule_name, d.target, d.told, r.secret, d.made_at, d.tries`,
    [claimS, AT_ONE_RECEIVER],
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
