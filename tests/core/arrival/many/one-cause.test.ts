import { expect, test } from 'vitest';
import { manyGroups } from '../../../../src/core/arrival/finding-group';
import { resolvePersons } from '../../../../src/core/identity/persons';
import { type Plan } from '../../../../src/core/plan/plan';
import { Watch } from '../../../../src/core/plan/watch';
import { RULES, tableOf } from '../../../build/messages';
import { MINUTE_MS, plan } from './harness';

test('what a check finds in two releases of a source is one cause; a check that is switched off is silent', () => {
  const table = tableOf(
    ['1', '2'].flatMap((release) =>
      Array.from({ length: 20 }, (_, i) => ({ at: i + 500, receivedAt: 0, release, ids: { user: `m-${release}-${i}` } })),
    ),
  );
  const context = { people: resolvePersons(table, RULES), now: 600 * MINUTE_MS, watch: Watch.of(plan, 0) };
  const groupsOf = (p: Plan) => {
    const steps = manyGroups({ ...context, plan: p });
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
    }
  };
  expect(groupsOf(plan)).toMatchObject([{ code: 'clock-ahead', releases: ['1', '2'], count: 40, samples: expect.any(Array) as number[] }]);
  const settings = { ...plan.settings['settings']!, rules: { 'clock-ahead': { off: true } } };
  expect(groupsOf({ ...plan, settings: { settings } })).toEqual([]);
});
