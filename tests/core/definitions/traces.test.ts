/** Traces of what is left out, against a reading of each person by themselves. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { tracesOf } from '../../../src/core/definitions/traces';
import { Float64Column, IndexColumn } from '../../../src/core/table/column';

const tableOf = (sent: readonly Sent[]) => {
  const time = new Float64Column();
  const source = new IndexColumn();
  sent.forEach((m, row) => {
    time.push(m.at);
    source.set(row, m.source ?? 0);
  });
  return { time, source };
};
interface Sent {
  readonly person: number;
  readonly at: number;
  readonly what: 'signed in' | 'session begun' | 'tool viewed' | 'nothing';
  readonly source?: number;
}
/** The lower bound of Wilson’s interval, as the formula is printed: Wilson 1927, J. Am. Stat. Assoc. 22. */
const lowerOf = (hits: number, n: number): number => {
  if (n === 0) return 0;
  const [z, p] = [1.959964, hits / n];
  return (p + (z * z) / (2 * n) - z * Math.sqrt((p * (1 - p)) / n + (z * z) / (4 * n * n))) / (1 + (z * z) / n);
};
const rowsOf = (sent: readonly Sent[], what: Sent['what']): Int32Array =>
  Int32Array.from(sent.flatMap((m, i) => (m.what === what ? [i] : [])));
const traced = (sent: readonly Sent[], more: ReadonlyMap<string, Int32Array> = new Map()) =>
  tracesOf({
    acts: rowsOf(sent, 'signed in'),
    others: new Map([...(['session begun', 'tool viewed'] as const).map((w) => [w, rowsOf(sent, w)] as const), ...more]),
    table: tableOf(sent),
    personOfMessage: Int32Array.from(sent, (m) => m.person),
  });

test('an event that comes with the act, and that others have too, is a trace; one that only follows it hours later is none', () => {
  const sent: Sent[] = [];
  for (let p = 0; p < 20; p++) {
    // Eight sign in in a way that the act's own event misses.
    if (p >= 8) sent.push({ person: p, at: p * 1e6, what: 'signed in' });
    sent.push({ person: p, at: p * 1e6 + 1200, what: 'session begun' });
    sent.push({ person: p, at: p * 1e6 + 7_200_000, what: 'tool viewed' });
  }
  expect(traced(sent)).toEqual([{ eventName: 'session begun', people: 8, near: 12, acts: 12, shared: 0 }]);
});

test('a definition over the same messages is a trace, however seldom', () => {
  const sent: Sent[] = [
    { person: 0, at: 0, what: 'signed in' },
    { person: 1, at: 5e7, what: 'nothing' },
  ];
  expect(traced(sent, new Map([['Any button', Int32Array.of(0, 1)]]))).toEqual([
    { eventName: 'Any button', people: 1, near: 1, acts: 1, shared: 1 },
  ]);
});

test('on made-up messages: the same people, acts and shares as by hand', () => {
  const message = fc.record({
    person: fc.integer({ min: -1, max: 6 }),
    at: fc.integer({ min: 0, max: 40 }).map((n) => n * 1500),
    what: fc.constantFrom<Sent['what']>('signed in', 'session begun', 'tool viewed', 'nothing'),
    source: fc.integer({ min: 0, max: 1 }),
  });
  fc.assert(
    fc.property(fc.array(message, { maxLength: 60 }), (sent) => {
      const acts = sent.filter((m) => m.what === 'signed in' && m.person >= 0);
      const did = new Set(acts.map((m) => m.person));
      const expected = (['session begun', 'tool viewed'] as const).flatMap((eventName) => {
        const own = sent.filter((m) => m.what === eventName && m.person >= 0);
        const people = new Set(own.map((m) => m.person).filter((p) => !did.has(p))).size;
        // An act at a source that does not send the other event could not have it beside it.
        const sources = new Set(sent.filter((m) => m.what === eventName).map((m) => m.source));
        const there = acts.filter((a) => sources.has(a.source));
        const near = there.filter((a) => own.some((m) => m.person === a.person && Math.abs(m.at - a.at) <= 5000)).length;
        return people > 0 && lowerOf(near, there.length) > 0.5 ? [{ eventName, people, near, acts: there.length, shared: 0 }] : [];
      });
      expect(traced(sent)).toEqual(expected.sort((a, b) => b.people - a.people || (a.eventName < b.eventName ? -1 : 1)));
    }),
    { seed: 91, numRuns: 2000 },
  );
});
