/** An interaction that comes no more, and what took its place. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { droppedIn as droppedAmong, type Drop } from '../../../src/core/definitions/dropped';
import { successorsOf, type Interaction } from '../../../src/core/definitions/successors';
import { seeded } from '../../../src/demo/random';

interface Click {
  readonly at: number;
  readonly release: string;
}
/** Also says that the order in which they are given makes no difference. */
const droppedIn = (own: readonly Click[], all: readonly Click[]): Drop | undefined => {
  const found = droppedAmong(own, all, (m) => m.at, (m) => m.release); // prettier-ignore
  expect(droppedAmong(own.toReversed(), all.toReversed(), (m) => m.at, (m) => m.release)).toEqual(found); // prettier-ignore
  return found;
};

const DAY = 86_400_000;
const made = (more: Partial<Interaction>): Interaction => ({
  text: 'Reserve', place: 'main/form/button', role: 'button', pages: new Map([['/tools/drill', 10]]), people: 40, firstAt: 0, lastAt: 30 * DAY, ...more,
}); // prettier-ignore

/** Clicks over days: of each moment one button, the lost one with a share until its last day. */
const clicks = (seed: number, days: number, perDay: number, share: number, lastDay: number) => {
  const rng = seeded(seed);
  const all: { at: number; release: string; own: boolean }[] = [];
  for (let d = 0; d < days; d++)
    for (let i = 0; i < perDay; i++) {
      const at = d * DAY + (i * DAY) / perDay;
      all.push({ at, release: d < lastDay ? '1.0' : '1.1', own: d < lastDay && rng.next() < share });
    }
  return { all, own: all.filter((m) => m.own) };
};

test('a silence that chance does not make is found with its release and rate; a steady button never drops', () => {
  let [found, invented] = [0, 0];
  for (let seed = 1; seed <= 60; seed++) {
    const lost = clicks(seed, 56, 40, 0.2, 40);
    const drop = droppedIn(lost.own, lost.all);
    if (drop?.release === '1.1' && drop.lastAt < 40 * DAY) found++;
    if (drop) expect(drop.perDay).toBeGreaterThan(5);
    const steady = clicks(seed, 56, 40, 0.05, 56);
    if (droppedIn(steady.own, steady.all)) invented++;
  }
  expect([found, invented]).toEqual([60, 0]);
});

test('the chance is the binomial one, and a source that is silent itself tells nothing', () => {
  const all = Array.from({ length: 300 }, (_, i) => ({ at: i * (DAY / 10), release: '1' }));
  const own = all.filter((_, i) => i % 2 === 0 && i < 200);
  // 100 of 199 up to the last one, then 101 without one.
  expect(droppedIn(own, all)!.chance).toBeCloseTo((1 - 100 / 199) ** 101, 40);
  expect(droppedIn(own, all.slice(0, 199))).toBeUndefined();
  expect(droppedIn(own, all.slice(0, 205))).toBeUndefined();
  expect(droppedIn([], all)).toBeUndefined();
  expect(droppedIn(own, all)!.release).toBeUndefined();
  // Two days are too few to know a rate.
  expect(
    droppedIn(
      own.filter((m) => m.at < 2 * DAY),
      all,
    ),
  ).toBeUndefined();
});

test('the button that got another text is found among others that are new as well', () => {
  const lost = made({});
  const renamed = made({ text: 'Borrow now', firstAt: 30 * DAY + 1, lastAt: 56 * DAY, people: 35 });
  const others = [
    made({ text: 'Reserve', place: 'footer/a', role: 'link', pages: new Map([['/help', 5]]), firstAt: 31 * DAY, people: 2 }),
    made({ text: 'Close', place: 'aside/dialog/button', pages: new Map([['/tools/drill', 1], ['/x', 9]]), firstAt: 31 * DAY, people: 3 }),
    made({ text: 'Reserve', firstAt: 10 * DAY }),
  ]; // prettier-ignore
  const [best, ...rest] = successorsOf(lost, [...others, renamed], 56 * DAY);
  expect(best!.interaction).toBe(renamed);
  expect(best!.because).toMatchObject({ place: 1, pages: 1, role: 1, text: 0 });
  expect(rest.map((s) => s.interaction.text)).not.toContain('Reserve');
  expect(successorsOf(lost, others, 56 * DAY)).toEqual([]);
});

test('likeness lies between 0 and 1, and is 1 for the same button again at the same rate', () => {
  const interaction = fc.record({
    text: fc.constantFrom('Reserve', 'Reserve now', 'Borrow', ''),
    place: fc.constantFrom('main/form/button', 'main/form/div/button', 'footer/a'),
    role: fc.constantFrom('button', 'link'),
    pages: fc.dictionary(fc.constantFrom('/a', '/b', '/c'), fc.integer({ min: 1, max: 9 })).map((d) => new Map(Object.entries(d))),
    people: fc.integer({ min: 0, max: 50 }),
    firstAt: fc.integer({ min: 0, max: 10 }).map((d) => d * DAY),
    lastAt: fc.constant(20 * DAY),
  });
  fc.assert(
    fc.property(interaction, fc.array(interaction, { maxLength: 8 }), (lost, others) => {
      const later = others.map((o) => ({ ...o, firstAt: o.firstAt + 21 * DAY, lastAt: 60 * DAY }));
      const found = successorsOf(lost, [...later, ...others], 60 * DAY);
      for (const s of found) {
        expect(later).toContain(s.interaction);
        expect(s.likeness).toBeGreaterThanOrEqual(0.5);
        expect(s.likeness).toBeLessThanOrEqual(1 + 1e-9);
      }
      expect(found.map((s) => s.likeness)).toEqual(found.map((s) => s.likeness).sort((a, b) => b - a));
      const again = { ...lost, pages: new Map([['/a', 1]]), people: 10 };
      const same = { ...again, firstAt: lost.lastAt + 1, lastAt: 2 * lost.lastAt };
      expect(successorsOf(again, [same], lost.lastAt + 1 + lost.lastAt - lost.firstAt)[0]!.likeness).toBeCloseTo(1, 9);
    }),
    { seed: 95, numRuns: 300 },
  );
});
