/** A table seen by a plan and a choice of traffic is the table that the messages would make, had only those come, under the present names. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { MessageTable, type TableMessage } from '../../../src/core/table/message-table';
import { CONSENTS, MARKS } from '../../../src/core/table/message-kinds';
import { projected, projectedWithin } from '../../../src/core/table/projection';
import { userKindOf } from '../../../src/core/plan/user-kind';
import { COUNTED, EVERYTHING, readTraffic, trafficText, type Traffic } from '../../../src/core/table/traffic';
import { create, event, planWith, property } from '../../build/plan';
import { said } from '../../build/messages';

const plan = planWith([
  create('source', 'web', { name: 'Web' }),
  create('source', 'lab', { name: 'Lab', environment: 'staging' }),
  event('e', { name: 'Parcel Sent', formerNames: ['Parcel Posted', 'Letter Sent'] }),
  event('f', { name: 'Letter Sent' }),
  property('weight', { name: 'weight_kg', formerNames: ['weight'] }),
]);

const message = fc.record({
  name: fc.constantFrom('Parcel Sent', 'Parcel Posted', 'Letter Sent', 'Other'),
  kind: fc.constantFrom('event' as const, 'event' as const, 'identify' as const),
  sourceId: fc.constantFrom('web', 'lab', 'unknown'),
  environment: fc.option(fc.constantFrom('production', 'staging', 'qa'), { nil: undefined }),
  marks: fc.option(fc.subarray([...MARKS]), { nil: undefined }),
  consent: fc.option(fc.constantFrom(...CONSENTS), { nil: undefined }),
  ids: fc.dictionary(fc.constantFrom('user', 'device'), fc.constantFrom('a', 'b', 'c'), { maxKeys: 2 }),
  properties: fc.dictionary(
    fc.constantFrom('weight', 'weight_kg', 'box'),
    fc.oneof(fc.integer({ max: 3 }), fc.constantFrom('x', 'y'), fc.array(fc.integer({ max: 2 }), { maxLength: 2 })),
    { maxKeys: 3 },
  ),
  userProperties: fc.dictionary(fc.constantFrom('tier'), fc.constantFrom('gold', 'silver'), { maxKeys: 1 }),
  page: fc.constantFrom('', '/a', '/b'),
  reusedId: fc.boolean(),
});
type Sent = Parameters<MessageTable['append']>[0] & { readonly environment: string | undefined };

const traffic: fc.Arbitrary<Traffic> = fc.record({
  environment: fc.constantFrom('production', 'staging', 'qa', ''),
  marks: fc.constantFrom('unmarked', 'marked too', 'marked only'),
  consent: fc.constantFrom('', ...CONSENTS),
});

const placed = (m: Omit<Sent, 'seq' | 'release' | 'occurredAt'>, i: number): TableMessage => ({
  ...m,
  seq: i + 1,
  release: `r${i % 3}`,
  occurredAt: i * 1000,
  receivedAt: i * 1000 + 5,
});

const isCounted = (m: TableMessage, t: Traffic): boolean => {
  const environment = m.environment ?? (m.sourceId === 'lab' ? 'staging' : 'production');
  const isMarked = (m.marks?.length ?? 0) > 0;
  return (
    (t.environment === '' || t.environment === environment) &&
    (t.marks === 'marked too' || (t.marks === 'unmarked') !== isMarked) &&
    (t.consent === '' || t.consent === m.consent)
  );
};

const renamed = (m: TableMessage): TableMessage => {
  const { weight, ...others } = m.properties;
  const properties = weight === undefined ? m.properties : { ...others, weight_kg: others['weight_kg'] ?? weight };
  return { ...m, name: m.name === 'Parcel Posted' ? 'Parcel Sent' : m.name, properties };
};

test('at any moment while messages come', () => {
  fc.assert(
    fc.property(fc.array(message, { maxLength: 20 }), traffic, fc.array(fc.nat(20), { maxLength: 3 }), (sent, t, looks) => {
      const all = sent.map(placed);
      const base = new MessageTable();
      const verdict = { code: 'no-identifier', severity: 'note', path: [], params: { kinds: [] } } as const;
      for (const [i, m] of all.entries()) {
        if (looks.includes(i)) projected(base, plan, t);
        base.append(m, i % 2 ? [verdict] : undefined);
      }
      const direct = new MessageTable();
      for (const [i, m] of all.entries()) if (isCounted(m, t)) direct.append(renamed(m), i % 2 ? [verdict] : undefined);
      expect(said(projected(base, plan, t))).toEqual(said(direct));
    }),
    { seed: 31, numRuns: 500 },
  );
});

test('a stretch of time is the table that its messages alone would make', () => {
  fc.assert(
    fc.property(fc.array(message, { maxLength: 20 }), traffic, fc.nat(20), fc.nat(20), (sent, t, a, b) => {
      const all = sent.map(placed);
      const stretch = { from: a * 1000, to: b * 1000 };
      const [base, direct] = [new MessageTable(), new MessageTable()];
      for (const m of all) {
        base.append(m);
        if (isCounted(m, t) && m.occurredAt >= stretch.from && m.occurredAt < stretch.to) direct.append(renamed(m));
      }
      expect(said(projectedWithin(base, plan, t, stretch))).toEqual(said(direct));
    }),
    { seed: 32, numRuns: 300 },
  );
});

test('where nothing makes a difference it is the table itself, and how many came under each former name is known', () => {
  const base = new MessageTable();
  const plain = { kind: 'event', sourceId: 'web', ids: {}, properties: {} } as const;
  base.append(placed({ ...plain, name: 'Parcel Sent', environment: undefined }, 0));
  expect(projected(base, plan)).toBe(base);
  base.append(placed({ ...plain, name: 'Parcel Posted', environment: undefined }, 1));
  base.append(placed({ ...plain, name: 'Letter Sent', environment: undefined }, 2));
  const seen = projected(base, plan);
  expect(seen.rowsOf('Parcel Sent')).toHaveLength(2);
  expect(seen.formerNames).toEqual(new Map([['Parcel Sent', new Map([['Parcel Posted', 1]])]]));
  // A name that another event has now is that event's.
  expect(seen.rowsOf('Letter Sent')).toHaveLength(1);
});

test('a choice stands in an address and is read back', () => {
  fc.assert(
    fc.property(
      fc.record({
        environment: fc.oneof(fc.string(), fc.constantFrom('', 'production', 'a.b', '*')),
        marks: fc.constantFrom('unmarked' as const, 'marked too' as const, 'marked only' as const),
        consent: fc.constantFrom('' as const, ...CONSENTS),
      }),
      (t) => {
        // A name that cannot be told from “every environment” is none.
        fc.pre(t.environment !== '*');
        expect(readTraffic(trafficText(t))).toEqual(t);
      },
    ),
    { seed: 5, numRuns: 500 },
  );
  expect([trafficText(COUNTED), trafficText(EVERYTHING)]).toEqual(['', '*.marked.']);
  expect([readTraffic(null), readTraffic('')]).toEqual([COUNTED, COUNTED]);
});

test('who is signed in goes by the plan’s own kind', () => {
  expect(userKindOf(plan)).toBe('user');
  const own = planWith([
    create('identifierKind', 'a', { name: 'browser', identifies: 'device' }),
    create('identifierKind', 'b', { name: 'reader_no', identifies: 'person' }),
  ]);
  expect(userKindOf(own)).toBe('reader_no');
});
