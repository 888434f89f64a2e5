/** Pages within a part of a site, by the segments of their paths. Against the segments compared one by one. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { isUnder } from '../../../src/core/plan/page-path';

const segment = fc.constantFrom('donate', 'donated-items', 'donate-now', 'd', 'shop', 'ü');

test('a page is under a part of a site exactly where the segments of the part begin its own', () => {
  fc.assert(
    fc.property(
      fc.array(segment, { maxLength: 4 }),
      fc.array(segment, { minLength: 1, maxLength: 3 }),
      fc.constantFrom('', '/', '?a=1', '#x'),
      (page, scope, tail) => {
        expect(isUnder(`/${page.join('/')}${page.length === 0 && tail === '/' ? '' : tail}`, `/${scope.join('/')}`)).toBe(
          scope.every((s, i) => page[i] === s),
        );
      },
    ),
    { seed: 14, numRuns: 1000 },
  );
});

test.each([
  ['/donated-items', '/donate', false],
  ['/donate', '/donate', true],
  ['/donate/', '/donate', true],
  ['/donate?step=2', '/donate', true],
  ['/donate/now', '/donate', true],
  ['/', '/donate', false],
])('%s under %s: %s', (page, scope, expected) => expect(isUnder(page, scope)).toBe(expected));
