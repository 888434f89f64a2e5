/** When messages that came every day came no more, though their source went on. */
import { DAY_MS } from '../time';

export interface Drop {
  /** Time of the last message before. UTC epoch ms. */
  readonly lastAt: number;
  /** The first release that sends, and never sent it; `undefined` where the releases that sent it still do. */
  readonly release: string | undefined;
  /** Messages a day until then. */
  readonly perDay: number;
  /** How likely so long a silence is where nothing changed, 0..1. */
  readonly chance: number;
}

/** So seldom does chance make such a silence. */
const CHANCE = 1e-6;
const DAYS_AT_LEAST = 3;

/** The silence at the end of a series; `undefined` where it is still sent, or has been silent no longer than chance makes it.
 *  Shape: in any order; `all` is what the source sent on the same pages, what is looked for included. An empty release is none.
 *  Method: messages that come at random, at the rate of the days before, while the source sends at its own: the silence is measured in messages of
 *  the source, so that a night or a quiet season is none. Source: the binomial chance of no success, (1 − p)^n.
 */
export const droppedIn = <M>(
  own: ArrayLike<M>,
  all: ArrayLike<M>,
  timeOf: (m: M) => number,
  releaseOf: (m: M) => string,
): Drop | undefined => {
  let [first, last] = [Infinity, -Infinity];
  for (let i = 0; i < own.length; i++) {
    const at = timeOf(own[i]!);
    if (at < first) first = at;
    if (at > last) last = at;
  }
  if (!(last - first >= DAYS_AT_LEAST * DAY_MS)) return undefined;
  let [before, after] = [0, 0];
  for (let i = 0; i < all.length; i++) {
    const at = timeOf(all[i]!);
    if (at < first) continue;
    if (at <= last) before++;
    else after++;
  }
  if (after === 0 || before === 0) return undefined;
  const share = Math.min(1, own.length / before);
  const chance = share === 1 ? 0 : Math.exp(after * Math.log1p(-share));
  if (chance > CHANCE) return undefined;
  const releases = new Set(Array.from(own, releaseOf));
  let [release, since]: [string | undefined, number] = [undefined, Infinity];
  for (let i = 0; i < all.length; i++) {
    const at = timeOf(all[i]!);
    if (at <= last || at >= since || releases.has(releaseOf(all[i]!)) || releaseOf(all[i]!) === '') continue;
    [release, since] = [releaseOf(all[i]!), at];
  }
  return { lastAt: last, release, perDay: own.length / Math.max(1, (last - first) / DAY_MS), chance };
};
