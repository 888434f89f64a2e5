/** The unit that a figure is told in. */
import { expect, test } from 'vitest';
import type { Formula } from '../../../src/core/questions/formula';
import { unitOf } from '../../../src/core/questions/unit-of';
import { event, planWith, property } from '../../build/plan';

const plan = planWith(
  [
    property('fee', { name: 'fee', type: 'integer', unit: 'minor units' }),
    property('days', { name: 'days', type: 'integer', unit: 'd' }),
    property('currency', { name: 'currency', format: 'currency' }),
    event('late', { name: 'Fee Charged', properties: ['fee', 'days'].map((propertyId) => ({ propertyId, required: true })) }),
    event('shop', { name: 'Part Bought', properties: ['fee', 'currency'].map((propertyId) => ({ propertyId, required: true })) }),
  ],
  { currency: 'SEK' },
);
const total = (eventName: string, name: string): Formula => ({ type: 'total of a property', event: { eventName, where: [] }, property: name, period: 'week' }); // prettier-ignore

test('money names the workspace’s currency, or says that each message has its own; all else has its unit, or none', () => {
  expect(unitOf(plan, total('Fee Charged', 'fee'))).toBe('minor units of SEK');
  expect(unitOf(plan, total('Part Bought', 'fee'))).toBe('minor units, each in its own currency');
  expect(unitOf(plan, total('Fee Charged', 'days'))).toBe('d');
  expect([unitOf(plan, total('Fee Charged', 'unknown')), unitOf(plan, total('Nothing', 'fee')), unitOf(plan, null)]).toEqual(['', '', '']);
});
