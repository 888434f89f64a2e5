/** Whether anybody looks, and anything goes out: an inbox that is empty because nobody looks must not look like one in which nothing happened. */
import { roughSpan } from '../arrival/check-many';
import { MINUTE_MS } from '../time';

export interface Standing {
  /** When somebody looked last for what happened, UTC epoch ms; `null` where nobody did yet. */
  readonly lookedAt: number | null;
  /** Deliveries that have been due for long, and that nobody tries. */
  readonly overdue: number;
}

/** Looks come every five minutes, and soon after anything came. */
export const STANDS_AFTER_MS = 20 * MINUTE_MS;

/** What stands still, in words; none where nothing does. `now`: UTC epoch ms. */
export const standingWords = ({ lookedAt, overdue }: Standing, now: number): string[] => [
  ...(lookedAt !== null && now - lookedAt > STANDS_AFTER_MS
    ? [
        `Nobody has looked for what happened for ${roughSpan(now - lookedAt)}: what came since is not told. Does a process with the role “jobs” run?`,
      ]
    : []),
  ...(overdue > 0
    ? [
        `${overdue === 1 ? 'One delivery has' : `${overdue.toLocaleString('en-GB')} deliveries have`} been due for more than ${roughSpan(STANDS_AFTER_MS)}, and nobody sends ${overdue === 1 ? 'it' : 'them'}. Does a process with the role “jobs” run?`,
      ]
    : []),
];
