/** What a plan uses of the limits of the place where the data goes. */
import { expect, test } from 'vitest';
import { limitsOf } from '../../../src/core/plan/limits';
import { create, event, planWith } from '../../build/plan';

const used = (plan: Parameters<typeof limitsOf>[0]): Record<string, number> =>
  Object.fromEntries(limitsOf(plan).map((l) => [l.key, l.used]));

test('defined events are names and conversions as those that are sent; one that unites under a planned name is that name', () => {
  const sent = [
    event('a', { name: 'Tool Viewed', conversion: true }),
    event('b', { name: 'Loan Started' }),
    event('c', { name: 'Gone', retired: true, conversion: true }),
  ];
  expect(used(planWith(sent))).toEqual({ events: 2, userProperties: 0, conversions: 1 });
  const plan = planWith([
    ...sent,
    create('definition', 'd', { name: 'Tool Seen', conversion: true }),
    create('definition', 'e', { name: 'Tool Viewed', source: { of: 'events', names: ['Tool Viewed', 'tool viewed'] } }),
    create('definition', 'f', { name: 'Left', conversion: true, retired: true }),
  ]);
  expect(used(plan)).toEqual({ events: 3, userProperties: 0, conversions: 2 });
});
