/** Days judged by the days before them: made-up series of which it is known what may be said. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { BASE_DAYS, dailyVolume, JUDGED_DAYS, VOLUME_FROM_DAYS, volumeSettings } from '../../../src/core/arrival/daily-volume';
import { MIN_DAYS } from '../../../src/core/stats/count-model';
import { seeded, type Rng } from '../../../src/demo/random';
import { planWith } from '../../build/plan';
import { draws } from '../../build/draws';

const settings = volumeSettings(planWith([]));

const poisson = (r: Rng, mean: number): number => {
  if (mean > 200) return Math.max(0, Math.round(mean + Math.sqrt(mean) * (r.next() + r.next() + r.next() + r.next() - 2) * Math.sqrt(3)));
  let n = 0;
  for (let p = r.next(), limit = Math.exp(-mean); p > limit; p *= r.next()) n++;
  return n;
};

/** Counts of whole days with weekdays and growth of their own. */
const series = (r: Rng, days: number, level: number): number[] => {
  const weekdays = Array.from({ length: 7 }, () => 0.5 + r.next());
  const growth = (r.next() - 0.5) * 0.01;
  return Array.from({ length: days }, (_, d) => poisson(r, level * weekdays[d % 7]! * Math.exp(growth * d)));
};

/** A workspace that grows or shrinks by several percent a day. */
const steep = (r: Rng, days: number): number[] => {
  const weekdays = Array.from({ length: 7 }, () => 0.5 + r.next());
  const growth = (r.next() - 0.5) * 0.08;
  return Array.from({ length: days }, (_, d) => poisson(r, 300 * weekdays[d % 7]! * Math.exp(growth * (d - days / 2))));
};

const seeds = (n: number, from = 1): Rng[] => Array.from({ length: n }, (_, i) => seeded(from * 1000 + i));

test('clean series: nothing is called off or silent', () => {
  let judged = 0;
  for (const r of seeds(draws(100, 300))) {
    const counts = series(r, r.int(30, 118), Math.exp(r.next() * 7 - 1));
    const { off, silent, days } = dailyVolume(Float64Array.from([...counts, 0]), 0, settings);
    expect([off, silent]).toEqual([[], []]);
    judged += days.filter((d) => d.expected).length;
  }
  expect(judged).toBeGreaterThan(draws(3500, 10_000));
});

test('growth or decline of several percent a day that goes on is nothing unusual', () => {
  for (const r of seeds(draws(100, 300), 7))
    expect(dailyVolume(Float64Array.from([...steep(r, r.int(34, 90)), 0]), 0, settings).off).toEqual([]);
});

test('what lies before a gap of two weeks has no say: the days after it are judged as if they were all', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 1e6 }),
      fc.integer({ min: 1, max: 40 }),
      fc.integer({ min: 14, max: 30 }),
      (seed, before, gap) => {
        const r = seeded(seed);
        const history = series(r, before, 30 + r.next() * 900);
        const after = series(r, r.int(20, 60), 30 + r.next() * 900);
        after[0] = Math.max(1, after[0]!);
        // Some are truly off.
        if (r.next() < 0.5) for (let d = after.length - 4; d < after.length; d++) after[d] = Math.round(after[d]! * 0.1);
        const alone = dailyVolume(Float64Array.from([...after, 0]), 0, settings);
        const both = dailyVolume(Float64Array.from([...history, ...Array.from({ length: gap }, () => 0), ...after, 0]), 0, settings);
        const shift = before + gap;
        expect(both.days.slice(shift)).toEqual(alone.days);
        expect(both.off).toEqual(alone.off.map((o) => ({ ...o, from: o.from + shift, to: o.to + shift })));
        // The gap itself is told where there was enough to expect something by.
        const isJudged = shift > both.days.length - 1 - JUDGED_DAYS;
        expect(both.silent.some((s) => s.from === before && s.to === shift)).toBe(before >= MIN_DAYS && isJudged);
        expect(both.silent.filter((s) => s.from !== before)).toEqual(
          alone.silent.map((s) => ({ ...s, from: s.from + shift, to: s.to + shift })),
        );
      },
    ),
    { numRuns: 100 },
  );
});

test('a history that was brought in, a gap, then live traffic: no day of it is called more than usual', () => {
  for (const r of seeds(60, 2)) {
    const history = series(r, r.int(3, 12), 160);
    const live = series(r, r.int(10, 45), 500);
    const gap = r.int(7, 25);
    const { off } = dailyVolume(Float64Array.from([...history, ...Array.from({ length: gap }, () => 0), ...live, 0]), 0, settings);
    expect(off).toEqual([]);
  }
});

test('an event of few messages has no gaps by chance: what is rare is judged as one series', () => {
  for (const r of seeds(40, 3)) {
    const counts = series(r, 100, 0.15);
    const { off, silent } = dailyVolume(Float64Array.from([...counts, 0]), 0, settings);
    expect([off, silent]).toEqual([[], []]);
  }
});

test('half of the messages of ten days lost is found wherever a hundred came a day, with the days that lack them', () => {
  let days = 0;
  for (const r of seeds(60, 4)) {
    const counts = series(r, 80, 150);
    for (let d = 66; d < 76; d++) counts[d] = Math.round(counts[d]! * 0.5);
    const { off } = dailyVolume(Float64Array.from([...counts, 0]), 0, settings);
    expect(off.map((o) => o.direction)).toEqual(off.map(() => 'fewer'));
    expect(off.length).toBeGreaterThan(0);
    for (const o of off) {
      expect(o.from).toBeGreaterThanOrEqual(66 - 1);
      expect(o.to).toBeLessThanOrEqual(76 + 1);
      days += o.to - o.from;
    }
  }
  // Most of the six hundred.
  expect(days).toBeGreaterThan(400);
});

test('fewer than four weeks are no ground to call anything off; silence takes two', () => {
  const r = seeded(99);
  const counts = series(r, VOLUME_FROM_DAYS - 1, 200);
  counts[VOLUME_FROM_DAYS - 2] = 5;
  expect(dailyVolume(Float64Array.from([...counts, 0]), 0, settings).off).toEqual([]);
  counts.fill(0, 18, 21);
  expect(dailyVolume(Float64Array.from([...counts, 0]), 0, settings).silent).toMatchObject([{ from: 18, to: 21, ongoing: false }]);
});

test('a silence of the past is the same finding on each day that it is looked at, until it is too old to be judged', () => {
  const r = seeded(7);
  const counts = series(r, 200, 60);
  counts.fill(0, 60, 66);
  const window = BASE_DAYS + JUDGED_DAYS;
  const seen = new Set<string>();
  for (let now = 70; now < 200; now++) {
    const from = Math.max(0, now - window);
    const { silent } = dailyVolume(Float64Array.from([...counts.slice(from, now), 0]), 0, settings);
    seen.add(silent.map((s) => `${s.from + from} to ${s.to + from}`).join());
  }
  expect([...seen]).toEqual(['60 to 66', '']);
});
