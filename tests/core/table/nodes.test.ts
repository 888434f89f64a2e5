import fc from 'fast-check';
import { expect, test } from 'vitest';
import { Nodes } from '../../../src/core/table/nodes';
import { draws } from '../../build/draws';

/** Every letter there is, halves of pairs too: an identifier is what was sent. */
const letters = fc.oneof(
  fc.string({ maxLength: 12 }),
  fc.string({ unit: 'grapheme', maxLength: 8 }),
  fc.array(fc.nat(0xffff), { maxLength: 6 }).map((codes) => String.fromCharCode(...codes)),
  fc.constantFrom('', 'ÿ', 'Ā', 'a\u0000b', '__proto__', 'constructor', '0', '00'),
  fc
    .tuple(fc.constantFrom('a', 'ß', '字'), fc.constantFrom(4095, 4096, 4097, 32_767, 32_768, 65_535, 65_536, 65_537, 140_000))
    .map(([c, n]) => c.repeat(n)),
);
const kind = fc.constantFrom('user', 'device', 'anonymous', '', '__proto__', 'hasOwnProperty');

test('each is one number, in order of first sight, and is given back as it came; another kind or another letter is another one', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(kind, letters), { maxLength: 120 }),
      fc.array(fc.tuple(kind, letters), { maxLength: 20 }),
      (given, asked) => {
        const nodes = new Nodes();
        const naive = new Map<string, number>();
        const key = (k: string, v: string): string => `${k.length} ${k}${v}`;
        for (const [k, v] of given) {
          if (!naive.has(key(k, v))) naive.set(key(k, v), naive.size);
          expect(nodes.intern(k, v)).toBe(naive.get(key(k, v)));
        }
        expect(nodes.length).toBe(naive.size);
        const all = [...nodes];
        expect(all.map((n) => key(n.kind, n.value))).toEqual([...naive.keys()]);
        expect(all).toEqual(all.map((_, i) => ({ kind: nodes.kindOf(i), value: nodes.valueOf(i) })));
        for (const [k, v] of [...given, ...asked]) expect(nodes.find(k, v)).toBe(naive.get(key(k, v)) ?? -1);
        expect(nodes.kindsKnown()).toEqual([...new Set(given.map(([k]) => k))]);
        for (const k of [...nodes.kindsKnown(), 'never'])
          expect([...nodes.ofKind(k)]).toEqual(all.flatMap((n, i) => (n.kind === k ? [i] : [])));
      },
    ),
    { seed: 54, numRuns: draws(60, 600) },
  );
});

test('thousands of them, over many pages and many growths', () => {
  const nodes = new Nodes();
  const text = (i: number): string => `${i % 3 === 0 ? 'é' : i % 3 === 1 ? '字' : 'a'}-${i * 7919}`;
  const kindAt = (i: number): string => (i % 5 === 0 ? 'user' : 'device');
  for (let i = 0; i < 30_000; i++) expect(nodes.intern(kindAt(i), text(i))).toBe(i);
  const wrong = Array.from({ length: 30_000 }, (_, i) => i).filter(
    (i) => nodes.valueOf(i) !== text(i) || nodes.kindOf(i) !== kindAt(i) || nodes.find(kindAt(i), text(i)) !== i || nodes.find(kindAt(i + 1), text(i)) === i && kindAt(i + 1) !== kindAt(i),
  ); // prettier-ignore
  expect(wrong).toEqual([]);
});
