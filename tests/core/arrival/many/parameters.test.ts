import { describe, expect, test } from 'vitest';
import { foundBy } from '../../../../src/core/arrival/check-many';
import { tooOld } from '../../../../src/core/arrival/many/too-old';
import type { RuleSettings } from '../../../../src/core/findings/severity';
import { isWithin, valuesOf } from '../../../../src/core/arrival/check';
import { allChecks } from '../../../../src/core/arrival/words';
import { resolvePersons } from '../../../../src/core/identity/persons';
import { type Plan } from '../../../../src/core/plan/plan';
import { Watch } from '../../../../src/core/plan/watch';
import { RULES, tableOf } from '../../../build/messages';
import { DAY, MINUTE_MS, plan, run, user, type Row } from './harness';

describe('numbers of a check are the workspace’s where it set them', () => {
  const withRules = (rules: RuleSettings): Plan => ({ ...plan, settings: { settings: { ...plan.settings['settings']!, rules } } });
  const pairs = (apart: number): Row[] =>
    Array.from({ length: 20 }, (_, i) => i * 10).flatMap((at, i) => [
      { at, ids: user(i) },
      { at: at + apart, ids: user(i) },
    ]);
  test('two messages half a minute apart are one thing only where the workspace says so', () => {
    expect(run('double-fire', pairs(0.5), DAY)).toEqual([]);
    const patient = withRules({ 'double-fire': { parameters: { within: 60 } } });
    expect(run('double-fire', pairs(0.5), DAY, patient)).toMatchObject([{ count: 20, params: { withinMs: 60_000 } }]);
    expect(run('double-fire', pairs(0.5), DAY, withRules({ 'double-fire': { parameters: { within: 60, min: 30 } } }))).toEqual([]);
  });
  test('a table that was asked with one limit answers rightly for another', () => {
    const late: Row[] = Array.from({ length: 10 }, (_, i) => ({ at: i, receivedAt: (i + 40 * DAY) * MINUTE_MS, ids: user(i) }));
    expect(run('too-old', late, 41 * DAY)).toEqual([]);
    expect(run('too-old', late, 41 * DAY, withRules({ 'too-old': { parameters: { limit: 30 } } }))).toMatchObject([{ count: 10 }]);
    const table = tableOf(late);
    const c = { people: resolvePersons(table, RULES), now: 41 * DAY * MINUTE_MS, watch: Watch.of(plan, 0), plan };
    expect([90, 30, 50, 39].map((limit) => foundBy(tooOld, c, { limit, min: 3 }).length)).toEqual([0, 1, 0, 1]);
  });
  test('what is out of bounds is as if it were not set', () => {
    expect(valuesOf(tooOld.parameters, { parameters: { limit: -1, min: 5.5, other: 2 } })).toEqual({ limit: 90, min: 3 });
  });
  test('each number lies within its own bounds, and has a name of one word', () => {
    for (const c of allChecks)
      for (const [name, p] of Object.entries(c.parameters ?? {})) {
        expect([c.id, name, isWithin(p, p.value)]).toEqual([c.id, name, true]);
        expect(name).toMatch(/^[a-z]+$/);
      }
  });
});
