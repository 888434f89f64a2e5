import { expect, test } from 'vitest';
import { lintPlan, withoutFix } from '../../../src/core/lint/lint';
import { stopsByEvent } from '../../../src/core/hand-off/stops';
import { event, planWith } from '../../build/plan';

test('what stops an event is said with it, once; cautions, and what is about others, do not hold it back', () => {
  const attempt = { name: 'Crate Moved', trigger: 'Move was pressed.', triggerKind: 'completed' as const };
  const findings = lintPlan(
    planWith([
      event('a', attempt),
      event('b', { ...attempt, name: 'Crate Lost' }),
      event('c', { name: 'Crate Kept', trigger: 'The crate was stored.' }),
    ]),
  ).map(withoutFix);
  const stops = stopsByEvent(findings);
  const ids = new Set(findings.filter((f) => f.severity === 'stop' && f.path[0] === 'event').map((f) => String(f.path[1])));
  expect(ids.size).toBeGreaterThan(0);
  expect(new Set(stops.keys())).toEqual(ids);
  for (const [id, says] of stops) {
    expect(new Set(says).size).toBe(says.length);
    for (const s of says) expect(findings.some((f) => f.severity === 'stop' && f.path[1] === id && f.words.text === s)).toBe(true);
  }
  expect(stops.has('c')).toBe(false);
});
