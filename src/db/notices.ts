/** What the database tells its listeners: a channel for each kind of news. */
import type pg from 'pg';
import { FINDINGS_CHANNEL } from './finding-store';
import { KEYS_CHANNEL } from './key-store';
import { MESSAGE_CHANNEL } from './message-writer';
import { PLAN_CHANNEL } from './plan-store';
import { PEOPLE_CHANNEL } from './presence-store';
import { RECHECK_CHANNEL } from './recheck-store';

export type Notice = 'messages' | 'plan' | 'people' | 'recheck' | 'keys' | 'findings';

export const NOTICE_ON: Readonly<Record<string, Notice>> = {
  [MESSAGE_CHANNEL]: 'messages',
  [PLAN_CHANNEL]: 'plan',
  [PEOPLE_CHANNEL]: 'people',
  [RECHECK_CHANNEL]: 'recheck',
  [KEYS_CHANNEL]: 'keys',
  [FINDINGS_CHANNEL]: 'findings',
};

/** From now on this connection hears all of them. */
export const listenToAll = async (client: pg.Client): Promise<void> => {
  for (const channel of Object.keys(NOTICE_ON)) await client.query(`listen ${channel}`);
};
