/** What happened to a question, on the time axis of its figure. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { marksByPeriod, marksOf } from '../../../src/core/clearance/marks';
import { SIGNALS } from '../../../src/core/clearance/gate';

test('sign-offs, their falls, and the signal to stop and back, in the order of time; the first signal is no change', () => {
  expect(
    marksOf(
      [
        { at: 30, fellAt: null },
        { at: 5, fellAt: 20 },
      ],
      [
        { at: 1, signal: 'stop' },
        { at: 3, signal: 'clear' },
        { at: 20, signal: 'stop' },
        { at: 22, signal: 'stop' },
        { at: 25, signal: 'caution' },
        { at: 40, signal: 'clear' },
      ],
    ),
  ).toEqual([
    { at: 3, text: 'clear again' },
    { at: 5, text: 'signed off' },
    { at: 20, text: 'sign-off fell' },
    { at: 20, text: 'stop' },
    { at: 25, text: 'caution again' },
    { at: 30, text: 'signed off' },
  ]);
});

test('each mark is in the period that it falls into, said once; outside of all there is none', () => {
  const periods = Array.from({ length: 5 }, (_, i) => ({ from: i * 10, to: (i + 1) * 10 }));
  fc.assert(
    fc.property(
      fc.array(fc.record({ at: fc.integer({ min: -20, max: 70 }), text: fc.constantFrom(...SIGNALS) }), { maxLength: 20 }),
      (marks) => {
        const found = marksByPeriod(marks, periods);
        for (const [i, p] of periods.entries()) {
          const own = new Set(marks.filter((m) => m.at >= p.from && m.at < p.to).map((m) => m.text));
          const said = found.filter((f) => f.index === i);
          expect(said.length).toBe(own.size > 0 ? 1 : 0);
          if (said[0]) expect(new Set(said[0].text.split(', '))).toEqual(own);
        }
      },
    ),
  );
});
