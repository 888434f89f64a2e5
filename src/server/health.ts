/** Whether this process lives, and whether it can serve. */
import { ping } from '../db/database';
import { answering, json, problem, RETRY_AFTER_S } from './answer';
import { theAnalysis } from './analysis';
import { database } from './context';

/** `GET /api/alive`: the process answers; nothing is said of the database. */
export const alive = (): Response => json({ alive: true });

/** `GET /api/health`: ready, that is the database answers, and views can be answered out of the columns; else 503 with what is lacking. */
export const health = (): Promise<Response> =>
  answering(async () => {
    await ping(database());
    const standing = theAnalysis()?.standing ?? { ready: true };
    if (standing.ready) return json({ ok: true });
    const soFar = standing.of > 0 ? ` (${standing.rows.toLocaleString('en-GB')} of about ${standing.of.toLocaleString('en-GB')})` : '';
    return problem(503, 'not ready', `The recorded messages are still being loaded${soFar}. The intake takes messages already.`, {
      'retry-after': String(RETRY_AFTER_S),
    });
  });
