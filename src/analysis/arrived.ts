/** What arrived of each event: how often lately, and which pairs of event and source were seen, since when. */
import { arrived } from '../core/api/arrived';
import { seen } from '../core/api/seen';
import { traffic } from '../core/api/traffic';
import { seenPairs } from '../core/arrival/seen';
import { serve } from '../server/serve';
import { PRODUCTION, trafficSeen } from '../core/table/traffic';
import { trialResults } from '../db/trial-store';
import { database } from '../server/context';
import { heldState } from './columns';
import { draftScope, publishedScope } from './scope';

const LATELY_MS = 7 * 86_400_000;

export const ARRIVED = [
  serve(arrived, ({ url }) => {
    const { table } = publishedScope(url);
    const since = Date.now() - LATELY_MS;
    const time = table.time.raw;
    const counts: Record<string, number> = {};
    for (const name of table.names.values) {
      let n = 0;
      for (const row of table.rowsOf(name)) if (time[row]! >= since) n++;
      counts[name] = n;
    }
    return counts;
  }),
  serve(seen, async ({ url }) => {
    const { plan, table } = await draftScope(url);
    const proofs = (await trialResults(database())).filter((r) => r.passed);
    return seenPairs(plan, table, (names, sourceId, release) =>
      proofs.some((v) => names.includes(v.eventName) && v.sourceId === sourceId && v.release === release),
    );
  }),
  // Whatever counts.
  serve(traffic, () => {
    const { plan } = publishedScope();
    return trafficSeen(heldState().table, (id) => plan.source[id]?.environment ?? PRODUCTION);
  }),
];
