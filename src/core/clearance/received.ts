/** What is known of how a source's messages are received: the newest, its pauses, its lags. */
import { LagHistogram } from '../stats/lag-histogram';
import { following } from '../table/following';
import { DAY_MS } from '../time';

export interface Received {
  newest: number;
  /** Day of receipt → the longest pause that ended on it, ms. */
  readonly pauses: Map<number, number>;
  readonly lags: LagHistogram;
}

/** By the index of a source. */
export const received = following(
  () => [] as Received[],
  (state, table, from, to) => {
    for (let row = from; row < to; row++) {
      const source = table.source.get(row);
      const at = table.received.get(row);
      const own = (state[source] ??= { newest: at, pauses: new Map(), lags: new LagHistogram() });
      own.lags.add(at - table.time.get(row));
      if (at <= own.newest) continue;
      const day = Math.floor(at / DAY_MS);
      own.pauses.set(day, Math.max(own.pauses.get(day) ?? 0, at - own.newest));
      own.newest = at;
    }
  },
);
