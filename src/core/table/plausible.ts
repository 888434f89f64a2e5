/** How far a message's own time may lie from its receipt and still be believed. */

/** No queue keeps a message longer, and no zone is farther ahead: beyond these limits the date is wrong, not the clock. Units: ms. */
export const IMPLAUSIBLE_BEHIND_MS = 366 * 86_400_000;
export const IMPLAUSIBLE_AHEAD_MS = 26 * 3_600_000;
