/** The fingerprint of a plan version. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { KINDS, type Kind, type Plan } from './plan';

/** JSON with sorted keys and no blanks, so that equal values give equal text.
 *  Source: the idea of RFC 8785 (JSON Canonicalization Scheme) for the values that a plan holds: keys sorted by UTF-16
 *  code units, numbers as ECMAScript prints them.
 */
export const canonicalJson = (value: unknown): string => {
  if (Array.isArray(value)) return `[${value.map((v) => canonicalJson(v ?? null)).join(',')}]`;
  if (typeof value === 'object' && value !== null) {
    const o = value as Record<string, unknown>;
    const parts = Object.keys(o)
      .filter((k) => o[k] !== undefined)
      .sort()
      .map((k) => `${JSON.stringify(k)}:${canonicalJson(o[k])}`);
    return `{${parts.join(',')}}`;
  }
  return JSON.stringify(value ?? null);
};

/** SHA-256 (FIPS 180-4) of a text in UTF-8, as 64 hexadecimal digits. */
export const fingerprint = (text: string): string => bytesToHex(sha256(utf8ToBytes(text)));

/** SHA-256 (FIPS 180-4) of the canonical JSON, as 64 hexadecimal digits. A plan without definitions or trials has the fingerprint that it had
 *  before there were any.
 */
export const contentHash = (plan: Plan): string => {
  const isEmpty = (kind: Kind): boolean => Object.keys(plan[kind] ?? {}).length === 0;
  const kinds = KINDS.filter((k) => !((k === 'definition' || k === 'trial') && isEmpty(k)));
  return fingerprint(canonicalJson(Object.fromEntries(kinds.map((k) => [k, plan[k]]))));
};
