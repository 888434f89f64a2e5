import { expect, test } from 'vitest';
import { arrivalMatrix } from '../../../src/core/arrival/matrix';
import { followUpsOf } from '../../../src/core/arrival/follow-ups';
import type { TriagedFinding } from '../../../src/core/arrival/triage';
import { settingsOf } from '../../../src/core/plan/plan';
import { Watch } from '../../../src/core/plan/watch';
import { create, event, planWith } from '../../build/plan';
import { tableOf } from '../../build/messages';

const HOUR = 3_600_000;

test('a wait is too early, then waiting, then due, by the workspace’s hours; what came is not waited for', () => {
  const plan = planWith([
    create('source', 'web', { name: 'Web' }),
    ...['Hall Opened', 'Crate Moved'].map((name) => event(name, { name, sources: [{ sourceId: 'web', required: true, build: 'built' }] })),
  ]);
  const table = tableOf([{ at: 1, receivedAt: 0, name: 'Crate Moved', sourceId: 'web', ids: {} }]);
  const states = (hours: number) => {
    const now = hours * HOUR;
    return followUpsOf(plan, arrivalMatrix(plan, table, now, Watch.of(plan, 0)), [], now).map((r) => [r.eventName, r.state, r.due / HOUR]);
  };
  const due = settingsOf(plan).escalationHours;
  expect(due).toBe(72);
  expect(states(23)).toEqual([['Hall Opened', 'too early', due]]);
  expect(states(24)).toEqual([['Hall Opened', 'waiting', due]]);
  expect(states(72)).toEqual([['Hall Opened', 'due', due]]);
});

test('what somebody left until a day is due on that day; what is fixed has passed and stays listed', () => {
  const plan = planWith([]);
  const finding = (key: string, more: Partial<TriagedFinding>) =>
    ({ key, code: 'type', eventName: 'E', sourceId: 'web', sentence: 'S', lastAt: 5, state: 'open', ...more }) as TriagedFinding;
  const left = { key: '', reason: 'After the fair', until: 10 * HOUR, assignee: '', author: 'you', at: 1 };
  const list = [finding('m', { state: 'fixed' }), finding('a', { state: 'acknowledged', acknowledgement: left }), finding('o', {})];
  const at = (now: number) => followUpsOf(plan, { rows: [] }, list, now).map((r) => [r.finding, r.why, r.state]);
  expect(at(9 * HOUR)).toEqual([
    ['a', 'acknowledged', 'waiting'],
    ['m', 'fixed', 'passed'],
  ]);
  expect(at(10 * HOUR)[0]).toEqual(['a', 'acknowledged', 'due']);
});
