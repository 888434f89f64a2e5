/** What a gate counts over messages: worked out anew when a message came that it counts, when whoever was counted became somebody else, when the messages
 *  are judged anew, and after a minute, since days move with the clock.
 */
import type { MessageTable } from '../table/message-table';
import type { ClearanceContext } from './gate';

const STANDS_MS = 60_000;
const MAX = 2000;

interface Remembered {
  readonly value: unknown;
  readonly now: number;
  readonly rows: string;
  readonly verdicts: object;
  readonly lineage: object | undefined;
}

const byTable = new WeakMap<MessageTable, Map<string, Remembered>>();

/** Shape: `key` names what is counted, with all that it hangs on beside the messages of the events of these names; what `work` gives is not changed by
 *  whoever gets it.
 */
export const rememberedCount = <T>(c: ClearanceContext, key: readonly unknown[], names: Iterable<string>, work: () => T): T => {
  const { table, now } = c;
  let own = byTable.get(table);
  if (!own) byTable.set(table, (own = new Map<string, Remembered>()));
  const of = [...names];
  const text = JSON.stringify([key, of]);
  const rows = `${table.names.values.length} ${of.map((name) => table.rowsOf(name).length).join(' ')}`;
  const lineage = c.figures?.('fully linked').people.lineage;
  const before = own.get(text);
  if (
    before?.rows === rows &&
    before.verdicts === table.verdicts &&
    before.lineage === lineage &&
    now >= before.now &&
    now - before.now < STANDS_MS
  )
    return before.value as T;
  const value = work();
  own.delete(text);
  if (own.size >= MAX) own.delete(own.keys().next().value!);
  own.set(text, { value, now, rows, verdicts: table.verdicts, lineage });
  return value;
};
