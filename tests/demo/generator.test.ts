import { expect, test } from 'vitest';
import { compileChecker } from '../../src/core/arrival/compile';
import { readMessage } from '../../src/core/arrival/message';
import { lintPlan } from '../../src/core/lint/lint';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { applyEdits } from '../../src/core/plan/edit';
import { emptyPlan } from '../../src/core/plan/plan';
import { FAULT_IDS } from '../../src/demo/faults';
import { generate } from '../../src/demo/generator';
import { draftEdits, publishedEdits } from '../../src/demo/plan';

const now = Date.parse('2026-11-23T12:00:00Z');
const options = { seed: 11, now, visitors: 600, faults: new Set(FAULT_IDS) };
const applied = applyEdits({ ...emptyPlan(DEFAULT_SETTINGS), settings: {} }, publishedEdits);
if (!applied.ok) throw new Error('the demo plan does not apply');

test('the same seed gives the same history, another another; it is sorted, and ends now', () => {
  const a = generate(options);
  expect(generate(options)).toEqual(a);
  expect(generate({ ...options, seed: 12 }).length).not.toBe(a.length);
  const received = a.map((m) => m.receivedAt);
  expect(received).toEqual([...received].sort((x, y) => x - y));
  expect(received.at(-1)!).toBeLessThan(now);
  expect(now - received.at(-1)!).toBeLessThan(86_400_000);
  expect(now - received[0]!).toBeGreaterThan(50 * 86_400_000);
});

test('shifting the end shifts every time and changes nothing else but the weekday’s effect', () => {
  const week = 7 * 86_400_000;
  const shifted = generate({ ...options, now: now + week });
  const times = (list: typeof shifted) => list.map((m) => m.message.id);
  expect(times(shifted)).toEqual(times(generate(options)));
});

test('without faults every message conforms, and no ID comes twice; the published plan has notes at most', () => {
  const checker = compileChecker(applied.plan);
  const messages = generate({ ...options, faults: new Set() });
  expect(new Set(messages.map((m) => m.message.id)).size).toBe(messages.length);
  for (const { message } of messages) {
    const read = readMessage(JSON.parse(JSON.stringify(message)));
    if (!read.ok) throw new Error(read.rejected.detail);
    expect(checker.check(read.message)).toEqual([]);
  }
  expect(lintPlan(applied.plan).filter((f) => f.severity !== 'note')).toEqual([]);
  const draft = applyEdits(applied.plan, draftEdits);
  expect(draft.ok && new Set(lintPlan(draft.plan).map((f) => f.code)).size).toBeGreaterThanOrEqual(6);
});
