/** A stretch of whole days over which something is tried. */
import { dayBounds } from '../questions/calendar';

/** UTC epoch ms; `to` is the first instant behind it. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** The stretch of days, both written as 2026-11-02 and both within it; in words what is wrong with them. */
export const stretchOfDays = (from: string, through: string, timeZone: string): Stretch | string => {
  const [first, last] = [dayBounds(from, timeZone), dayBounds(through, timeZone)];
  const wrong = first ? (last ? undefined : through) : from;
  if (!first || !last) return `“${wrong}” is not a day such as 2026-11-02.`;
  if (first.from >= last.to) return `The stretch ends on ${through}, before it begins on ${from}.`;
  return { from: first.from, to: last.to };
};
