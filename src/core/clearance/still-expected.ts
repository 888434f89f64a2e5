/** How many messages of the days that a figure looks at are still on their way, by how late each source's messages usually are. */
import { slotsOfEvent, SLOT_MS } from '../table/cube';
import type { MessageTable } from '../table/message-table';
import { received } from './received';
import type { Days } from './reach';

/** Of what came so far less than this is there after so short a time: how much is still to come cannot be said by it. */
const THERE = 0.05;

export interface StillExpected {
  readonly messages: number;
  readonly expected: number;
}

/** Shape: `messages` of these events in these days, and how many more are expected, which need be no whole number.
 *  Source: of what happened so long ago the share F that has such a lag at most has come; of n that came, n × (1 − F) ÷ F are still to come.
 */
export const stillExpected = (table: MessageTable, names: Iterable<string>, { from, to }: Days, now: number): StillExpected => {
  const bySource = received(table);
  let [messages, expected] = [0, 0];
  for (const name of names)
    for (const { source, counts } of slotsOfEvent(table, name)) {
      const lags = bySource[source]?.lags;
      const [first, last] = [Math.ceil(from / SLOT_MS), Math.floor(Math.min(to, now) / SLOT_MS)];
      // Of a long history a few days are looked at; where they are longer than it, what there is.
      const looked =
        last - first < counts.size ? Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => first + i) : counts.keys();
      for (const slot of looked) {
        const n = counts.get(slot) ?? 0;
        const at = slot * SLOT_MS;
        if (n === 0 || slot < first || slot > last) continue;
        messages += n;
        const there = Math.max(THERE, lags?.within(now - at) ?? 1);
        expected += (n * (1 - there)) / there;
      }
    }
  return { messages, expected };
};
