/** What was handed over to whoever builds it, and where tickets are sent. */
import { randomBytes } from 'node:crypto';
import type { HandOver } from '../core/hand-off/progress';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

/** The newest of each event and source. */
export const handOvers = async ({ db }: Database): Promise<HandOver[]> =>
  (
    await db
      .selectFrom('hand_overs')
      .selectAll()
      .distinctOn(['event_id', 'source_id'])
      .where('workspace_id', '=', THE_WORKSPACE)
      .orderBy('event_id')
      .orderBy('source_id')
      .orderBy('id', 'desc')
      .execute()
  ).map((r) => ({
    eventId: r.event_id,
    sourceId: r.source_id,
    planVersion: r.plan_version,
    address: r.address,
    author: r.author,
    at: r.at.getTime(),
  }));

export const addHandOver = async ({ db }: Database, h: Omit<HandOver, 'at'>): Promise<void> => {
  await db
    .insertInto('hand_overs')
    .values({
      workspace_id: THE_WORKSPACE,
      event_id: h.eventId,
      source_id: h.sourceId,
      plan_version: h.planVersion,
      address: h.address,
      author: h.author,
    })
    .execute();
};

export interface Tracker {
  readonly address: string;
  readonly secret: string;
}

export const trackerOf = async ({ db }: Database): Promise<Tracker | undefined> =>
  db.selectFrom('trackers').select(['address', 'secret']).where('workspace_id', '=', THE_WORKSPACE).executeTakeFirst();

/** Names the tracker, or none; the secret stays while there is one. Source: Standard Webhooks, "Signature scheme". */
export const nameTracker = async ({ db }: Database, address: string, author: string): Promise<void> => {
  if (address === '') {
    await db.deleteFrom('trackers').where('workspace_id', '=', THE_WORKSPACE).execute();
    return;
  }
  await db
    .insertInto('trackers')
    .values({ workspace_id: THE_WORKSPACE, address, author, secret: `whsec_${randomBytes(32).toString('base64')}` })
    .onConflict((c) => c.column('workspace_id').doUpdateSet({ address, author, at: new Date() }))
    .execute();
};
