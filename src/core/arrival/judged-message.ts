/** A stored message with what was found on it, and texts as every store can hold them. */
import type { Verdict } from '../table/row-verdicts';

/** A stored message with what was found on it. */
export interface JudgedMessage {
  /** Sequence number in the order of arrival. */
  readonly seq: number;
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  /** UTC epoch ms. */
  readonly occurredAt: number;
  readonly findings: readonly Verdict[];
}

/** Text that UTF-8 can hold: half of a surrogate pair becomes the sign for what is no character. */
export const wellFormed = (text: string): string => text.replace(/[\ud800-\udfff]/gu, '\ufffd');

/** Text that every store can hold: NUL, too, is shown by its sign. */
export const storable = (text: string): string => wellFormed(text.replaceAll('\0', '\u2400'));

/** JSON text of values whose texts every store can hold. Names within must be such already. */
export const storableJson = (v: unknown): string => {
  const text = JSON.stringify(v);
  if (!/\\u(?:0000|d[89a-f])/.test(text)) return text;
  return JSON.stringify(v, (_, inner: unknown) => (typeof inner === 'string' ? storable(inner) : inner));
};
