/** The findings on what arrived, grouped by cause. */
import { groupFindings } from '../core/arrival/finding-group';
import { findingCounts } from '../db/finding-store';
import { intakeTotals } from '../db/message-store';
import { answering, json } from './answer';
import { currentTable } from './columns';
import { database } from './context';
import { manyFindings } from './many-findings';
import { newestVersion } from './published';

/** `GET /api/findings`: all groups under the version in force, and what each source sent. */
export const findings = (): Promise<Response> =>
  answering(async () => {
    const version = await newestVersion();
    const table = await currentTable();
    const counts = await findingCounts(database(), version?.number ?? 0);
    return json({
      groups: groupFindings(counts, table, version ? await manyFindings(table, version) : []),
      messages: table.length,
      totals: await intakeTotals(database()),
    });
  });
