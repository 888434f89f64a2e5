/** The signal's glyph, a post with an arm, and its words: drawn on the screen, and in pictures for other people's pages. */
import type { Signal } from './gate';

export const SIGNAL_WORDS: Readonly<Record<Signal, string>> = { stop: 'Stop', caution: 'Caution', clear: 'Clear', open: 'Not judged yet' };

/** In a box of 24 by 24. */
export const GLYPH = {
  post: 'M7 4.5V22M4.2 22h5.6',
  arm: 'M5 4.4H21.4V9.6H5z',
  band: 'M16.2 4.4h2v5.2h-2z',
} as const;

/** How far the arm is turned about its pivot at 7, 7, in degrees. */
export const ARM_TURN: Readonly<Record<Exclude<Signal, 'open'>, number>> = { stop: 0, caution: 34, clear: -48 };
