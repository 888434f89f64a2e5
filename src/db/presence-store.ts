/** Who is looking at the workplace, and where. */
import { sql } from 'kysely';
import type { Present } from '../core/api/people';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

export const PEOPLE_CHANNEL = 'signal_post_people';

/** Somebody who has not been heard of for this long is gone. */
const GONE_AFTER_MS = 25_000;

/** Notes where a session is; tells everybody when that is news. */
export const notePresence = async ({ db }: Database, p: Present): Promise<void> => {
  const before = await db
    .selectFrom('presence')
    .select(['place', 'author'])
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('session', '=', p.session)
    .executeTakeFirst();
  const values = { author: p.author, place: p.place, seen_at: new Date() };
  await db
    .insertInto('presence')
    .values({ workspace_id: THE_WORKSPACE, session: p.session, ...values })
    .onConflict((c) => c.columns(['workspace_id', 'session']).doUpdateSet(values))
    .execute();
  // Whoever went without a word is forgotten when somebody comes.
  if (!before)
    await db
      .deleteFrom('presence')
      .where('workspace_id', '=', THE_WORKSPACE)
      .where('seen_at', '<', new Date(Date.now() - GONE_AFTER_MS))
      .execute();
  if (before?.place !== p.place || before.author !== p.author) await tellPeople({ db });
};

export const leavePresence = async ({ db }: Database, session: string): Promise<void> => {
  await db.deleteFrom('presence').where('workspace_id', '=', THE_WORKSPACE).where('session', '=', session).execute();
  await tellPeople({ db });
};

/** Those who were heard of lately, in the order of their names. */
export const presentPeople = async ({ db }: Pick<Database, 'db'>): Promise<Present[]> =>
  db
    .selectFrom('presence')
    .select(['session', 'author', 'place'])
    .where('workspace_id', '=', THE_WORKSPACE)
    .where('seen_at', '>', new Date(Date.now() - GONE_AFTER_MS))
    .orderBy('author')
    .orderBy('session')
    .execute();

/** Tells all that listen to look at people, comments and proposals again. */
export const tellPeople = async ({ db }: Pick<Database, 'db'>): Promise<void> => {
  await sql`select pg_notify(${PEOPLE_CHANNEL}, '')`.execute(db);
};
