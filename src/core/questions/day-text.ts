/** Days as people write them: read in several ways, shown in one. */
import { TZDate } from '@date-fns/tz';
import { format, isMatch, parse, parseISO } from 'date-fns';

/** Numbers alone with dots or slashes are not read: people disagree on their order. */
const FORMATS = ['yyyy-M-d', 'd MMM yyyy', 'd MMMM yyyy', 'd MMM', 'd MMMM'] as const;
const DAY = 'yyyy-MM-dd';
const YEAR = /\d{4}/;

/** The day that a text means, as `2026-10-05`; `undefined` where it means none. Without a year it is one of `year`.
 *  Shape: `2026-10-05`, `5 Oct 2026`, `5 October`.
 */
export const readDay = (text: string, year: number): string | undefined => {
  const t = text.trim();
  const found = FORMATS.find((f) => f.includes('yyyy') === YEAR.test(t) && isMatch(t, f));
  return found && format(parse(t, found, new Date(year, 0, 1)), DAY);
};

/** A day, such as `2026-10-05`, as it is shown: `5 Oct 2026`. What is no day is shown as it is. */
export const dayShown = (day: string): string => (isMatch(day, DAY) ? format(parseISO(day), 'd MMM yyyy') : day);

/** The instant of a day and a time of day (`14:30`) in a time zone, UTC epoch ms; `undefined` where either cannot be read. A time that a change of
 *  clocks leaves out counts as the one after it.
 */
export const instantAt = (day: string, time: string, timeZone: string): number | undefined => {
  if (!isMatch(day, DAY) || !isMatch(time.trim(), 'H:mm')) return undefined;
  // By their numbers alone, so that the zone of this machine does not matter.
  const [y, m, d] = day.split('-').map(Number);
  const [hour, minute] = time.trim().split(':').map(Number);
  return new TZDate(y!, m! - 1, d!, hour!, minute!, timeZone).getTime();
};
