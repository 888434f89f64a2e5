import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { judgeTrial } from '../../../src/core/trial/verdict';
import type { Misfit, TrialVerdict } from '../../../src/core/trial/verdict-shape';
import type { TrialMessage, TrialRun } from '../../../src/core/trial/run';
import { deepFreeze } from '../../build/plan';
import { expects, mark, message, NOW, plan, right, run, script, step, T0 } from './made';

const judged = (messages: readonly TrialMessage[], r: TrialRun = run(), now = NOW): TrialVerdict =>
  judgeTrial(
    deepFreeze(r),
    deepFreeze([...messages].sort((a, b) => a.receivedAt - b.receivedAt).map((m, i) => ({ ...m, seq: i + 1 }))),
    plan,
    now,
  );
const statesOf = (v: TrialVerdict): string[] => v.steps.map((s) => s.state);
const misfitsOf = (v: TrialVerdict): Misfit[] => v.steps.flatMap((s) => [...s.expected.flatMap((e) => e.misfits), ...s.forbidden]);
const found = (v: TrialVerdict): string[] => misfitsOf(v).map((m) => `${m.what}: ${m.event}`);

test('a run in which everything is right passes, and verifies each event where it came', () => {
  const v = judged(right());
  expect([v.state, ...statesOf(v)]).toEqual(['passed', 'passed', 'passed', 'passed', 'passed', 'passed']);
  expect(v.verified).toEqual([
    { event: 'Crate Viewed', sourceId: 'web', release: '8.1' },
    { event: 'Crate Given', sourceId: 'desk', release: '2' },
    { event: 'Crate Asked', sourceId: 'web', release: '8.1' },
    { event: 'Guide Read', sourceId: 'web', release: '8.1' },
  ]);
});

describe('what is wrong', () => {
  const change = (at: number, more: Partial<TrialMessage>): TrialMessage[] => right().map((m, i) => (i === at ? { ...m, ...more } : m));
  it.each<[string, TrialMessage[], string[]]>([
    ['twice for one action', [...right(), message('Crate Viewed', 3)], ['too many: Crate Viewed']],
    ['twice, the second when the next step is under way', [...right(), message('Crate Viewed', 9)], ['too many: Crate Viewed']],
    ['none', right().slice(1), ['missing: Crate Viewed']],
    [
      'a completed event of a failed action',
      [...right(), message('Crate Asked', 125, { properties: { request: 'r-8' } })],
      ['not wanted: Crate Asked'],
    ],
    ['another value', change(2, { properties: { request: 'r-9' } }), ['value: Crate Asked']],
    ['a value that is not like it', change(1, { properties: { request: '7' } }), ['value: Crate Given', 'value: Crate Asked']],
    ['an identifier that is missing', change(2, { ids: { visitor: 'v-1' } }), ['identifier: Crate Asked']],
    ['the other order', change(1, { receivedAt: T0 + 65_000 }), ['order: Crate Asked']],
    ['a milestone that is missing', right().filter((_, i) => i !== 4), ['missing: Guide Read']],
    ['a milestone twice', [...right(), message('Guide Read', 186, { properties: { share: 50 } })], ['too many: Guide Read']],
    ['milestones in another order', change(3, { occurredAt: T0 + 189_000 }), ['order: Guide Read']],
    [
      'milestones again when going back and forth',
      [...right(), message('Guide Read', 242, { properties: { share: 25 } })],
      ['not wanted: Guide Read'],
    ],
    [
      'a finding on the message',
      change(0, { findings: [{ code: 'wrong-type', severity: 'stop', sentence: 'x' }] }),
      ['finding: Crate Viewed'],
    ],
  ])('%s', (_, messages, expected) => {
    const v = judged(messages);
    expect(found(v)).toEqual(expected);
    expect(v.state).toBe('failed');
    for (const m of misfitsOf(v)) expect(v.verified.map((x) => x.event)).not.toContain(m.event);
    // Nothing is blamed on what has no part in it.
    expect(statesOf(v).filter((s) => s === 'passed').length).toBeGreaterThanOrEqual(script.steps.length - 2);
  });

  it('a remark alone does not fail it: a note, and a former name', () => {
    const v = judged(change(0, { name: 'crate_viewed', findings: [{ code: 'former-name', severity: 'note', sentence: 'x' }] }));
    expect([v.state, v.steps[0]!.remarks]).toEqual(['passed', ['It came under its former name `crate_viewed`.']]);
  });

  it('a step that caused nothing is a gap', () => {
    const v = judged(right().slice(0, 3));
    expect(statesOf(v)).toEqual(['passed', 'passed', 'passed', 'gap', 'passed']);
  });

  it('what an earlier step was to remember and did not is said, and blames no value', () => {
    expect(found(judged(right().filter((_, i) => i !== 1)))).toEqual(['missing: Crate Given', 'nothing remembered: Crate Asked']);
  });

  it('what came besides is shown and fails nothing', () => {
    const v = judged([...right(), message('Shelf Seen', 5), message('', 6, { kind: 'view' })]);
    expect([v.state, v.steps[0]!.besides.map((m) => m.name)]).toEqual(['passed', ['Shelf Seen', '']]);
  });
});

describe('while it runs', () => {
  const running = (marks: TrialRun['marks']): TrialRun => run({ marks });
  it('waits as long as the step allows, then calls it missing', () => {
    const r = running([mark('look', 0)]);
    expect(statesOf(judged([], r, T0 + 9999))[0]).toBe('waiting');
    expect(statesOf(judged([], r, T0 + 10_000))[0]).toBe('gap');
  });
  it('came once: a second may still come until the time is over, or the next step begins', () => {
    const messages = [message('Crate Viewed', 2)];
    expect(statesOf(judged(messages, running([mark('look', 0)]), T0 + 3000))[0]).toBe('waiting');
    expect(statesOf(judged(messages, running([mark('look', 0), mark('ask', 3)]), T0 + 4000))[0]).toBe('passed');
    expect(statesOf(judged([...messages, message('Crate Viewed', 4)], running([mark('look', 0), mark('ask', 3)]), T0 + 5000))[0]).toBe(
      'failed',
    );
  });
  it('what comes late for a step counts for it, as long as that waits and the step under way does not speak of it', () => {
    const v = judged([message('Crate Viewed', 8)], running([mark('look', 0), mark('ask', 3)]), T0 + 60_000);
    expect([statesOf(v)[0], v.steps[1]!.besides]).toEqual(['passed', []]);
  });
  it('a step that was skipped has its reason, and leaves the trial incomplete', () => {
    const marks = run().marks.map((m) => (m.step === 'fail' ? { ...m, skipped: 'No way to fail it.' } : m));
    const v = judged(right(), run({ marks }));
    expect([v.state, v.steps[2]!.state, v.steps[2]!.reason]).toEqual(['incomplete', 'skipped', 'No way to fail it.']);
  });
  it('a step that is done again counts by its last time; the same release says that the old one still runs', () => {
    const wrong = message('Crate Viewed', 2, { findings: [{ code: 'wrong-type', severity: 'stop', sentence: 'Old.' }] });
    const marks = [mark('look', 0), mark('look', 30), mark('end', 60)];
    const again = judged([wrong, { ...wrong, receivedAt: T0 + 32_000, seq: 900 }], run({ marks }));
    expect([again.steps[0]!.state, again.steps[0]!.remarks]).toEqual([
      'failed',
      ['Release 8.1 sent it, as in the try before: the old release is still running.'],
    ]);
    const fixed = judged([wrong, message('Crate Viewed', 32, { release: '8.2' })], run({ marks }));
    expect([fixed.steps[0]!.state, fixed.steps[0]!.remarks]).toEqual(['passed', []]);
  });
  it('before anything is done, nothing is said', () => {
    expect(judged([message('Crate Viewed', 1)], running([])).state).toBe('not begun');
  });
});

describe('the baseline', () => {
  const based = (messages: TrialMessage[], now = NOW) => judged(messages, run({ marks: [mark('baseline', -60), ...run().marks] }), now);
  it('is clean when none of the events came', () => {
    expect(based([message('Shelf Seen', -50), ...right()]).baseline).toEqual({ state: 'clean', misfits: [] });
    expect(based(right()).state).toBe('passed');
  });
  it('already fires: the trial fails, whatever comes later', () => {
    const v = based([message('Crate Viewed', -50), ...right()]);
    expect([v.state, v.baseline!.state, v.baseline!.misfits.map((m) => m.event)]).toEqual(['failed', 'already fires', ['Crate Viewed']]);
  });
});

test('a device’s clock that is hours wrong changes nothing', () => {
  fc.assert(
    fc.property(fc.integer({ min: -50, max: 50 }), (hours) => {
      const shifted = right().map((m) => (m.sourceId === 'web' ? { ...m, occurredAt: m.occurredAt + hours * 3_600_000 } : m));
      expect(judged(shifted).state).toBe('passed');
    }),
  );
});

test('at random: an order of arrival within a step that the script does not ask for changes no state', () => {
  const free: TrialRun = {
    script: { ...script, steps: [step('all', { expects: ['a', 'b', 'c', 'd'].map((e) => expects(e, { min: 1, max: 2 })) })] },
    marks: [mark('all', 0), mark('end', 100)],
  };
  fc.assert(
    fc.property(fc.array(fc.constantFrom('a', 'b', 'c', 'd', 'e'), { maxLength: 14 }), fc.integer(), (names, seed) => {
      const messages = names.map((n, i) => message(n, i + 1));
      const shuffled = [...messages]
        .sort((x, y) => ((x.seq * 7919 + seed) % 101) - ((y.seq * 7919 + seed) % 101))
        .map((m, i) => ({ ...m, receivedAt: T0 + (i + 1) * 100 }));
      const count = (n: string): number => names.filter((x) => x === n).length;
      // Counted by hand.
      const passes = ['a', 'b', 'c', 'd'].every((n) => count(n) >= 1 && count(n) <= 2);
      const [v, w] = [judged(messages, free), judged(shuffled, free)];
      expect(v.steps[0]!.state === 'passed').toBe(passes);
      expect(w.steps[0]!.state).toBe(v.steps[0]!.state);
      expect(w.steps[0]!.besides).toHaveLength(count('e'));
    }),
  );
});
