/** The words that every message is sorted by, apart from the columns, so that a page that only names them does not bring the columns along. */

/** An event, an identify call, a page or screen that was shown, or a raw interaction, such as a tap. */
export const MESSAGE_KINDS = ['event', 'identify', 'view', 'interaction'] as const;
export type MessageKind = (typeof MESSAGE_KINDS)[number];

export const MARKS = ['internal', 'test', 'robot'] as const;
export type Mark = (typeof MARKS)[number];
export const CONSENTS = ['granted', 'denied', 'unknown'] as const;
export type Consent = (typeof CONSENTS)[number];
