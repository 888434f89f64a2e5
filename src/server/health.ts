/** Whether this process lives, and whether it can serve. */
import { ping } from '../db/database';
import { answering, json, problem, RETRY_AFTER_S } from './answer';
import { theAnalysis } from './analysis';
import { database } from './context';
import { lackingRoles } from './processes';
import { ownRoles } from './roles';

/** `GET /api/alive`: the process answers; nothing is said of the database. */
export const alive = (): Response => json({ alive: true });

/** `GET /api/health`: ready, that is the database answers, and views can be answered out of the columns; else 503 with what is lacking. Also what this
 *  process does, and what no process does.
 */
export const health = (): Promise<Response> =>
  answering(async () => {
    await ping(database());
    const lacking = await lackingRoles();
    if (ownRoles.has('web') && lacking.includes('analysis'))
      return problem(503, 'not ready', 'No process with the role “analysis” runs, so that views cannot be answered.', {
        'retry-after': String(RETRY_AFTER_S),
      });
    const standing = ownRoles.has('analysis') ? theAnalysis()?.standing : undefined;
    if (!standing || standing.ready) return json({ ok: true, roles: [...ownRoles], lacking });
    const soFar = standing.of > 0 ? ` (${standing.rows.toLocaleString('en-GB')} of about ${standing.of.toLocaleString('en-GB')})` : '';
    return problem(503, 'not ready', `The recorded messages are still being loaded${soFar}. The intake takes messages already.`, {
      'retry-after': String(RETRY_AFTER_S),
    });
  });
