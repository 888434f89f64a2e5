/** Two messages of one ID say the same exactly where reading them gives the same, however they were laid out. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readMessage, type Message } from '../../../src/core/arrival/message';
import { contentKey, sameContent } from '../../../src/core/arrival/same-content';

const read = (v: unknown): Message => {
  const r = readMessage(JSON.parse(JSON.stringify(v)));
  if (!r.ok) throw new Error(r.rejected.detail);
  return r.message;
};
const base = {
  id: 'x-1',
  name: 'Crate Moved',
  time: '2026-11-03T10:00:00Z',
  ids: { visitor: 'v-1' },
  properties: { hall: 'north', size: { w: 1, h: [1, 2] } },
};
const both = (a: object, b: object): [boolean, boolean] => {
  const [x, y] = [read({ ...base, ...a }), read({ ...base, ...b })];
  return [sameContent(x, y), contentKey(x) === contentKey(y)];
};

describe('the same', () => {
  test.each([
    [
      'keys in another order',
      { properties: { hall: 'north', size: { w: 1, h: [1, 2] } } },
      { properties: { size: { h: [1, 2], w: 1 }, hall: 'north' } },
    ],
    ['one instant in two zones', {}, { time: '2026-11-03T11:00:00+01:00' }],
    ['an identifier as a number', { ids: { visitor: '7' } }, { ids: { visitor: 7 } }],
    ['fields that are carried along', { library: 'a 1.0' }, { library: 'a 1.1', sent_at: 'now' }],
    ['marks in another order', { marks: ['test', 'robot'] }, { marks: ['robot', 'test'] }],
    ['another ID', {}, { id: 'x-2' }],
  ])('%s', (_, a, b) => expect(both(a, b)).toEqual([true, true]));
});

describe('not the same', () => {
  test.each([
    ['a value', {}, { properties: { hall: 'south', size: { w: 1, h: [1, 2] } } }],
    ['a number and its text', { properties: { n: 1 } }, { properties: { n: '1' } }],
    ['a list in another order', { properties: { n: [1, 2] } }, { properties: { n: [2, 1] } }],
    ['deep inside', {}, { properties: { hall: 'north', size: { w: 1, h: [1, 3] } } }],
    ['the time', {}, { time: '2026-11-03T10:00:00.001Z' }],
    ['the name', {}, { name: 'Crate moved' }],
    ['an identifier', {}, { ids: { visitor: 'v-2' } }],
    ['a user property', {}, { user_properties: { tier: 'a' } }],
    ['the page', {}, { page: '/x' }],
    ['the release', {}, { release: '2' }],
    ['a mark', {}, { marks: ['test'] }],
    ['the environment', {}, { environment: 'staging' }],
    ['consent', {}, { consent: 'denied' }],
    ['the kind', {}, { kind: 'identify' }],
  ])('%s', (_, a, b) => expect(both(a, b)).toEqual([false, false]));
});

test('any two bodies: the short names agree exactly where the contents do', () => {
  const value = fc.jsonValue({ maxDepth: 2 });
  const body = fc.record({
    properties: fc.dictionary(fc.constantFrom('a', 'b', '__proto__'), value, { maxKeys: 2 }),
    page: fc.constantFrom('', '/a'),
  });
  fc.assert(
    fc.property(body, body, (a, b) => {
      const [same, key] = both(a, b);
      expect(same).toBe(key);
      expect(both(a, a)).toEqual([true, true]);
    }),
    { seed: 15, numRuns: 500 },
  );
});
