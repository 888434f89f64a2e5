/** One connection that listens to PostgreSQL's notifications, for all event streams of this process. */
import pg from 'pg';
import { listenToAll, NOTICE_ON, type Notice } from '../db/notices';
import { database } from './context';

type Hear = (notice: Notice) => void;

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
  await listenToAll(c);
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
