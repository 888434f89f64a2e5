/** A wait belongs to what is waited for: what else is published does not begin it again. Against the history read anew for each pair. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { waitFor, waitForSource } from '../../../src/core/arrival/waiting';
import { Watch } from '../../../src/core/plan/watch';
import { BUILD_STATES, type EventSource, type Plan } from '../../../src/core/plan/plan';
import { create, event, planWith } from '../../build/plan';
import { tableOf } from '../../build/messages';

const EVENTS = ['moved', 'dropped', 'lifted'] as const;
const SOURCES = ['web', 'hall'] as const;

const source = fc.record({
  required: fc.boolean(),
  build: fc.constantFrom(...BUILD_STATES),
  since: fc.constantFrom(undefined, '1.0', '2.0'),
});
const version = fc.record({
  pairs: fc.array(fc.option(source, { nil: undefined }), { minLength: 6, maxLength: 6 }),
  retired: fc.array(fc.boolean(), { minLength: 3, maxLength: 3 }),
  /** An event that has nothing to do with the others comes and goes. */
  other: fc.boolean(),
  after: fc.array(fc.constantFrom('visitor', 'person'), { maxLength: 2 }),
});
type Version = typeof version extends fc.Arbitrary<infer T> ? T : never;

const planOf = (v: Version): Plan =>
  planWith([
    ...SOURCES.map((id) => create('source', id, { name: id, idKinds: { beforeSignIn: [], afterSignIn: id === 'web' ? v.after : [] } })),
    ...EVENTS.map((id, e) =>
      event(id, {
        name: `Crate ${id}`,
        retired: v.retired[e]!,
        sources: SOURCES.flatMap((sourceId, s): EventSource[] => {
          const own = v.pairs[e * 2 + s];
          if (!own) return [];
          const { since, ...rest } = own;
          return [{ sourceId, ...rest, ...(since === undefined ? {} : { since }) }];
        }),
      }),
    ),
    ...(v.other ? [event('other', { name: 'Hall Opened' })] : []),
  ]);

/** What is asked of a pair, in the plainest way. */
const asked = (v: Version, e: number, s: number): string | undefined => {
  const own = v.pairs[e * 2 + s];
  return !own || v.retired[e] || !own.required || own.build === 'proposed' || own.build === 'retired' ? undefined : (own.since ?? '');
};

describe('what each version asks', () => {
  test('a pair is watched since the first version of the unbroken run that asks the same of it', () => {
    fc.assert(
      fc.property(fc.array(version, { minLength: 1, maxLength: 7 }), (versions) => {
        const watch = versions.reduce((w, v, i) => w.followedBy(planOf(v), (i + 1) * 1000), Watch.NOTHING);
        const last = versions.length - 1;
        EVENTS.forEach((id, e) =>
          SOURCES.forEach((sourceId, s) => {
            const now = asked(versions[last]!, e, s);
            let first = last;
            while (first > 0 && asked(versions[first - 1]!, e, s) === now) first--;
            expect([id, sourceId, watch.pair(id, sourceId)]).toEqual([id, sourceId, now === undefined ? undefined : (first + 1) * 1000]);
          }),
        );
        let first = last;
        while (first > 0 && JSON.stringify(versions[first - 1]!.after) === JSON.stringify(versions[last]!.after)) first--;
        expect(watch.source('web')).toBe((first + 1) * 1000);
      }),
      { seed: 13, numRuns: 300 },
    );
  });

  test('without a history everything is watched since one moment; what is in no plan is not watched', () => {
    const v: Version = {
      pairs: Array.from({ length: 6 }, () => ({ required: true, build: 'built', since: undefined })),
      retired: [false, true, false],
      other: false,
      after: [],
    };
    const watch = Watch.of(planOf(v), 77);
    expect([watch.pair('moved', 'web'), watch.pair('dropped', 'web'), watch.pair('none', 'web'), watch.source('none')]).toEqual([
      77,
      undefined,
      undefined,
      undefined,
    ]);
    expect(Watch.NOTHING.pair('moved', 'web')).toBeUndefined();
  });
});

describe('how long one waits', () => {
  const HOUR = 3_600_000;
  const v: Version = {
    pairs: Array.from({ length: 6 }, () => ({ required: true, build: 'agreed', since: undefined })),
    retired: [false, false, false],
    other: false,
    after: ['person'],
  };
  const plan = planWith([], { tooEarlyHours: 10, escalationHours: 30 });
  const both: Plan = { ...planOf(v), settings: plan.settings };
  const at = (hours: number, firstAt?: number) => ({
    plan: both,
    table: tableOf(firstAt === undefined ? [] : [{ at: firstAt * 60, ids: { user: 'm-1' }, sourceId: 'web' }]),
    watch: Watch.of(both, 0),
    now: hours * HOUR,
  });

  test.each([
    [9, undefined, 'too early', 30],
    [10, undefined, 'waiting', 30],
    [29.9, undefined, 'waiting', 30],
    [30, undefined, 'fault', 30],
    // A source that begins to send later is waited for from then on.
    [39, 30, 'too early', 60],
    [60, 30, 'fault', 60],
  ] as const)('after %d hours, the source first heard after %s: %s, due after %d', (hours, firstAt, state, due) => {
    const c = at(hours, firstAt);
    expect(waitFor(c, 'moved', 'web')).toMatchObject({ state, due: due * HOUR });
    expect(waitForSource(c, 'web')).toMatchObject({ state, due: due * HOUR });
  });

  test('what is not asked for is not waited for', () => {
    expect(waitFor(at(100), 'none', 'web')).toBeUndefined();
    expect(waitForSource(at(100), 'none')).toBeUndefined();
  });
});
