import { describe, expect, test } from 'vitest';
import { swappedUserProperty } from '../../../src/core/plan/swapped';
import { formulaFromMessages } from '../../../src/core/questions/from-messages';
import { create, planWith } from '../../build/plan';

const hour = 3_600_000;
const at = (h: number, name: string, properties: Record<string, unknown> = {}, by?: string) => ({
  name,
  occurredAt: h * hour,
  properties,
  ...(by === undefined ? {} : { by }),
});

describe('a question out of picked messages', () => {
  test('steps in the order of time, the window that they fit into', () => {
    const f = formulaFromMessages([at(30, 'Loan Started'), at(2, 'Tool Viewed')]);
    expect(f).toMatchObject({
      type: 'conversion',
      windowMs: 7 * 24 * hour,
      steps: [{ eventName: 'Tool Viewed' }, { eventName: 'Loan Started' }],
    });
  });
  test('a picked value keeps its type: text, number, true and false', () => {
    const of = (value: unknown) => {
      const f = formulaFromMessages([at(1, 'A', { p: value }, 'p')]);
      return f?.type === 'active persons' ? f.events[0]!.where : undefined;
    };
    expect([of('3'), of(3), of(false)]).toEqual([[{ property: 'p', is: '3' }], [{ property: 'p', is: 3 }], [{ property: 'p', is: false }]]);
    // What no condition can hold, and a property that is not there, make none.
    expect([of([1]), of(null)]).toEqual([[], []]);
    expect(formulaFromMessages([at(1, 'A', {}, 'toString')])).toMatchObject({ events: [{ where: [] }] });
  });
  test('nothing picked, nothing asked', () => expect(formulaFromMessages([])).toBeUndefined());
});

describe('a user property with name and value swapped', () => {
  const plan = planWith([create('userProperty', 'tier', { name: 'membership_tier', allowed: ['neighbour', 'maker'] })]);
  test('each is the other’s entry', () => {
    expect(swappedUserProperty(plan, 'maker', 'membership_tier')).toBe('tier');
    expect(swappedUserProperty(plan, 'Maker', 'membershipTier')).toBe('tier');
  });
  test('nothing else is taken for it', () => {
    expect(swappedUserProperty(plan, 'membership_tier', 'maker')).toBeUndefined();
    expect(swappedUserProperty(plan, 'patron', 'membership_tier')).toBeUndefined();
    expect(swappedUserProperty(plan, 'maker', 7)).toBeUndefined();
  });
});
