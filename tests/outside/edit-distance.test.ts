/** Edit distances against the package talisman 1, and likeness of names built on them.
 *  Worked examples: kitten/sitting 3, intention/execution 5 (Jurafsky and Martin, Speech and Language Processing, ch. 2; from memory).
 */
import fc from 'fast-check';
import { distance } from 'fastest-levenshtein';
import levenshtein from 'talisman/metrics/levenshtein';
import { expect, test } from 'vitest';
import { foldName, likeness, nearest } from '../../src/core/naming/likeness';

test('the distance in use is the reference’s, on worked examples and on random names', () => {
  expect([distance('kitten', 'sitting'), distance('intention', 'execution')]).toEqual([3, 5]);
  const name = fc.string({ unit: fc.constantFrom(...'abcde_ X'), maxLength: 24 });
  fc.assert(
    fc.property(name, name, (a, b) => {
      expect(distance(a, b)).toBe(levenshtein(a, b));
    }),
    { seed: 2, numRuns: 2000 },
  );
});

test('a name taken for another one is never further from it than the reference says, and the nearest is one of least distance', () => {
  const word = fc.string({ unit: fc.constantFrom(...'abcd'), minLength: 1, maxLength: 7 });
  const name = fc.array(word, { minLength: 1, maxLength: 3 }).map((w) => w.join('_'));
  fc.assert(
    fc.property(name, fc.array(name, { minLength: 1, maxLength: 8 }), (own, others) => {
      for (const o of others) {
        const far = levenshtein(foldName(own), foldName(o));
        if (likeness(own, o) === 'small edit distance') expect(far).toBeLessThanOrEqual(2);
        if (likeness(own, o) === 'same but for case') expect(far).toBe(0);
      }
      const best = nearest(own, others);
      const min = Math.min(...others.map((o) => levenshtein(foldName(own), foldName(o))));
      if (best !== undefined) expect(levenshtein(foldName(own), foldName(best))).toBe(min);
      else expect(min).toBeGreaterThan(Math.max(1, Math.floor(foldName(own).length / 2)));
    }),
    { seed: 4, numRuns: 500 },
  );
});
