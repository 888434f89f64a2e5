import fc from 'fast-check';
import { expect, test } from 'vitest';
import {
  isInside,
  movedRef,
  named,
  PathMap,
  pathOf,
  putAt,
  refKey,
  refOf,
  refOfKey,
  refOfProperty,
  refText,
  sameRef,
  valueAt,
  type PropertyRef,
} from '../../../src/core/plan/property-path';

const name = fc.oneof(fc.constantFrom('order', 'total', 'a.b', '', '__proto__', 'constructor', 'x y', '"'), fc.string({ maxLength: 4 }));
const ref: fc.Arbitrary<PropertyRef> = fc.array(name, { minLength: 1, maxLength: 4 }).map(refOf);

test('a map by path is a map by what the path says, in the order of adding; what is there already stays', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(ref, fc.integer()), { maxLength: 30 }), fc.array(ref, { maxLength: 10 }), (added, asked) => {
      const map = new PathMap(added);
      const naive = new Map<string, number>();
      for (const [r, v] of added) if (!naive.has(JSON.stringify(pathOf(r)))) naive.set(JSON.stringify(pathOf(r)), v);
      expect(map.size).toBe(naive.size);
      expect([...map].map(([r, v]) => [JSON.stringify(pathOf(r)), v])).toEqual([...naive]);
      expect([...map.keys()].map((r) => refKey(r))).toEqual([...map].map(([r]) => refKey(r)));
      for (const r of [...asked, ...added.map(([a]) => a)]) {
        expect(map.get(r)).toBe(naive.get(JSON.stringify(pathOf(r))));
        expect(map.has(r)).toBe(naive.has(JSON.stringify(pathOf(r))));
      }
    }),
    { seed: 21, numRuns: 400 },
  );
});

test('what was put at a path is found there, and nothing else is touched', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(ref, fc.integer()), { maxLength: 12 }), (puts) => {
      const values: Record<string, unknown> = {};
      for (const [r, v] of puts) {
        const before = JSON.stringify(values);
        // Only where a number stands on the way is there no place.
        const blocked = pathOf(r)
          .slice(0, -1)
          .some((_, i) => typeof valueAt(values, refOf(pathOf(r).slice(0, i + 1))) === 'number');
        expect(putAt(values, r, v)).toBe(!blocked);
        if (blocked) expect(JSON.stringify(values)).toBe(before);
        else expect(valueAt(values, r)).toBe(v);
      }
      expect(Object.getPrototypeOf(values)).toBe(Object.prototype);
      expect(valueAt(values, ['no such', 'order'])).toBeUndefined();
    }),
    { seed: 22, numRuns: 400 },
  );
});

test('a path moves with the object that it lies in, and back again', () => {
  fc.assert(
    fc.property(ref, ref, ref, (r, from, to) => {
      const moved = movedRef(r, from, to);
      if (!isInside(r, from)) expect(moved).toEqual(r);
      else {
        expect(isInside(moved, to)).toBe(true);
        expect(sameRef(movedRef(moved, to, from), r)).toBe(true);
      }
      expect(sameRef(refOfKey(refKey(r)), r)).toBe(true);
      expect(sameRef(refOfProperty(named(r)), r)).toBe(true);
      expect(isInside([...pathOf(r), 'inner'], r)).toBe(true);
      expect(isInside(r, [...pathOf(r), 'inner'])).toBe(false);
    }),
    { seed: 23, numRuns: 400 },
  );
});

test('a path is shown with points, a name that could be mistaken for two in quotes; one that stands alone as it is', () => {
  expect(refText('order')).toBe('order');
  expect(refText('a.b')).toBe('a.b');
  expect(refText(['order', 'total'])).toBe('order.total');
  expect(refText(['a.b', 'c d', ''])).toBe('"a.b"."c d".""');
});
