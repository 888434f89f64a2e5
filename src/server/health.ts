/** Whether this process lives, and whether it can serve. */
import { ping } from '../db/database';
import { alive } from '../core/api/alive';
import { health } from '../core/api/health';
import { processes } from '../core/api/processes';
import { problem, RETRY_AFTER_S } from './answer';
import { serve } from './serve';
import { theAnalysis } from './analysis';
import { database } from './context';
import { lackingRoles } from './processes';
import { ownRoles } from './roles';

export const HEALTH = [
  serve(alive, () => ({ alive: true as const })),
  serve(health, async () => {
    await ping(database());
    const lacking = await lackingRoles();
    if (ownRoles.has('web') && lacking.includes('analysis'))
      return problem(503, 'not ready', 'No process with the role “analysis” runs, so that views cannot be answered.', {
        'retry-after': String(RETRY_AFTER_S),
      });
    const standing = ownRoles.has('analysis') ? theAnalysis()?.standing : undefined;
    if (!standing || standing.ready) return { ok: true as const, roles: [...ownRoles], lacking };
    const soFar =
      standing.total > 0 ? ` (${standing.rows.toLocaleString('en-GB')} of about ${standing.total.toLocaleString('en-GB')})` : '';
    return problem(503, 'not ready', `The recorded messages are still being loaded${soFar}. The intake takes messages already.`, {
      'retry-after': String(RETRY_AFTER_S),
    });
  }),
  serve(processes, async () => ({ lacking: await lackingRoles() })),
];
