/** How often each event arrived lately. */
import { answering, json } from './answer';
import { currentTable } from './columns';

const LATELY_MS = 7 * 86_400_000;

/** `GET /api/arrived`: name → messages of the last seven days. */
export const arrived = (): Promise<Response> =>
  answering(async () => {
    const table = await currentTable();
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
