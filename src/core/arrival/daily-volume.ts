/** Messages of each day beside what the days before let expect: one definition for the finding of volume, the finding of silence, the view and
 *  the matrix.
 */
import { settingsOf, type Plan } from '../plan/plan';
import { periodsBetween, type Periods } from '../questions/calendar';
import {
  bandOf,
  chanceOfNone,
  chanceOfNoneAtOneRate,
  countModel,
  deviationOf,
  nearestExpected,
  MIN_DAYS,
  together,
  type CountModel,
  type ExpectedCount,
} from '../stats/count-model';
import { valuesOf, type Parameters } from './check';

export interface DailyCounts {
  readonly periods: Periods;
  /** Messages of each period; the last is not over. */
  readonly counts: Float64Array;
}

export interface JudgedDay {
  readonly messages: number;
  /** `undefined` while there are too few days before it. */
  readonly expected: { readonly usual: number; readonly low: number; readonly high: number } | undefined;
  readonly off: 'fewer' | 'more' | undefined;
}

export interface SilentStretch {
  /** Index of its first day, and of the day after its last. */
  readonly from: number;
  readonly to: number;
  /** Messages that its days let expect. */
  readonly expected: number;
  /** It goes on to the day that is not over. */
  readonly ongoing: boolean;
}

export interface OffStretch {
  readonly from: number;
  readonly to: number;
  readonly direction: 'fewer' | 'more';
  readonly messages: number;
  readonly expected: number;
  /** How many standard deviations off. */
  readonly deviation: number;
}

export interface DailyVolume {
  readonly days: readonly JudgedDay[];
  readonly silent: readonly SilentStretch[];
  readonly off: readonly OffStretch[];
}

/** Days that a prediction is made from. */
export const BASE_DAYS = 56;
/** Days of history that it takes to call a volume off; for silence two weeks are enough. */
export const VOLUME_FROM_DAYS = 28;
/** Days that are judged: those before are history. */
export const JUDGED_DAYS = 62;
/** Stretches of so many days are looked at as one: a small loss shows only over several. */
const SPANS = [1, 2, 3, 5, 7, 10, 14] as const;

export const silenceParameters = {
  chance: { title: 'Probability of silence below which it is reported', unit: '', value: 3e-5, min: 0, max: 0.5 },
} as const satisfies Parameters;

export const volumeParameters = {
  width: {
    title: 'Standard deviations from the expected count to report',
    unit: '',
    value: 5.5,
    min: 2,
    max: 20,
  },
  min: { title: 'Share of the expected messages that must lack, or come on top', unit: '%', value: 5, min: 1, max: 100 },
} as const satisfies Parameters;

/** How both are set in a workspace. */
export const volumeSettings = (plan: Plan) => {
  const { rules } = settingsOf(plan);
  return { ...valuesOf(silenceParameters, rules['silence']), ...valuesOf(volumeParameters, rules['volume-change']) };
};
export type VolumeSettings = ReturnType<typeof volumeSettings>;

/** The days that are judged and those that they are judged by, up to now. */
export const volumeDays = (plan: Plan, now: number): Periods => {
  const { timeZone, weekStartsOn } = settingsOf(plan);
  const days = BASE_DAYS + JUDGED_DAYS;
  return periodsBetween('day', now - days * 86_400_000, now, timeZone, weekStartsOn, days);
};

/** Whole weeks without a message, where chance alone would have brought some. What lies before two of them says nothing of what comes after
 *  (a history that was imported long before the source began to send, a season); and fewer days than a model takes cannot say more.
 */
const GAP_DAYS = 7;
const GAP_EXPECTED = 10;

/** For each day, on which day its series began: the first, or the one after a gap. */
const beginsOf = (counts: Float64Array, first: number): Int32Array => {
  const begins = new Int32Array(counts.length).fill(first);
  let came = 0;
  for (let d = first, begin = first; d < counts.length; d++) {
    let to = d;
    while (to < counts.length && counts[to] === 0) to++;
    const empty = to - d;
    const isGap = empty >= (d - begin < MIN_DAYS ? GAP_DAYS : MIN_DAYS) && came * empty > GAP_EXPECTED * (d - begin);
    if (empty > 0) begins.fill(begin, d, to);
    if (to === counts.length) break;
    if (isGap) [begin, came] = [to, 0];
    came += counts[to]!;
    begins[to] = begin;
    d = to;
  }
  return begins;
};

/** The part of a stretch that is farthest off on its own: the days beside a bad one are not bad for it. */
const sharpest = (s: OffStretch, counts: Float64Array, expect: (day: number) => ExpectedCount): OffStretch => {
  let best = s;
  for (let from = s.from; from < s.to; from++)
    for (let to = from + 1; to <= s.to; to++) {
      const messages = counts.subarray(from, to).reduce((n, x) => n + x, 0);
      const sum = together(Array.from({ length: to - from }, (_, i) => expect(from + i)));
      const deviation = deviationOf(messages, sum);
      if (Math.sign(deviation) === Math.sign(s.deviation) && Math.abs(deviation) > Math.abs(best.deviation))
        best = { ...s, from, to, messages, expected: nearestExpected(messages, sum), deviation };
    }
  return best;
};

/** Judges each day by the days before it. What is found off or silent is left out of what the later days are judged by.
 *  Shape: `first` is the index of the day on which the series begins; days before it are not counted as days without a message. After a long
 *  gap it begins anew.
 */
export const dailyVolume = (counts: Float64Array, first: number, s: VolumeSettings): DailyVolume => {
  const whole = counts.length - 1;
  const used = new Uint8Array(counts.length).fill(1);
  const days: JudgedDay[] = Array.from(counts, (messages) => ({ messages, expected: undefined, off: undefined }));
  const silent: SilentStretch[] = [];
  const off: OffStretch[] = [];
  const begins = beginsOf(counts, first);
  const begin = Math.max(first + MIN_DAYS, whole - JUDGED_DAYS);
  const modelBefore = (day: number): { readonly model: CountModel; readonly from: number } | undefined => {
    const from = Math.max(begins[day]!, day - BASE_DAYS);
    const model = countModel(counts.subarray(from, day), used.subarray(from, day));
    return model && { model, from };
  };
  const expectAt =
    (base: NonNullable<ReturnType<typeof modelBefore>>) =>
    (day: number): ExpectedCount =>
      base.model.expect(day - base.from);
  // Nothing at all comes first, as long as it lasts: the days beside it must not be taken for a change with it.
  // A stretch that goes on into the judged days is told from its own first day on, or each day would make another finding of it.
  let from = begin;
  while (from > first && counts[from] === 0 && counts[from - 1] === 0) from--;
  for (let d = from; d < whole; d++) {
    if (counts[d] !== 0) continue;
    let to = d + 1;
    while (to < whole && counts[to] === 0) to++;
    const base = modelBefore(d);
    if (base) {
      const expect = expectAt(base);
      const sum = together(Array.from({ length: to - d }, (_, i) => expect(d + i)));
      let [before, came] = [0, 0];
      for (let i = base.from; i < d; i++) if (used[i]) [before, came] = [before + 1, came + counts[i]!];
      if (Math.max(chanceOfNone(sum), chanceOfNoneAtOneRate(came, before, to - d)) < s.chance) {
        silent.push({ from: d, to, expected: sum.mean, ongoing: to === whole });
        for (let i = d; i < to; i++) {
          used[i] = 0;
          days[i] = { messages: 0, expected: bandOf(expect(i), s.width), off: 'fewer' };
        }
      }
    }
    d = to;
  }
  for (let d = begin; d < counts.length; d++) {
    if (used[d] === 0) continue;
    const base = modelBefore(d);
    if (!base) continue;
    const expect = expectAt(base);
    const band = bandOf(expect(d), s.width);
    const n = counts[d]!;
    days[d] = { messages: n, expected: band, off: d < whole ? (n < band.low ? 'fewer' : n > band.high ? 'more' : undefined) : undefined };
    if (d >= whole) continue;
    // Less than four weeks tell a rise from a beginning as little as from a change.
    if (d - begins[d]! < VOLUME_FROM_DAYS) continue;
    // The stretch from here on that is farthest off.
    let farthest: OffStretch | undefined;
    for (const span of SPANS) {
      if (d + span > whole) break;
      let messages = 0;
      // Silence has a finding of its own.
      if (used.subarray(d, d + span).includes(0) || begins[d + span - 1] !== begins[d]) break;
      for (let i = d; i < d + span; i++) messages += counts[i]!;
      const sum = together(Array.from({ length: span }, (_, i) => expect(d + i)));
      const deviation = deviationOf(messages, sum);
      const expected = nearestExpected(messages, sum);
      if (Math.abs(deviation) < s.width || Math.abs(messages - expected) < (expected * s.min) / 100) continue;
      if (farthest && Math.abs(farthest.deviation) >= Math.abs(deviation)) continue;
      farthest = {
        from: d,
        to: d + span,
        direction: deviation < 0 ? 'fewer' : 'more',
        messages,
        expected,
        deviation,
      };
    }
    if (!farthest) continue;
    farthest = sharpest(farthest, counts, expect);
    off.push(farthest);
    // The days that make it up, without those at its ends that are as usual.
    for (let i = farthest.from; i < farthest.to; i++) {
      used[i] = 0;
      const own = bandOf(expect(i), s.width);
      days[i] = {
        messages: counts[i]!,
        expected: own,
        off: counts[i]! < own.usual === (farthest.direction === 'fewer') ? farthest.direction : undefined,
      };
    }
    d = farthest.to - 1;
  }
  return { days, silent, off };
};
