import fc from 'fast-check';
import { expect, it, test } from 'vitest';
import { firstProperties } from '../../../src/core/arrival/first-properties';

test.each([
  [{ properties: { tool_id: 't-1', loan_days: 3 } }, 'tool_id t-1, loan_days 3'],
  [{ properties: {}, ids: { user: 'm-1' } }, 'user m-1'],
  [{ user_properties: { tier: 'gold' }, ids: { user: 'm-1' } }, 'tier gold'],
  [{ properties: { a: 1, b: true, c: null, d: '', e: 5 } }, 'a 1, b true, c null, d , …'],
  [{ properties: { items: [1, 2], one: ['x'], place: { city: 'Leeds' } } }, 'items 2 entries, one 1 entry, place.city Leeds'],
  [{ properties: { note: 'write to anna@example.org' } }, 'note write to ‹e-mail address›'],
  [{ properties: ['not', 'an', 'object'] }, ''],
  [
    { properties: { order: { total: { amount: 12, currency: 'GBP' }, lines: [] }, empty: {} } },
    'order.total.amount 12, order.total.currency GBP, order.lines 0 entries, empty {…}',
  ],
  [{}, ''],
])('%j is “%s”', (body, text) => expect(firstProperties(body)).toBe(text));

it('is one short line whatever is sent', () => {
  fc.assert(
    fc.property(fc.dictionary(fc.string({ maxLength: 20 }), fc.jsonValue()), (properties) => {
      const text = firstProperties({ properties });
      expect(text.length).toBeLessThanOrEqual(4 * (90 + 40 + 3) + 10);
    }),
  );
});
