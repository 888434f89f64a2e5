import fc from 'fast-check';
import { expect, test } from 'vitest';
import { readMessage, type Message } from '../../../src/core/arrival/message';
import { contentKey } from '../../../src/core/arrival/same-content';
import { SeenIds } from '../../../src/core/arrival/seen-ids';

const messageOf = (v: object): Message => {
  const read = readMessage({ name: 'E', time: '2026-03-01T10:00:00Z', ids: {}, properties: {}, release: '', ...v });
  if (!read.ok) throw new Error(read.rejected.detail);
  return read.message;
};

const value: fc.Arbitrary<unknown> = fc.oneof(
  fc.constantFrom(
    '',
    '1',
    1,
    -0,
    0,
    true,
    'true',
    null,
    's1:1',
    [],
    {},
    ['a', 'b'],
    ['ab'],
    { a: 'b' },
    { a: { b: 1 } },
    [null],
    1.5,
    '1.5',
  ),
  fc.string({ maxLength: 3 }),
);
const message = fc
  .record({
    id: fc.constantFrom('a', 'b', 'c', 'a-long-identifier-of-a-message'),
    properties: fc.dictionary(fc.constantFrom('p', 'q', 'pq'), value, { maxKeys: 2 }),
    ids: fc.dictionary(fc.constantFrom('user', 'device'), fc.constantFrom('1x', '2x'), { maxKeys: 2 }),
  })
  .map(messageOf);

test('at random: what a list of all messages would say of each', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(message, fc.constantFrom('web', 'app', 'desk')), { maxLength: 40 }), fc.nat(5000), (sent, expected) => {
      const ids = new SeenIds();
      ids.expect(expected);
      const kept: { readonly m: Message; readonly source: string }[] = [];
      for (const [m, source] of sent) {
        const same = kept.filter((k) => k.m.id === m.id);
        const isAgain = same.some((k) => k.source === source && contentKey(k.m) === contentKey(m));
        const got = ids.add(m, source);
        expect(got.isAgain).toBe(isAgain);
        if (isAgain) continue;
        expect(got).toEqual({ isAgain: false, isReused: same.some((k) => k.source === source), isElsewhere: same.some((k) => k.source !== source) }); // prettier-ignore
        kept.push({ m, source });
      }
    }),
  );
});

test('how a message is laid out does not count; what it says does, whatever looks alike', () => {
  const ids = new SeenIds();
  const add = (properties: unknown) => ids.add(messageOf({ id: 'x', properties }), 'web').isAgain;
  expect(add({ a: 1, b: ['x', 'yz'] })).toBe(false);
  expect(add({ b: ['x', 'yz'], a: 1 })).toBe(true);
  for (const other of [
    { a: '1', b: ['x', 'yz'] },
    { a: 1, b: ['xy', 'z'] },
    { a: 1, b: [['x', 'yz']] },
    { a: 1, b: { 0: 'x', 1: 'yz' } },
    { a: 1, bx: ['yz'] },
    { a: 1, b: [] },
  ])
    // prettier-ignore
    expect([add(other), add(other)]).toEqual([false, true]);
});

test('a hundred thousand IDs: each is new once, and known from then on', () => {
  const ids = new SeenIds();
  const many = Array.from({ length: 100_000 }, (_, i) => messageOf({ id: `id-${i}` }));
  expect(many.filter((m) => ids.add(m, 'web').isAgain)).toEqual([]);
  expect(many.filter((m) => !ids.add(m, 'web').isAgain)).toEqual([]);
  expect(many.slice(0, 100).every((m) => ids.add(m, 'app').isElsewhere)).toBe(true);
});

test('growing on the way changes nothing of what it knows', () => {
  const ids = new SeenIds();
  const many = Array.from({ length: 3000 }, (_, i) => messageOf({ id: `id-${i}` }));
  for (const [i, m] of many.entries()) {
    expect(ids.add(m, 'web').isAgain).toBe(false);
    if (i % 700 === 0) ids.expect(i * 3);
  }
  expect(many.filter((m) => !ids.add(m, 'web').isAgain)).toEqual([]);
});

test('sources beyond a thousand are told apart as the first ones are', () => {
  const ids = new SeenIds();
  const m = messageOf({ id: 'x' });
  expect(Array.from({ length: 3000 }, (_, i) => ids.add(m, `s-${i}`)).map((r) => [r.isAgain, r.isElsewhere])).toEqual(
    Array.from({ length: 3000 }, (_, i) => [false, i > 0]),
  );
  expect(ids.add(m, 's-2999').isAgain).toBe(true);
  expect(ids.add(messageOf({ id: 'x', name: 'F' }), 's-2999')).toEqual({ isAgain: false, isReused: true, isElsewhere: true });
});
