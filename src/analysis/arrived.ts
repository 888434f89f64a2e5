/** What arrived of each event: how often lately, and which pairs of event and source were seen, since when. */
import { seenPairs } from '../core/arrival/seen';
import { answering, json } from '../server/answer';
import { PRODUCTION, trafficSeen } from '../core/table/traffic';
import { heldState } from './columns';
import { draftScope, publishedScope } from './scope';

const LATELY_MS = 7 * 86_400_000;

/** `GET /api/arrived`: name → messages of the last seven days. */
export const arrived = (url: URL): Promise<Response> =>
  answering(async () => {
    const { table } = publishedScope(url);
    const since = Date.now() - LATELY_MS;
    const time = table.time.raw;
    const counts: Record<string, number> = {};
    for (const name of table.names.values) {
      let n = 0;
      for (const row of table.rowsOf(name)) if (time[row]! >= since) n++;
      counts[name] = n;
    }
    return json(counts);
  });

/** `GET /api/seen`: the pairs of event and source in the draft that arrived, with when first and in which release. */
export const seen = (url: URL): Promise<Response> =>
  answering(async () => {
    const { plan, table } = await draftScope(url);
    return json(seenPairs(plan, table));
  });

/** `GET /api/traffic`: messages of every environment, marked and not, whatever counts. */
export const traffic = (): Promise<Response> =>
  answering(async () => {
    const { plan } = publishedScope();
    return json(trafficSeen(heldState().table, (id) => plan.source[id]?.environment ?? PRODUCTION));
  });
