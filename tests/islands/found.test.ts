/** The palette: what begins with what was typed comes before what only contains it, and nothing that holds all words is missing. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { foundIn, rankOf } from '../../src/islands/workplace/found';

test('what begins with it, then what has a word that does, then what contains it; in their order', () => {
  const names = ['Basket Loaned', 'Reloaded', 'Tool Loaned', 'Loan Extended', 'loan_days', 'reLoan', 'Late Fee'];
  expect(foundIn(names, 'loan', (n) => n, 9)).toEqual(['Loan Extended', 'loan_days', 'Basket Loaned', 'Tool Loaned', 'reLoan']);
  expect(foundIn(names, ' LOAN ', (n) => n, 2)).toEqual(['Loan Extended', 'loan_days']);
  expect(foundIn(names, 'loan ext', (n) => n, 9)).toEqual(['Loan Extended']);
  expect(foundIn(names, 'fee late', (n) => n, 9)).toEqual(['Late Fee']);
  expect([rankOf('Late Fee', 'fee'), rankOf('Late Fee', 'ee'), rankOf('Late Fee', 'x'), rankOf('late_fee_charged', 'fee charged')]).toEqual([1, 2, undefined, 1]); // prettier-ignore
  expect([rankOf('late_fee_charged', 'fee_ch'), rankOf('lateFeeCharged', 'feeC'), rankOf('a.b/c-d', 'c-d')]).toEqual([1, 2, 1]);
});

test('whatever holds all words is found, best first, unless there are too many', () => {
  const label = fc.array(fc.constantFrom('a', 'b', 'A', '_', ' ', '-'), { maxLength: 8 }).map((l) => l.join(''));
  fc.assert(
    fc.property(fc.array(label, { maxLength: 30 }), label, fc.integer({ min: 1, max: 12 }), (labels, search, most) => {
      const found = foundIn(labels, search, (l) => l, most);
      const ranks = found.map((l) => rankOf(l, search)!);
      expect(ranks).toEqual([...ranks].sort());
      const words = search.trim().toLowerCase().split(/\s+/);
      const all = labels.filter((l) => words.every((w) => l.toLowerCase().includes(w)));
      expect(found.length).toBe(Math.min(most, all.length));
      const worst = ranks.at(-1);
      if (found.length < all.length) expect(all.filter((l) => rankOf(l, search)! < worst!).length).toBeLessThanOrEqual(found.length);
    }),
    { seed: 6, numRuns: 400 },
  );
});
