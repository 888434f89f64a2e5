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

/** Epoch ms of an RFC 3339 date-time; `undefined` for anything else, days that do not exist included. */
export const parseInstant = (text: string): number | undefined => {
  const m = DATE_TIME.exec(text);
  if (!m) return undefined;
  const [, y, mo, d, h, mi, s, , zone] = m;
  const month = Number(mo);
  const day = Number(d);
  if (month < 1 || month > 12 || day < 1 || day > new Date(Date.UTC(Number(y), month, 0)).getUTCDate()) return undefined;
  if (Number(h) > 23 || Number(mi) > 59 || Number(s) > 59) return undefined;
  if (zone && zone.length > 1 && (Number(zone.slice(1, 3)) > 23 || Number(zone.slice(4, 6)) > 59)) return undefined;
  const ms = Date.parse(text.replace(' ', 'T').toUpperCase());
  return Number.isNaN(ms) ? undefined : ms;
};
