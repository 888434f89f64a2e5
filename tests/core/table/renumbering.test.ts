/** Numbers that move when persons turn out to be the same, against lists of who is together. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { GrowingBits } from '../../../src/core/table/bitset';
import { bitsAfter, byPersonAfter, numberAfter, renumberingOf, type Joined } from '../../../src/core/table/renumbering';

test('joined one after the other, each has the number of whom it is with now; who is alone is not looked at again', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 60 }),
      fc.array(fc.tuple(fc.nat(), fc.nat()), { maxLength: 40 }),
      fc.array(fc.nat(59)),
      (count, pairs, drawn) => {
        // By lists: those behind one that is gone move up.
        const groups = Array.from({ length: count }, (_, i) => [i]);
        const joins: Joined[] = [];
        for (const [x, y] of pairs) {
          const [a, b] = [x % groups.length, y % groups.length];
          if (a === b) continue;
          const [kept, gone] = [Math.min(a, b), Math.max(a, b)];
          joins.push({ kept, gone });
          groups[kept]!.push(...groups.splice(gone, 1)[0]!);
        }
        const by = renumberingOf(joins, count);
        const numberOf = (i: number): number => groups.findIndex((g) => g.includes(i));
        for (let i = 0; i < count; i++) expect([by.to[i], numberAfter(i, joins)]).toEqual([numberOf(i), numberOf(i)]);
        expect(numberAfter(-1, joins)).toBe(-1);
        expect([...by.joined].sort((a, b) => a - b)).toEqual(groups.flatMap((g, n) => (g.length > 1 ? [n] : [])));
        const bits = new GrowingBits();
        for (const i of drawn) if (i < count) bits.add(i);
        const after = bitsAfter(bits, by);
        expect([after.size, groups.map((_, n) => after.has(n))]).toEqual([groups.filter((g) => g.some((i) => bits.has(i))).length, groups.map((g) => g.some((i) => bits.has(i)))]); // prettier-ignore
        // Room for more than there are is left as it is.
        const amounts = Int32Array.from({ length: count + 5 }, (_, i) => (i < count ? drawn.filter((d) => d === i).length : 0));
        expect([...byPersonAfter(amounts, by, (a, b) => a + b)].slice(0, groups.length)).toEqual(groups.map((g) => g.reduce((n, i) => n + amounts[i]!, 0))); // prettier-ignore
      },
    ),
    { numRuns: 300 },
  );
});
