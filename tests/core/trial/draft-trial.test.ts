import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { draftTrial } from '../../../src/core/trial/draft-trial';
import { captureLines, guessMarks, markOf } from '../../../src/core/trial/capture';
import { judgeTrial } from '../../../src/core/trial/verdict';
import { trialSchema } from '../../../src/core/trial/trial-schema';
import { eventsOfTrial } from '../../../src/core/trial/script';
import { isAbandoned, testerWarnings } from '../../../src/core/trial/trial-run';
import { renameEvent, renameProperty } from '../../../src/core/plan/rename';
import { referencesTo } from '../../../src/core/plan/references';
import { contentHash } from '../../../src/core/plan/content-hash';
import { applyEdits } from '../../../src/core/plan/edit';
import type { Plan } from '../../../src/core/plan/plan';
import * as edits from '../../../src/islands/arrivals/trials/step-edits';
import { plan as anyPlan } from '../../build/arbitrary-plan';
import { demoPlan } from '../../build/demo-plan';
import { NOW, plan as crates, right, run, script, T0 } from './made';

const plan = demoPlan();
let n = 0;
const newId = (): string => `s-${n++}`;

describe('a trial drafted from the plan', () => {
  it('of an event: once, with its counterpart by the same key, and what must not come', () => {
    const t = draftTrial(plan, { eventId: 'reservation-requested' }, newId);
    expect(t.steps[0]!.expects.map((e) => [e.event, e.values.map((v) => [v.property, v.wanted.is, v.remember])])).toEqual([
      ['Reservation Requested', [['request_id', 'any', 'the key of both']]],
      ['Reservation Confirmed', [['request_id', 'remembered', undefined]]],
    ]);
    expect(
      t.steps.some(
        (s) => s.does.includes('let it fail') && s.forbids.includes('Reservation Requested') && s.forbids.includes('Reservation Confirmed'),
      ),
    ).toBe(true);
    expect(t.steps.some((s) => s.does.includes('looks like it'))).toBe(true);
    expect(t.steps.at(-1)!.expects[0]!.ids).toEqual(['user']);
  });
  it('of a series: each value once, in order, none by going back and forth, none out of scope', () => {
    const t = draftTrial(plan, { eventId: 'guide-read' }, newId);
    expect(t.steps[0]!.expects.map((e) => e.values[0]!.wanted)).toEqual(
      ['25', '50', '75', '100'].map((value) => ({ is: 'exactly', value })),
    );
    expect([t.steps[0]!.inOrder, t.steps[1]!.forbids]).toEqual([true, ['Guide Read']]);
    expect(t.steps.some((s) => s.does.includes('not under /guides') && s.forbids[0] === 'Guide Read')).toBe(true);
  });
  it('of a flow: every event of it', () => {
    const t = draftTrial(plan, { flow: 'Discover' }, newId);
    expect(eventsOfTrial(t).sort()).toEqual(['Catalogue Searched', 'Guide Read', 'Tool Viewed']);
  });
  it('at random: fits its schema, speaks of planned events alone, and has steps that are told apart', () => {
    fc.assert(
      fc.property(anyPlan, (p) => {
        for (const [id, e] of Object.entries(p.event).slice(0, 3)) {
          if (e.retired || e.name === '') continue;
          const t = draftTrial(p, { eventId: id }, newId);
          expect(trialSchema.safeParse(t).error?.issues ?? []).toEqual([]);
          const names = new Set(Object.values(p.event).map((x) => x.name));
          for (const name of eventsOfTrial(t)) expect(names.has(name)).toBe(true);
        }
      }),
      { numRuns: 40 },
    );
  });
});

describe('a capture', () => {
  const lines = captureLines(
    run(),
    right().map((m) => ({ receivedAt: m.receivedAt, line: { id: m.messageId, name: m.name } })),
  );
  const parsed = lines
    .trimEnd()
    .split('\n')
    .map((l) => JSON.parse(l) as unknown);
  it('keeps the marks: read again they are those of the run', () => {
    expect(parsed.map((v) => markOf(v, script)).filter((m) => m !== undefined)).toEqual(run().marks);
  });
  it('is in the order of the clock by which it was received', () => {
    const at = parsed.map((v) => Date.parse(((v as { at?: string }).at ?? (v as { received_at?: string }).received_at)!));
    expect([...at].sort((a, b) => a - b)).toEqual(at);
  });
  it('without marks: steps are told from the messages, negative ones are not judged, and the verdict on the rest is the same', () => {
    const messages = right();
    const marks = guessMarks(script, messages);
    expect(marks.map((m) => m.step)).toEqual(['look', 'ask', 'read']);
    const guessed = judgeTrial({ script, marks, guessed: true }, messages, crates, NOW);
    expect(guessed.steps.map((s) => s.state)).toEqual(['passed', 'passed', 'not judged', 'passed', 'not judged']);
    expect(guessed.state).toBe('incomplete');
    const missing = messages.slice(0, 3);
    expect(judgeTrial({ script, marks: guessMarks(script, missing), guessed: true }, missing, crates, NOW).steps[3]!.state).toBe('gap');
  });
  it('what is no mark is none', () => {
    for (const v of [
      null,
      1,
      { step: 99, at: '2026-03-01T09:00:00Z' },
      { step: 1, at: 'now' },
      { step: 'other', at: '2026-03-01T09:00:00Z' },
      { name: 'x' },
    ])
      expect(markOf(v, script)).toBeUndefined();
    expect(markOf({ step: 2, at: '2026-03-01T09:01:00Z', skipped: 'no' }, script)).toEqual({ step: 'ask', at: T0 + 60_000, skipped: 'no' });
  });
});

describe('a trial in the plan', () => {
  const applied = (p: Plan, e: Parameters<typeof applyEdits>[1]): Plan => {
    const r = applyEdits(p, e);
    if (!r.ok) throw new Error(JSON.stringify(r.problem));
    return r.plan;
  };
  it('follows what it names: an event that is renamed, a property that is renamed', () => {
    const renamed = applied(plan, renameEvent(plan, 'tool-viewed', 'Tool Looked At', true));
    expect(eventsOfTrial(renamed.trial['reserve-a-tool']!)).toContain('Tool Looked At');
    expect(eventsOfTrial(renamed.trial['reserve-a-tool']!)).not.toContain('Tool Viewed');
    const moved = applied(plan, renameProperty(plan, 'request_id', 'reservation_id', true));
    expect(JSON.stringify(moved.trial)).not.toContain('request_id');
    expect(JSON.stringify(moved.trial)).toContain('reservation_id');
  });
  it('is among what refers to its events and sources; a plan without any has its old fingerprint', () => {
    expect(
      referencesTo(plan, 'event', 'tool-viewed')
        .filter((r) => r.kind === 'trial')
        .map((r) => r.label),
    ).toEqual(['Reserve a tool']);
    expect(referencesTo(plan, 'source', 'backend').some((r) => r.kind === 'trial')).toBe(true);
    const { trial: _, ...old } = { ...plan, trial: {} };
    expect(contentHash(old as unknown as Plan)).toBe(contentHash({ ...plan, trial: {} }));
    expect(contentHash(plan)).not.toBe(contentHash({ ...plan, trial: {} }));
  });
  it('at most as much as it may: a step whose least is more than its most is refused', () => {
    const bad = { ...script, steps: [{ ...script.steps[0]!, expects: [{ ...script.steps[0]!.expects[0]!, min: 2, max: 1 }] }] };
    expect(trialSchema.safeParse(bad).error!.issues[0]!.message).toContain('At least cannot be more than at most');
    expect(trialSchema.safeParse({ ...script, steps: [script.steps[0]!, script.steps[0]!] }).success).toBe(false);
  });
});

test('steps are moved, duplicated, removed; what is out of the list changes nothing', () => {
  const { steps } = script;
  expect(edits.moved(steps, 0, 2).map((s) => s.id)).toEqual(['ask', 'fail', 'look', 'read', 'read again']);
  expect(edits.moved(edits.moved(steps, 1, 3), 3, 1)).toEqual(steps);
  expect(edits.moved(steps, 0, -1)).toEqual(steps);
  expect(edits.duplicated(steps, 1, 'new').map((s) => s.id)).toEqual(['look', 'ask', 'new', 'fail', 'read', 'read again']);
  expect(edits.without(steps, 0)).toHaveLength(4);
  expect(edits.changed(steps, 9, { does: 'x' })).toEqual(steps);
  const [e] = steps[1]!.expects;
  expect(edits.valueChanged(e!, 0, undefined)).toEqual([]);
  expect(edits.valueChanged(e!, 5, e!.values[0])).toHaveLength(2);
  expect(edits.timesText({ min: 1, max: 1 })).toBe('exactly once');
  expect(edits.timesText({ min: 2, max: 4 })).toBe('2 to 4 times');
});

test('warnings: nothing of the tester, another environment, not signed in, several people on the device', () => {
  const base = { kinds: new Set(['user']), users: 1, mine: 3, others: 0, elsewhere: new Map<string, number>() };
  const of = (more: Partial<typeof base>): string =>
    testerWarnings(plan, { by: 'identifier', value: 'a-1' }, { ...base, ...more }).join(' ');
  expect(of({})).toBe('');
  expect(of({ mine: 0, others: 4 })).toContain('4 of others did');
  expect(of({ mine: 0, elsewhere: new Map([['staging', 2]]) })).toContain('2 in staging');
  expect(of({ kinds: new Set(['anonymous']) })).toContain('Not signed in');
  expect(of({ users: 2 })).toContain('2 user IDs were on this device');
  expect(isAbandoned({ endedAt: null, touchedAt: 0 }, 3 * 3_600_000)).toBe(true);
  expect(isAbandoned({ endedAt: 1, touchedAt: 0 }, 3 * 3_600_000)).toBe(false);
});
