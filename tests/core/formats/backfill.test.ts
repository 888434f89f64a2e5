/** Rows of files as messages: what is guessed, what each cell becomes, and that nothing else than a message comes out. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { readMessage } from '../../../src/core/arrival/message';
import { backfillTime, flatRow, guessTargets, rowReader } from '../../../src/core/formats/backfill';
import { create, planWith, property } from '../../build/plan';

const plan = planWith([
  create('identifierKind', 'user', { name: 'user' }),
  create('identifierKind', 'anonymous', { name: 'anonymous' }),
  property('loan_days', { type: 'integer' }),
  property('shelf', {}),
  create('userProperty', 'home', { name: 'home_branch' }),
]);

test('columns are known by path, by the plan’s names and by common headings; each target once', () => {
  expect(
    guessTargets(['Event', 'Timestamp', 'user_id', 'Loan Days', 'shelf', 'ids.anonymous', 'colour', 'date', 'home_branch'], plan),
  ).toEqual([
    'name',
    'time',
    'ids.user',
    'properties.loan_days',
    'properties.shelf',
    'ids.anonymous',
    undefined,
    undefined,
    'user_properties.home_branch',
  ]);
});

describe('times', () => {
  test.each([
    ['2026-03-01T09:30:00Z', '2026-03-01T09:30:00.000Z'],
    ['2026-03-01 09:30:00', '2026-03-01T08:30:00.000Z'],
    ['2026-07-01 09:30', '2026-07-01T07:30:00.000Z'],
    ['2026-03-01', '2026-02-28T23:00:00.000Z'],
    ['1772357400', '2026-03-01T09:30:00.000Z'],
    [1772357400123, '2026-03-01T09:30:00.123Z'],
  ])('%s', (given, iso) => {
    expect(new Date(backfillTime(given, 'Europe/Berlin')!).toISOString()).toBe(iso);
  });
  test.each(['yesterday', '', '2026-02-30', '2026-03-01 25:00', '12', {}, null])('%s is none', (v) => {
    expect(backfillTime(v, 'UTC')).toBeUndefined();
  });
});

describe('rows', () => {
  const targets = ['time', 'name', 'ids.user', 'properties.loan_days', 'properties.shelf', 'properties.note'];
  const read = rowReader(plan, { targets, eventName: '', timeZone: 'UTC' });
  const messageOf = (cells: unknown[]) => {
    const r = read(cells);
    if (!r.ok) throw new Error(r.detail);
    return JSON.parse(r.text) as { id: string; properties: Record<string, unknown>; ids: unknown };
  };
  test('typed as the plan says, otherwise as written; no value for an empty cell', () => {
    expect(messageOf(['2026-03-01', 'Lent', '007', '3', '12', 'true'])).toMatchObject({
      ids: { user: '007' },
      properties: { loan_days: 3, shelf: '12', note: true },
    });
    expect(messageOf(['2026-03-01', 'Lent', '', 'three', '', '007']).properties).toEqual({ loan_days: 'three', note: '007' });
  });
  test('the same row gets the same ID, another row another', () => {
    const [a, b, c] = [
      messageOf(['2026-03-01', 'Lent', 'm', '3']),
      messageOf(['2026-03-01', 'Lent', 'm', '3']),
      messageOf(['2026-03-01', 'Lent', 'm', '4']),
    ];
    expect(a.id).toBe(b.id);
    expect(a.id).not.toBe(c.id);
  });
  test('what it lacks is said', () => {
    expect(read(['', 'Lent'])).toEqual({ ok: false, detail: 'The row has no time.' });
    expect(read(['soon', 'Lent'])).toMatchObject({ ok: false, detail: expect.stringContaining('“soon” is no time') as string });
    expect(read(['2026-03-01', ''])).toEqual({ ok: false, detail: 'The row has no event name.' });
  });
  test('whatever stands in the cells, what comes out is a message that the intake reads, or a reason', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.string(), fc.jsonValue()), { maxLength: 6 }), (cells) => {
        const r = read(['2026-03-01', 'Lent', ...cells]);
        if (!r.ok) return r.detail.length > 10;
        const again = readMessage(JSON.parse(r.text));
        return again.ok || again.rejected.reason === 'bad field';
      }),
    );
  });
});

test('a JSON line as columns', () => {
  expect(flatRow({ id: 'x', ids: { user: 'm' }, properties: { a: [1], b: null }, extra: { c: 1 } })).toEqual({
    id: 'x',
    'ids.user': 'm',
    'properties.a': [1],
    'properties.b': null,
    extra: { c: 1 },
  });
});
