/** The fast path of a planned value: what it usually is, told by one look and without a call. All else goes through the checks, so a value
 *  that is told usual here must be one on which no check finds anything (tests/core/arrival/compile.test.ts).
 */
import { isPlaceholder } from '../identity/placeholder';
import type { Property } from '../plan/plan';
import { isInstant } from '../plan/property-type';
import { isUuid } from '../plan/sample';
import { mayBePersonal } from './personal-data';

/** What a value of a property usually is; told by one look, without a call. All else goes through the checks. */
const NO_USUAL = 0;
const TEXT = 1;
const LISTED = 2;
const WHOLE = 3;
const NUMERIC = 4;
const YES_OR_NO = 5;
const INSTANT = 6;
const UUID = 7;

export interface UsualValue {
  readonly usual: number;
  readonly allowed: readonly string[];
  readonly low: number;
  readonly high: number;
  /** Longer texts that were found usual: most properties have few values, and one that is known is told by one look. Nothing is kept of a
   *  property with many.
   */
  known: Set<string> | undefined;
  unknown: number;
}

const MAX_LISTED = 12;

const boundsOf = (p: Property): Omit<UsualValue, 'known' | 'unknown'> => {
  const range = { low: p.min ?? -Infinity, high: p.max ?? Infinity };
  const listed = p.allowed.length > 0;
  const numeric = p.type === 'integer' ? WHOLE : p.type === 'number' ? NUMERIC : NO_USUAL;
  if (p.type === 'boolean' && !listed) return { usual: YES_OR_NO, allowed: [], ...range };
  if (p.type === 'timestamp' && !listed) return { usual: INSTANT, allowed: [], ...range };
  if (p.type === 'string' && p.format === 'UUID' && p.pattern === '' && !listed) return { usual: UUID, allowed: [], ...range };
  if (p.type === 'string' && (p.pattern !== '' || p.format !== '')) return { usual: NO_USUAL, allowed: [], ...range };
  if (p.type === 'string' && (!listed || p.allowed.length <= MAX_LISTED))
    return { usual: listed ? LISTED : TEXT, allowed: p.allowed, ...range };
  return { usual: listed ? NO_USUAL : numeric, allowed: [], ...range };
};

export const usualOf = (p: Property): UsualValue => ({ ...boundsOf(p), known: new Set(), unknown: 0 });

const MIN_KNOWN_LENGTH = 12;
const MAX_KNOWN_LENGTH = 100;
const MAX_KNOWN = 64;
const MAX_UNKNOWN = 1000;

const isUsualText = (p: UsualValue, v: string): boolean => {
  const known = v.length > MIN_KNOWN_LENGTH ? p.known : undefined;
  if (known?.has(v)) return true;
  if (!(v.charCodeAt(0) > 32) || isPlaceholder(v) || mayBePersonal(v)) return false;
  if (known && v.length <= MAX_KNOWN_LENGTH) {
    if (known.size < MAX_KNOWN) known.add(v);
    else if (++p.unknown > MAX_UNKNOWN) p.known = undefined;
  }
  return true;
};

/** Whether a value is as usual: then no check finds anything. */
export const isUsual = (p: UsualValue, v: unknown): boolean => {
  switch (p.usual) {
    case TEXT:
      return typeof v === 'string' && isUsualText(p, v);
    case LISTED: {
      const { allowed } = p;
      for (let i = 0; i < allowed.length; i++) if (allowed[i] === v) return true;
      return false;
    }
    case WHOLE:
      return Number.isInteger(v) && (v as number) >= p.low && (v as number) <= p.high;
    case NUMERIC:
      return typeof v === 'number' && v >= p.low && v <= p.high;
    case YES_OR_NO:
      return typeof v === 'boolean';
    case INSTANT:
      return typeof v === 'string' && isInstant(v);
    case UUID:
      return typeof v === 'string' && isUuid(v);
    default:
      return false;
  }
};
