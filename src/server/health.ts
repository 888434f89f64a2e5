/** Whether this process lives, and whether it can serve. */
import { ping } from '../db/database';
import { answering, json, problem, RETRY_AFTER_S } from './answer';
import { currentTable } from './columns';
import { database } from './context';

/** `GET /api/alive`: the process answers; nothing is said of the database. */
export const alive = (): Response => json({ alive: true });

const PATIENCE_MS = 2000;

/** `GET /api/health`: ready, that is the database answers, and views can be answered out of the columns; else 503 with what is lacking. */
export const health = (): Promise<Response> =>
  answering(async () => {
    await ping(database());
    let timer: ReturnType<typeof setTimeout> | undefined;
    const late = new Promise<'late'>((done) => (timer = setTimeout(() => done('late'), PATIENCE_MS)));
    const table = await Promise.race([currentTable(), late]);
    clearTimeout(timer);
    if (table === 'late')
      return problem(503, 'not ready', 'The recorded messages are still being loaded. The intake takes messages already.', {
        'retry-after': String(RETRY_AFTER_S),
      });
    return json({ ok: true });
  });
