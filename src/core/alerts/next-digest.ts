/** When a daily digest goes out: in the morning of the workspace's time zone. */
import { dayBounds, dayOf } from '../questions/calendar';
import { HOUR_MS } from '../time';

/** Eight hours after the day began. */
const AFTER_MS = 8 * HOUR_MS;

/** The next one after `now`. Units: UTC epoch ms. */
export const nextDigest = (now: number, timeZone: string): number => {
  const today = dayBounds(dayOf(now, timeZone), timeZone)!;
  return now < today.from + AFTER_MS ? today.from + AFTER_MS : today.to + AFTER_MS;
};
