/** Sample values: written as text in the plan, and what they are as JSON. */
import { COUNTRIES, CURRENCIES } from './code-lists';
import { patternOf } from './pattern';
import type { Format, Property, PropertyType } from './plan';
import { isNumeric, parseInstant } from './property-type';

/** The JSON value that a sample text means; `undefined` when it is not of the type. */
export const sampleAs = (type: PropertyType, text: string): unknown => {
  if (isNumeric(type)) {
    const n = text.trim() === '' ? NaN : Number(text);
    return Number.isFinite(n) && (!type.includes('integer') || Number.isInteger(n)) ? n : undefined;
  }
  if (type === 'boolean' || type === 'list of boolean') return text === 'true' ? true : text === 'false' ? false : undefined;
  if (type === 'timestamp') return parseInstant(text) === undefined ? undefined : text;
  if (type === 'object') {
    try {
      const v: unknown = JSON.parse(text);
      return typeof v === 'object' && v !== null && !Array.isArray(v) ? v : undefined;
    } catch {
      return undefined;
    }
  }
  return text;
};

/** Formats as patterns: e-mail and URL by a plain approximation. */
const PATTERNS: Partial<Record<Format, RegExp>> = {
  'e-mail': /^[^\s@]+@[^\s@]+\.[^\s@]+$/,
  URL: /^https?:\/\/[^\s/]+(\/\S*)?$/i,
};

/** The usual tags, so that few are taken apart. */
const USUAL_LANGUAGE = /^[a-z]{2,3}(-[A-Z][a-z]{3})?(-([A-Z]{2}|\d{3}))?$/;

/** Whether a text is a well-formed language tag. Source: RFC 5646 (BCP 47), as the platform's `Intl.Locale` reads it. */
const isLanguage = (text: string): boolean => {
  if (USUAL_LANGUAGE.test(text)) return true;
  try {
    new Intl.Locale(text);
    return true;
  } catch {
    return false;
  }
};

const UUID_LENGTH = 36;
const DASH = 45;
const HEX = Uint8Array.from({ length: 128 }, (_, c) => Number(/[0-9a-f]/i.test(String.fromCharCode(c))));

/** 1 where four characters in a row are hexadecimal digits: without a branch, which costs more than the look. */
const fourHex = (text: string, at: number): number =>
  HEX[text.charCodeAt(at)]! & HEX[text.charCodeAt(at + 1)]! & HEX[text.charCodeAt(at + 2)]! & HEX[text.charCodeAt(at + 3)]!;

/** Whether a text is a UUID, of whatever version. Source: RFC 9562, section 4. */
export const isUuid = (text: string): boolean =>
  text.length === UUID_LENGTH &&
  text.charCodeAt(8) === DASH &&
  text.charCodeAt(13) === DASH &&
  text.charCodeAt(18) === DASH &&
  text.charCodeAt(23) === DASH &&
  (fourHex(text, 0) &
    fourHex(text, 4) &
    fourHex(text, 9) &
    fourHex(text, 14) &
    fourHex(text, 19) &
    fourHex(text, 24) &
    fourHex(text, 28) &
    fourHex(text, 32)) ===
    1;

/** Whether a text is of a format.
 *  Sources: RFC 9562 (UUID), ISO 4217 and ISO 3166-1 alpha-2 (see code-lists), RFC 5646 (language), RFC 3339 (date, date-time).
 */
export const hasFormat = (format: Format, text: string): boolean => {
  if (format === 'currency') return CURRENCIES.has(text);
  if (format === 'country') return COUNTRIES.has(text);
  if (format === 'language') return isLanguage(text);
  if (format === 'date-time') return parseInstant(text) !== undefined;
  if (format === 'date') return /^\d{4}-\d\d-\d\d$/.test(text) && parseInstant(`${text}T00:00:00Z`) !== undefined;
  return format === 'UUID' ? isUuid(text) : PATTERNS[format]!.test(text);
};

export type Misfit = 'type' | 'range' | 'values' | 'pattern' | 'format';

/** How a sample breaks its property's own definition; `undefined` when it fits. */
export const misfitOf = (
  p: Pick<Property, 'type' | 'min' | 'max' | 'allowed' | 'pattern' | 'format'>,
  text: string,
): Misfit | undefined => {
  const v = sampleAs(p.type, text);
  if (v === undefined) return 'type';
  if (typeof v === 'number' && ((p.min !== undefined && v < p.min) || (p.max !== undefined && v > p.max))) return 'range';
  if (p.allowed.length > 0 && !p.allowed.includes(text)) return 'values';
  if (typeof v !== 'string') return undefined;
  if (patternOf(p.pattern)?.test(v) === false) return 'pattern';
  if (p.format !== '' && !hasFormat(p.format, v)) return 'format';
  return undefined;
};
