/** Property types: what a JSON value of each looks like. */
import type { PropertyType } from './plan';

export const isNumeric = (type: PropertyType): boolean => /number|integer/.test(type);

/** The JSON Schema name of a value's type, with `integer` for whole numbers. */
export const jsonTypeOf = (v: unknown): 'null' | 'string' | 'integer' | 'number' | 'boolean' | 'list' | 'object' =>
  v === null || v === undefined
    ? 'null'
    : Array.isArray(v)
      ? 'list'
      : typeof v === 'number'
        ? Number.isInteger(v)
          ? 'integer'
          : 'number'
        : (typeof v as 'string' | 'boolean' | 'object');

/** RFC 3339 section 5.6 date-time, with its ranges; a leap second is not accepted, as a `Date` cannot hold it. */
const DATE_TIME = /^(\d{4})-(\d\d)-(\d\d)[Tt ](\d\d):(\d\d):(\d\d)(\.\d+)?([Zz]|[+-]\d\d:\d\d)$/;

/** Two digits at a place of a text as a number; NaN where there are none. */
const two = (text: string, at: number): number => {
  const a = text.charCodeAt(at) - 48;
  const b = text.charCodeAt(at + 1) - 48;
  return a >= 0 && a <= 9 && b >= 0 && b <= 9 ? a * 10 + b : NaN;
};

const DAY_MS = 86_400_000;
const ZULU_WITH_MS = 24;
const DASH = 45;
const COLON = 58;

/** Days from 1 January 1970 to a day of the Gregorian calendar.
 *  Source: H. Hinnant, chrono-compatible low-level date algorithms, `days_from_civil`.
 */
const daysFromCivil = (year: number, month: number, day: number): number => {
  const y = month <= 2 ? year - 1 : year;
  const era = Math.floor(y / 400);
  const yearOfEra = y - era * 400;
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1;
  return era * 146_097 + yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear - 719_468;
};

/** The form in which most times come, "2026-03-01T09:30:00.000Z", read without a regular expression; `undefined` for all others. */
const parseUsualInstant = (t: string): number | undefined => {
  if (t.length !== ZULU_WITH_MS || t.charCodeAt(10) !== 84 || t.charCodeAt(19) !== 46 || t.charCodeAt(23) !== 90) return undefined;
  if (t.charCodeAt(4) !== DASH || t.charCodeAt(7) !== DASH || t.charCodeAt(13) !== COLON || t.charCodeAt(16) !== COLON) return undefined;
  const year = two(t, 0) * 100 + two(t, 2);
  const month = two(t, 5);
  const day = two(t, 8);
  const hour = two(t, 11);
  const minute = two(t, 14);
  const second = two(t, 17);
  const ms = two(t, 20) * 10 + (t.charCodeAt(22) - 48);
  // A day up to the 28th is in every month; the others take the long way. NaN fails each comparison.
  const inRange =
    year >= 1000 &&
    month >= 1 &&
    month <= 12 &&
    day >= 1 &&
    day <= 28 &&
    hour <= 23 &&
    minute <= 59 &&
    second <= 59 &&
    ms >= 0 &&
    t.charCodeAt(22) <= 57;
  return inRange && t.charCodeAt(22) >= 48
    ? daysFromCivil(year, month, day) * 86_400_000 + hour * 3_600_000 + minute * 60_000 + second * 1000 + ms
    : undefined;
};

/** Epoch ms of an RFC 3339 date-time; `undefined` for anything else, days that do not exist included. */
export const parseInstant = (text: string): number | undefined => {
  const usual = parseUsualInstant(text);
  if (usual !== undefined) return usual;
  const m = DATE_TIME.exec(text);
  if (!m) return undefined;
  const [, y, mo, d, h, mi, s, , zone] = m;
  const month = Number(mo);
  const day = Number(d);
  if (month < 1 || month > 12 || day < 1 || day > new Date(Date.UTC(Number(y), month, 0)).getUTCDate()) return undefined;
  if (Number(h) > 23 || Number(mi) > 59 || Number(s) > 60) return undefined;
  if (zone && zone.length > 1 && (Number(zone.slice(1, 3)) > 23 || Number(zone.slice(4, 6)) > 59)) return undefined;
  // A leap second is taken as the second after it: the clock of this trade has none.
  const leap = Number(s) === 60;
  const ms = Date.parse(`${text.slice(0, 17)}${leap ? '59' : text.slice(17, 19)}${text.slice(19)}`.replace(' ', 'T').toUpperCase());
  if (Number.isNaN(ms)) return undefined;
  const at = leap ? Math.floor(ms / 1000) * 1000 + 1000 : ms;
  // It is put in at the end of a month in UTC, nowhere else.
  return leap && (at % DAY_MS !== 0 || new Date(at).getUTCDate() !== 1) ? undefined : at;
};
