/** Rules of alerts, each with the secret that signs what it sends. */
import { randomBytes } from 'node:crypto';
import { sql } from 'kysely';
import type { KeptRule } from '../core/alerts/kept-rule';
import type { AlertRule } from '../core/alerts/rule';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

/** With which a receiver of a webhook proves who sent it. Source: Standard Webhooks, "Signature scheme": 24 to 64 bytes, in base64, after `whsec_`. */
const newSecret = (): string => `whsec_${randomBytes(32).toString('base64')}`;

const ruleRows = ({ db }: Pick<Database, 'db'>) => db.selectFrom('alert_rules').selectAll().where('workspace_id', '=', THE_WORKSPACE).where('removed_at', 'is', null).orderBy('id'); // prettier-ignore

export const alertRules = async (database: Pick<Database, 'db'>): Promise<KeptRule[]> =>
  (await ruleRows(database).execute()).map((r) => ({ ...r.body, id: Number(r.id), rev: r.rev, author: r.author, at: r.at.getTime() }));

/** The secret of a rule, for whoever sets a receiver up; `undefined` where there is no such rule. */
export const secretOf = async ({ db }: Database, id: number): Promise<string | undefined> =>
  (await db.selectFrom('alert_rules').select('secret').where('workspace_id', '=', THE_WORKSPACE).where('id', '=', String(id)).executeTakeFirst())?.secret; // prettier-ignore

/** Its ID. */
export const addRule = async ({ db }: Pick<Database, 'db'>, rule: AlertRule, author: string): Promise<number> => {
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
