import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { progressCounts, progressOf, PROGRESS_STATES, type ProgressFacts } from '../../../src/core/hand-off/progress';
import { acceptedWhen, mustNot, withoutBuilding } from '../../../src/core/hand-off/must-not';
import type { BuildState, Plan } from '../../../src/core/plan/plan';
import { create, deepFreeze, event, planWith, property } from '../../build/plan';
import { plan as anyPlan } from '../../build/arbitrary-plan';
import { demoPlan } from '../../build/demo-plan';

const plan = (build: BuildState = 'agreed', more: object = {}) =>
  planWith([
    create('source', 's', { name: 'Hall', kind: 'web', owner: 'Ada' }),
    event('e', {
      name: 'Crate Moved',
      formerNames: ['crate_moved'],
      description: 'x',
      owner: 'Ines',
      sources: [{ sourceId: 's', required: true, build }],
      ...more,
    }),
  ]);
const NONE: ProgressFacts = { seenOf: () => undefined, newestReleaseOf: () => undefined, handOvers: [], tried: [] };
const seen = { at: 5, release: '1.0', messages: 3 };
const handOver = { eventId: 'e', sourceId: 's', planVersion: 2, address: '', author: 'Ines', at: 3 };
const proof = { eventName: 'Crate Moved', sourceId: 's', release: '1.0', planVersion: 2, author: 'Ada', runId: 'r', at: 9, passed: true };
const failed = { ...proof, at: 12, passed: false };
const one = (p = plan(), facts: Partial<ProgressFacts> = {}) => progressOf(deepFreeze(p), { ...NONE, ...facts })[0]!;

describe('the state of a pair', () => {
  it.each<[string, Plan, Partial<ProgressFacts>, string, string]>([
    ['what lacks something', plan('agreed', { trigger: '' }), {}, 'held back', 'Ines: trigger missing.'],
    ['what is complete', plan(), {}, 'ready', 'Ines: to be handed over.'],
    ['what was handed over', plan(), { handOvers: [handOver] }, 'handed over', 'Ada: to be built.'],
    ['what the plan calls built', plan('built'), {}, 'built', 'The first message from Hall.'],
    ['what arrived', plan(), { seenOf: () => seen }, 'seen', 'A trial run.'],
    ['what arrived, whatever lacks', plan('agreed', { trigger: '' }), { seenOf: () => seen }, 'seen', 'A trial run.'],
    ['what a trial passed', plan(), { seenOf: () => seen, tried: [proof], newestReleaseOf: () => '1.0' }, 'verified', ''],
    [
      'of which a later release came',
      plan(),
      { seenOf: () => seen, tried: [proof], newestReleaseOf: () => '1.1' },
      'verified before',
      'Verified for 1.0, now 1.1: try it again.',
    ],
    [
      'what a later trial of the same release failed',
      plan(),
      { seenOf: () => seen, tried: [failed, proof], newestReleaseOf: () => '1.0' },
      'trial failed',
      'The trial of 1.0 by Ada failed: fix it, then try it again.',
    ],
    [
      'what a later trial under its former name failed',
      plan(),
      { seenOf: () => seen, tried: [{ ...failed, eventName: 'crate_moved' }, proof], newestReleaseOf: () => '1.0' },
      'trial failed',
      'The trial of 1.0 by Ada failed: fix it, then try it again.',
    ],
    [
      'what failed before it passed',
      plan(),
      { seenOf: () => seen, tried: [proof, { ...failed, at: 2 }], newestReleaseOf: () => '1.0' },
      'verified',
      '',
    ],
    [
      'what passed in a release, and failed in one before',
      plan(),
      { seenOf: () => seen, tried: [{ ...failed, release: '0.9' }, proof], newestReleaseOf: () => '1.0' },
      'verified',
      '',
    ],
    [
      'what failed in an earlier release alone',
      plan(),
      { seenOf: () => seen, tried: [failed], newestReleaseOf: () => '1.1' },
      'seen',
      'A trial run.',
    ],
    [
      'what the plan calls verified, though its trial failed',
      plan('verified'),
      { seenOf: () => seen, tried: [failed], newestReleaseOf: () => '1.0' },
      'trial failed',
      'The trial of 1.0 by Ada failed: fix it, then try it again.',
    ],
    ['what the plan calls verified, and nobody tried', plan('verified'), {}, 'built', 'The first message from Hall.'],
    ['what the plan calls verified, and came', plan('verified'), { seenOf: () => seen }, 'verified', ''],
    ['what is retired', plan('retired'), { seenOf: () => seen, tried: [proof] }, 'retired', ''],
  ])('%s', (_, p, facts, state, waits) => {
    expect([one(p, facts).state, one(p, facts).waits]).toEqual([state, waits]);
  });

  it('of several proofs the newest counts; one under a former name is the event’s', () => {
    const older = { ...proof, release: '0.9', at: 1 };
    expect(one(plan(), { tried: [older, proof], newestReleaseOf: () => '1.0' }).state).toBe('verified');
    expect(one(plan(), { tried: [{ ...proof, eventName: 'crate_moved' }], newestReleaseOf: () => '1.0' }).state).toBe('verified');
    expect(one(plan(), { seenOf: (n) => (n === 'crate_moved' ? seen : undefined) }).state).toBe('seen');
    expect(one(plan(), { tried: [{ ...proof, sourceId: 'other' }] }).state).toBe('ready');
  });

  it('at random: each planned pair once, and every state is counted', () => {
    fc.assert(
      fc.property(anyPlan, (p) => {
        const pairs = progressOf(p, NONE);
        const planned = Object.entries(p.event).flatMap(([id, e]) => e.sources.map((s) => `${id} ${s.sourceId}`));
        expect(pairs.map((x) => `${x.eventId} ${x.sourceId}`).sort()).toEqual(planned.sort());
        const counts = progressCounts(pairs);
        expect(PROGRESS_STATES.reduce((n, s) => n + counts[s], 0)).toBe(pairs.length);
        // Nothing arrived and nothing was tried: no state may claim it.
        expect(counts.seen + counts.verified + counts['verified before']).toBe(0);
      }),
      { numRuns: 40 },
    );
  });
});

describe('what must not cause an event', () => {
  const demo = demoPlan();
  it('a completed one: no attempt; one with a counterpart: not without it; a series: not again; a scope: not outside', () => {
    expect(mustNot(demo, demo.event['reservation-requested']!).join(' ')).toMatch(
      /cancelled, or refused.*`Reservation Confirmed` did not come/,
    );
    expect(mustNot(demo, demo.event['guide-read']!).join(' ')).toMatch(/going back and forth adds none.*not under `\/guides`/);
    expect(mustNot(demo, demo.event['tool-viewed']!).join(' ')).toMatch(/threshold in the trigger is not reached/);
    for (const e of Object.values(demo.event)) expect(mustNot(demo, e).length).toBeGreaterThan(0);
  });
  it('the acceptance of a series names its values in order', () => {
    expect(acceptedWhen(demo, demo.event['guide-read']!, demo.source['web'])[0]).toContain('25, 50, 75, 100');
    expect(acceptedWhen(demo, demo.event['tool-viewed']!, undefined)[0]).toContain('exactly one `Tool Viewed`');
  });
  it('what definitions can stand in for says its limits, too', () => {
    const { can, cannot } = withoutBuilding(demo, demo.event['reservation-requested']!);
    expect([can.join(' ').includes('raw interactions'), cannot.join(' ').includes('a press is an attempt')]).toEqual([true, true]);
    expect(withoutBuilding(demo, demo.event['late-fee-charged']!)).toMatchObject({
      can: [],
      cannot: expect.arrayContaining([expect.stringContaining('Anything')]) as unknown,
    });
  });
});

test('a property without samples holds its event back, by name', () => {
  const p = planWith([
    property('a', { name: 'weight', type: 'number' }),
    create('source', 's', { name: 'Hall' }),
    event('e', {
      name: 'A',
      description: 'x',
      properties: [{ propertyId: 'a', required: true }],
      sources: [{ sourceId: 's', required: true, build: 'agreed' }],
    }),
  ]);
  expect(one(p).waits).toBe('The plan: unit of `weight`, samples of `weight` missing.');
});
