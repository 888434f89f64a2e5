import fc from 'fast-check';
import { expect, test } from 'vitest';
import { benchNames } from '../../../src/core/identity/bench-names';
import { plan as anyPlan } from '../../build/arbitrary-plan';
import { demoPlan } from '../../build/demo-plan';
import { create, event, planWith } from '../../build/plan';

test('without a plan the cases are told plainly', () => {
  expect(benchNames(planWith([]))).toEqual({ viewed: 'Page Viewed', started: 'Sign-up Started', completed: 'Sign-up Completed' });
});

test('with one they are told by its events: what a client starts and a server completes, of one flow', () => {
  const on = (sourceId: string) => ({ sources: [{ sourceId, required: true, build: 'built' as const }] });
  const plan = planWith([
    create('source', 'web', { kind: 'web' }),
    create('source', 'desk', { kind: 'server' }),
    event('a', { name: 'Search Begun', triggerKind: 'attempted', flow: 'search', order: 1, ...on('web') }),
    event('b', { name: 'Repair Asked', triggerKind: 'attempted', flow: 'repair', order: 2, ...on('web') }),
    event('c', { name: 'Repair Done', triggerKind: 'completed', flow: 'repair', order: 3, ...on('desk') }),
    event('d', { name: 'Bench Seen', triggerKind: 'viewed', flow: 'search', order: 4, ...on('web') }),
  ]);
  expect(benchNames(plan)).toEqual({ viewed: 'Bench Seen', started: 'Repair Asked', completed: 'Repair Done' });
  const { started, completed } = benchNames(demoPlan());
  const of = (name: string) => Object.values(demoPlan().event).find((e) => e.name === name)!;
  expect([of(started).triggerKind, of(completed).triggerKind, of(started).flow === of(completed).flow]).toEqual([
    'attempted',
    'completed',
    true,
  ]);
});

test('at random: three different names, none of an event that is retired', () => {
  fc.assert(
    fc.property(anyPlan, (plan) => {
      const names = Object.values(benchNames(plan));
      expect(new Set(names).size).toBe(3);
      for (const n of names) {
        const own = Object.values(plan.event).filter((e) => e.name === n);
        expect(own.length === 0 || own.some((e) => !e.retired)).toBe(true);
      }
    }),
  );
});
