/** How many are drawn: fewer in the ordinary run, which has ten minutes, and all of them by `./signal-post test --deep`. The seeds are the same: the few are among
 *  the many.
 */
export const isDeep = process.env['SIGNAL_POST_DEEP'] === '1';

export const draws = (ordinary: number, deep: number): number => (isDeep ? deep : ordinary);
