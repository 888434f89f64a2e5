/** What is looked through goes into an address and comes out of it as it was, and of a message at most one answer is given. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { isSameLens, lensOf, withLens } from '../../../src/core/table/lens';
import { CONSENTS, MARKS } from '../../../src/core/table/message-kinds';
import {
  COUNTED,
  EVERYTHING,
  MARK_CHOICES,
  readTraffic,
  trafficInShort,
  trafficSeen,
  trafficTest,
  trafficText,
  trafficWords,
} from '../../../src/core/table/traffic';
import { tableOf } from '../../build/messages';

const environment = fc.oneof(
  fc.constantFrom('production', 'staging', 'a.b', 'ü/&?=%', '*x', 'test env'),
  fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme' }),
);
const traffic = fc.record({
  environment: fc.oneof(fc.constant(''), environment),
  marks: fc.constantFrom(...MARK_CHOICES),
  consent: fc.constantFrom('' as const, ...CONSENTS),
});
const lens = fc.record({ traffic, rules: fc.constantFrom('version' as const, 'draft' as const) });
const address = fc.constantFrom('/arrivals', '/arrivals?item=a%3Db%26traffic', '/api/profile?event=A%20b&days=7', '/plan/event:x');

test('a lens comes back from any address as it was; another one takes its place, and the rest of the address stays', () => {
  fc.assert(
    fc.property(address, lens, lens, (at, first, second) => {
      const seen = withLens(withLens(at, first), second);
      const url = new URL(seen, 'http://x');
      expect(lensOf(url.search)).toEqual(second);
      url.searchParams.delete('traffic');
      url.searchParams.delete('rules');
      const plain = new URL(at, 'http://x');
      expect([url.pathname, [...url.searchParams]]).toEqual([plain.pathname, [...plain.searchParams]]);
      expect(isSameLens(first, second)).toBe(JSON.stringify(first) === JSON.stringify(second));
    }),
    { seed: 11, numRuns: 1000 },
  );
});

test('what counts unless somebody chooses otherwise adds nothing to an address; what nobody can read is that', () => {
  expect(withLens('/questions', { traffic: COUNTED, rules: 'version' })).toBe('/questions');
  for (const text of [null, undefined, '', '..', '.odd.odd', '%E0%A4%A'])
    expect([text, readTraffic(text).marks]).toEqual([text, 'unmarked']);
  expect(readTraffic('')).toEqual(COUNTED);
  expect(readTraffic(trafficText(EVERYTHING))).toEqual(EVERYTHING);
});

test('each choice has words of its own', () => {
  const all = ['', 'production', 'staging'].flatMap((e) =>
    MARK_CHOICES.flatMap((marks) => (['', ...CONSENTS] as const).map((consent) => ({ environment: e, marks, consent }))),
  );
  for (const words of [trafficWords, trafficInShort, trafficText]) expect(new Set(all.map(words)).size).toBe(all.length);
});

const message = fc.record({
  environment: fc.constantFrom(undefined, 'production', 'staging', 'load test'),
  marks: fc.subarray([...MARKS]),
  consent: fc.constantFrom(undefined, ...CONSENTS),
  sourceId: fc.constantFrom('web', 'hall', 'bench'),
});
const OF_SOURCE: Record<string, string> = { web: 'production', hall: 'staging', bench: 'production' };

test('rows are counted as the same choice by hand says; what has come adds up to all', () => {
  fc.assert(
    fc.property(fc.array(message, { maxLength: 30 }), traffic, (messages, chosen) => {
      const table = tableOf(messages.map((m, i) => ({ at: i, ids: { user: 'm-1' }, ...m })));
      const counts = trafficTest(table, chosen, (id) => OF_SOURCE[id]!);
      messages.forEach((m, row) => {
        const own = m.environment ?? OF_SOURCE[m.sourceId]!;
        const isMarked = m.marks.length > 0;
        const expected =
          (chosen.environment === '' || own === chosen.environment) &&
          (chosen.marks === 'marked too' || isMarked === (chosen.marks === 'marked only')) &&
          (chosen.consent === '' || m.consent === chosen.consent);
        expect([row, counts(row)]).toEqual([row, expected]);
      });
      const seen = trafficSeen(table, (id) => OF_SOURCE[id]!);
      expect(seen.reduce((n, t) => n + t.marked + t.unmarked, 0)).toBe(messages.length);
      for (const t of seen) {
        const own = messages.filter((m) => (m.environment ?? OF_SOURCE[m.sourceId]!) === t.environment);
        expect([t.environment, t.marked]).toEqual([t.environment, own.filter((m) => m.marks.length > 0).length]);
        expect(t.marked + t.unmarked).toBe(own.length);
      }
    }),
    { seed: 12, numRuns: 300 },
  );
});
