/** The words that every message is sorted by, apart from the columns, so that a page that only names them does not bring the columns along. */

/** An event, an identify call, a page or screen that was shown, or a raw interaction, such as a tap. */
export const MESSAGE_KINDS = ['event', 'identify', 'view', 'interaction'] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];

export const MARKS = ['internal', 'test', 'robot'] as const;
export type Mark = (typeof MARKS)[number];
export const CONSENTS = ['granted', 'denied', 'unknown'] as const;
export type Consent = (typeof CONSENTS)[number];

/** Bits of the marks that are known; −1 for none, and for what is no list. */
export const marksOf = (v: unknown): number => {
  let bits = 0;
  if (Array.isArray(v)) MARKS.forEach((m, i) => (bits |= v.includes(m) ? 1 << i : 0));
  return bits === 0 ? -1 : bits;
};
