/** One connection that listens to PostgreSQL's notifications, for all event streams of this process. */
import pg from 'pg';
import { FINDINGS_CHANNEL } from '../db/finding-store';
import { KEYS_CHANNEL } from '../db/key-store';
import { MESSAGE_CHANNEL } from '../db/message-writer';
import { PLAN_CHANNEL } from '../db/plan-store';
import { PEOPLE_CHANNEL } from '../db/presence-store';
import { RECHECK_CHANNEL } from '../db/recheck-store';
import { database } from './context';

export type Notice = 'messages' | 'plan' | 'people' | 'recheck' | 'keys' | 'findings';
type Hear = (notice: Notice) => void;

const NOTICE_ON: Readonly<Record<string, Notice>> = {
  [MESSAGE_CHANNEL]: 'messages',
  [PLAN_CHANNEL]: 'plan',
  [PEOPLE_CHANNEL]: 'people',
  [RECHECK_CHANNEL]: 'recheck',
  [KEYS_CHANNEL]: 'keys',
  [FINDINGS_CHANNEL]: 'findings',
};

const hearers = new Set<Hear>();
let client: pg.Client | undefined;
let starting: Promise<void> | undefined;
const RETRY_MS = 1000;

const tell = (notice: Notice): void => {
  for (const hear of hearers) hear(notice);
};

const connect = async (): Promise<void> => {
  const c = new pg.Client({ connectionString: database().url, keepAlive: true });
  const lost = (): void => {
    if (client !== c) return;
    client = undefined;
    setTimeout(() => void ensureListening(), RETRY_MS);
  };
  c.on('error', lost);
  c.on('end', lost);
  c.on('notification', (n) => tell(NOTICE_ON[n.channel]!));
  await c.connect();
  for (const channel of Object.keys(NOTICE_ON)) await c.query(`listen ${channel}`);
  client = c;
  // What was said while nobody listened: everybody looks again.
  tell('messages');
  tell('plan');
  tell('keys');
};

const ensureListening = async (): Promise<void> => {
  if (client || hearers.size === 0) return;
  starting ??= connect()
    .catch(() => void setTimeout(() => void ensureListening(), RETRY_MS))
    .finally(() => (starting = undefined));
  await starting;
};

/** Hears notices until the returned function is called. A lost connection is made again, and everybody is told to look. */
export const listen = (hear: Hear): (() => void) => {
  hearers.add(hear);
  void ensureListening();
  return () => hearers.delete(hear);
};
