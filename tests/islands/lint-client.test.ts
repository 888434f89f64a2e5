/** The findings of the plan's rules in the browser, against a worker that fails now and then. */
import { expect, test, vi } from 'vitest';
import { deltaOf } from '../../src/core/lint/delta';
import { lintPlan, withoutFix, type ShownFinding } from '../../src/core/lint/lint';
import { applyEdits } from '../../src/core/plan/edit';
import type { Plan } from '../../src/core/plan/plan';
import { LintClient, type LintPeer } from '../../src/islands/workplace/lint-client';
import { event, planWith } from '../build/plan';
import { eventually } from '../build/wait';

/** As the real worker, in this thread; `fails` says before each call whether it does. */
const peers = (fails: () => boolean) => {
  let started = 0;
  const start = (): LintPeer => {
    started++;
    let plan: Plan | undefined;
    let found: readonly ShownFinding[] = [];
    const lint = (next: Plan) => {
      plan = next;
      const before = found;
      found = lintPlan(next).map(withoutFix);
      return deltaOf(before, found);
    };
    const orFail = <T>(make: () => T): Promise<T> => (fails() ? Promise.reject(new Error('out of memory')) : Promise.resolve(make()));
    return {
      api: {
        reset: (next) => orFail(() => (lint(next), found)),
        follow: (edits) =>
          orFail(() => {
            const r = plan && applyEdits(plan, edits);
            return r?.ok ? lint(r.plan) : undefined;
          }),
      },
      end: () => undefined,
    };
  };
  return { start, started: () => started };
};

const plans = Array.from({ length: 6 }, (_, i) =>
  planWith(Array.from({ length: i + 1 }, (__, k) => event(`e${k}`, { name: k % 2 ? `thing ${k}` : `Thing ${k} Opened`, trigger: '' }))),
);

test.each([
  ['never', () => false],
  ['at its second call', (n: number) => n === 2],
  ['at every other call', (n: number) => n % 2 === 1],
])('a worker that fails %s: the findings are those of the newest plan', async (_, when) => {
  let calls = 0;
  vi.spyOn(console, 'error').mockReturnValue();
  const { start } = peers(() => when(++calls));
  const client = new LintClient(start);
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  for (const plan of plans) {
    client.want(plan);
    await eventually(
      () => expect(client.snapshot().plan).toBe(plan),
      () => vi.advanceTimersByTime(1000),
    );
    expect(client.snapshot().findings).toEqual(lintPlan(plan).map(withoutFix));
  }
  vi.useRealTimers();
});

test('a worker that always fails is not started for ever', async () => {
  vi.useFakeTimers();
  vi.spyOn(console, 'error').mockReturnValue();
  const { start, started } = peers(() => true);
  const client = new LintClient(start);
  client.want(plans[0]!);
  await vi.advanceTimersByTimeAsync(120_000);
  vi.useRealTimers();
  expect(started()).toBe(6);
});
