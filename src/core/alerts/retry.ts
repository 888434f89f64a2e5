/** When a delivery that failed is tried again. */
import { DAY_MS } from '../time';

const TIMES = [1, 6, 24, 120, 360, 1440, 3600, 7200, 7200, 17_280] as const;
export const FIRST_PAUSE_MS = 5000;

/** So many tries altogether. */
export const MAX_TRIES = TIMES.length + 1;

/** The pause after so many failed tries, in ms, longer each time; `undefined` when it is given up. `asked`: what the receiver asked for, in ms, where that is longer, a day at most;
 *  `firstMs`: the first pause, of which the others are multiples.
 *  Source: the growing pauses of Standard Webhooks, "Deliverability and reliability"; the numbers are our own.
 */
export const pauseAfter = (failed: number, asked = 0, firstMs = FIRST_PAUSE_MS): number | undefined => {
  const times = TIMES[failed - 1];
  return times === undefined ? undefined : Math.max(times * firstMs, Math.min(asked, DAY_MS));
};
