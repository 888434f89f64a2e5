import { expect, test } from 'vitest';
import { create, deepFreeze, event, planWith, property } from '../../../build/plan';
import { DAY, run, sentBy, type Row } from './harness';

const plan = deepFreeze(
  planWith(
    [
      create('source', 's', { name: 'Web', kind: 'web', idKinds: { beforeSignIn: ['anonymous'], afterSignIn: ['anonymous', 'user'] } }),
      create('source', 'b', { name: 'Backend', kind: 'server', idKinds: { beforeSignIn: [], afterSignIn: ['user'] } }),
      create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
      create('identifierKind', 'anonymous', { name: 'anonymous', identifies: 'device' }),
      property('form', {}),
      event('signed', { name: 'Signed Up', sources: sentBy('s'), properties: [{ propertyId: 'form', required: true }] }),
      event('paid', { name: 'Bill Paid', sources: sentBy('b') }),
    ],
    { timeZone: 'UTC' },
  ),
);

/** Members, one an hour: each signs up on the web under an anonymous ID and pays at the server under the user ID; whether the web identifies them. */
const members = (n: number, isIdentified: (i: number) => boolean, form: (i: number) => string = () => 'short'): Row[] =>
  Array.from({ length: n }, (_, i) => i).flatMap((i): Row[] => [
    { at: i * 60, name: 'Signed Up', ids: { anonymous: `a-${i}` }, properties: { form: form(i) } },
    ...(isIdentified(i) ? [{ at: i * 60 + 2, name: '', ids: { anonymous: `a-${i}`, user: `m-${i}` } }] : []),
    { at: i * 60 + 500, name: 'Bill Paid', sourceId: 'b', ids: { user: `m-${i}` } },
  ]);
const found = (rows: Row[]) => run('users-never-linked', rows, 60 * DAY, plan);

test('a value after which nobody is identified is told, with how many and how many of the others', () => {
  const hits = found(
    members(
      120,
      (i) => i % 3 !== 0,
      (i) => (i % 3 === 0 ? 'long' : 'short'),
    ),
  );
  expect(hits).toMatchObject([
    {
      eventName: 'Signed Up',
      sourceId: 's',
      params: { cause: { what: 'value', property: 'form', value: 'long', people: 40, of: 40, others: 1 } },
    },
  ]);
});

test('where everybody is identified there is nothing', () => {
  expect(found(members(120, () => true))).toEqual([]);
});

/** Members who only ever pay. */
const payers = (id: (i: number) => string): Row[] =>
  Array.from({ length: 60 }, (_, i): Row => ({ at: i * 60, name: 'Bill Paid', sourceId: 'b', ids: { user: id(i) } }));
const with60 = (others: Row[]): Row[] => [...members(60, () => true), ...others].sort((a, b) => a.at - b.at);
const causes = (rows: Row[]) => found(rows).map((h) => [(h.params as { cause: { what: string } }).cause.what, h.severity, h.sourceId]);

test('members whom no client asked are told as known to the server alone, as a note', () => {
  expect(causes(with60(payers((i) => `m-${100 + i}`)))).toEqual([['server only', 'note', 'b']]);
});

test('user IDs of a form that no other source has are told as another field', () => {
  expect(causes(with60(payers((i) => `card/${i}`)))).toEqual([['shape', 'caution', 'b']]);
});

test('fewer people than asked for are no cause', () => {
  expect(found(members(40, (i) => i >= 4))).toEqual([]);
});
