/** Property types: what a JSON value of each looks like. */
import { DAY_MS } from '../time';
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

/** What a character is worth as a digit; of what is none so much that no sum with it is within any range. */
const DIGIT = Int32Array.from({ length: 128 }, (_, c) => (c >= 48 && c <= 57 ? c - 48 : 1_000_000));

/** Two digits at a place of a text as a number; far too much, or not a number, where there are none. */
const two = (text: string, at: number): number => DIGIT[text.charCodeAt(at)]! * 10 + DIGIT[text.charCodeAt(at + 1)]!;

const WITH_SECONDS = 20;
const WITH_MS = 24;
const DASH = 45;
const COLON = 58;
const POINT = 46;
const LETTER_T = 84;
const LETTER_Z = 90;
const DAYS_IN_MONTH = Uint8Array.of(0, 31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31);
/** Days of a year that are over when a month begins, the year beginning in March. */
const DAYS_BEFORE = Int32Array.of(0, 306, 337, 0, 31, 61, 92, 122, 153, 184, 214, 245, 275);

/** The forms in which most times come, "2026-03-01T09:30:00Z" and "2026-03-01T09:30:00.000Z", read without a regular expression; `undefined`
 *  for all others, and for years before 1000.
 *  Source: H. Hinnant, chrono-compatible low-level date algorithms, `days_from_civil`.
 */
const parseUsualInstant = (t: string): number | undefined => {
  const { length } = t;
  if (length !== WITH_MS && length !== WITH_SECONDS) return undefined;
  if (t.charCodeAt(10) !== LETTER_T || t.charCodeAt(length - 1) !== LETTER_Z) return undefined;
  if (t.charCodeAt(4) !== DASH || t.charCodeAt(7) !== DASH || t.charCodeAt(13) !== COLON || t.charCodeAt(16) !== COLON) return undefined;
  const year = two(t, 0) * 100 + two(t, 2);
  const month = two(t, 5);
  const day = two(t, 8);
  const hour = two(t, 11);
  const minute = two(t, 14);
  const second = two(t, 17);
  if (!(year >= 1000 && year <= 9999 && month >= 1 && month <= 12 && day >= 1 && hour <= 23 && minute <= 59 && second <= 59))
    return undefined;
  if (!(day <= DAYS_IN_MONTH[month]!) && !(month === 2 && day === 29 && year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0)))
    return undefined;
  let ms = 0;
  if (length === WITH_MS) {
    ms = two(t, 20) * 10 + DIGIT[t.charCodeAt(22)]!;
    if (t.charCodeAt(19) !== POINT || !(ms <= 999)) return undefined;
  }
  const y = month <= 2 ? year - 1 : year;
  const days = y * 365 + ((y / 4) | 0) - ((y / 100) | 0) + ((y / 400) | 0) + DAYS_BEFORE[month]! + day - 1 - 719_468;
  return days * DAY_MS + (hour * 3600 + minute * 60 + second) * 1000 + ms;
};

/** Most times that a program writes, on days that every month has. */
const USUAL = /^[1-9]\d{3}-(?:0[1-9]|1[0-2])-(?:0[1-9]|1\d|2[0-8])T(?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d(?:\.\d{3})?Z$/;

/** Whether a text is an RFC 3339 date-time: where nobody asks which, this is half the work of `parseInstant`. */
export const isInstant = (text: string): boolean => USUAL.test(text) || parseInstant(text) !== undefined;

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
