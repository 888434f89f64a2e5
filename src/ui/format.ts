/** Numbers, shares and times as they are shown. */

const whole = new Intl.NumberFormat('en-GB');

export const count = (n: number): string => whole.format(n);

const upToTwo = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 2 });

/** A number with at most two decimals. */
export const decimal = (n: number): string => upToTwo.format(n);

const twoAlways = new Intl.NumberFormat('en-GB', { minimumFractionDigits: 2, maximumFractionDigits: 2 });

/** A number with two decimals, for columns. */
export const twoDecimals = (n: number): string => twoAlways.format(n);

/** A share as percent with one decimal; a dash where it is undefined. What is not all is never shown as all, nor what is something as nothing. */
export const percent = (share: number | undefined, digits = 1): string => {
  if (share === undefined) return '–';
  const min = 10 ** -digits;
  const p = share * 100;
  if (p > 0 && p < min / 2) return `< ${min.toFixed(digits)} %`;
  if (p < 100 && p >= 100 - min / 2) return `> ${(100 - min).toFixed(digits)} %`;
  return `${p.toFixed(digits)} %`;
};

export const plural = (n: number, one: string, many = `${one}s`): string => `${count(n)} ${n === 1 ? one : many}`;

/** A text of a moment in a time zone. To make a formatter takes longer than to draw a row, so each zone's is kept. */
const inZone = (options: Intl.DateTimeFormatOptions): ((at: number, timeZone: string) => string) => {
  const formats = new Map<string, Intl.DateTimeFormat>();
  return (at, timeZone) => {
    let format = formats.get(timeZone);
    if (!format) formats.set(timeZone, (format = new Intl.DateTimeFormat('en-GB', { ...options, timeZone })));
    return format.format(at);
  };
};

const shortDay = inZone({ day: 'numeric', month: 'short' });
const longDay = inZone({ day: 'numeric', month: 'short', year: 'numeric' });
const yearText = inZone({ year: 'numeric' });
const isThisYear = (at: number, timeZone: string): boolean => yearText(at, timeZone) === yearText(Date.now(), timeZone);

/** A day; with its year where that is not this one. */
export const dayText = (at: number, timeZone: string): string => (isThisYear(at, timeZone) ? shortDay : longDay)(at, timeZone);
export const timeText = inZone({ hour: '2-digit', minute: '2-digit', second: '2-digit' });

export const instantText = (at: number): string => new Date(at).toISOString();

/** Units of ms, each up to where the next one is said. */
const SPANS = [
  ['second', 1000, 60_000],
  ['minute', 60_000, 3_600_000],
  ['hour', 3_600_000, 86_400_000],
  ['day', 86_400_000, 30 * 86_400_000],
  ['month', 30 * 86_400_000, 365 * 86_400_000],
  ['year', 365 * 86_400_000, Infinity],
] as const;

/** A span of time in its greatest unit, rounded: by the platform, since a package for it is as large as a view. */
const spanText = (ms: number): string => {
  const length = Math.abs(ms);
  const [unit, size] = SPANS.find(([, , below]) => length < below)!;
  const n = Math.round(length / size);
  const [u, v] = unit === 'month' && n === 12 ? ['year', 1] : [unit, n];
  return new Intl.NumberFormat('en-GB', { style: 'unit', unit: u, unitDisplay: 'long' }).format(v);
};

export const ageText = (at: number, now: number): string => (now - at < 5000 ? 'just now' : `${spanText(now - at)} ago`);

/** A moment that is still to come. */
export const untilText = (at: number, now: number): string => `in ${spanText(at - now)}`;

const shortMonth = inZone({ month: 'long' });
const longMonth = inZone({ month: 'long', year: 'numeric' });

/** A month; with its year where that is not this one. */
export const monthText = (at: number, timeZone: string): string => (isThisYear(at, timeZone) ? shortMonth : longMonth)(at, timeZone);

/** A length of time, in the unit that needs fewest figures. Units: ms. */
export const lagText = (ms: number): string =>
  ms < 1000
    ? `${Math.round(ms)} ms`
    : ms < 60_000
      ? `${decimal(Math.round(ms / 100) / 10)} s`
      : ms < 3_600_000
        ? `${Math.round(ms / 60_000)} min`
        : ms < 2 * 86_400_000
          ? `${decimal(Math.round(ms / 360_000) / 10)} h`
          : `${decimal(Math.round(ms / 8_640_000) / 10)} d`;
