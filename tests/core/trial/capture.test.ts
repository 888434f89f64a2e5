/** The file of a captured trial: its lines in order, read again, and its steps guessed where it does not say them. */
import { describe, expect, test } from 'vitest';
import { captureLines, guessMarks, markOf } from '../../../src/core/trial/capture';
import type { Mark, TrialMessage, TrialRun } from '../../../src/core/trial/run';
import { blankStep, type TrialScript } from '../../../src/core/trial/script';

const expects = (event: string, max = 1) => ({ event, min: 1, max, sources: [], values: [], ids: [] });
const script: TrialScript = {
  name: 'T', about: '', flow: '', owner: '', retired: false,
  steps: [{ ...blankStep('look'), expects: [expects('Viewed')] }, { ...blankStep('ask'), expects: [expects('Asked', 2), expects('Viewed')] }, { ...blankStep('end of it'), expects: [expects('Answered')] }],
}; // prettier-ignore
const AT = Date.parse('2026-03-01T09:30:00Z');

describe('marks', () => {
  test.each<[unknown, Mark | undefined]>([
    [
      { step: 2, at: '2026-03-01T09:30:00Z' },
      { step: 'ask', at: AT },
    ],
    [
      { step: 'look', at: '2026-03-01T09:30:00Z', skipped: 'no desk' },
      { step: 'look', at: AT, skipped: 'no desk' },
    ],
    [
      { step: 'look', at: '2026-03-01T09:30:00Z', skipped: 5 },
      { step: 'look', at: AT },
    ],
    [
      { step: 'baseline', at: '2026-03-01T09:30:00Z' },
      { step: 'baseline', at: AT },
    ],
    [
      { step: 'end', at: '2026-03-01T09:30:00Z' },
      { step: 'end', at: AT },
    ],
    [{ step: 0, at: '2026-03-01T09:30:00Z' }, undefined],
    [{ step: 4, at: '2026-03-01T09:30:00Z' }, undefined],
    [{ step: 'gone', at: '2026-03-01T09:30:00Z' }, undefined],
    [{ step: 1, at: 'yesterday' }, undefined],
    [{ step: 1, at: 5 }, undefined],
    [{ step: 1 }, undefined],
    [{ at: '2026-03-01T09:30:00Z' }, undefined],
    [[], undefined],
    [null, undefined],
  ])('%j', (line, mark) => {
    expect(markOf(line, script)).toEqual(mark);
  });
});

test('lines are by the clock of the server, a mark before what came at its moment, steps by number; what is read again is what was written', () => {
  const marks: Mark[] = [
    { step: 'baseline', at: AT },
    { step: 'look', at: AT + 1000 },
    { step: 'ask', at: AT + 2000, skipped: 'no desk' },
    { step: 'end', at: AT + 3000 },
  ];
  const messages = [
    { receivedAt: AT + 2500, line: { name: 'late' } },
    { receivedAt: AT + 1000, line: { name: 'at once' } },
    { receivedAt: AT - 5, line: { name: 'early' } },
  ];
  const lines = captureLines({ script, marks } as unknown as TrialRun, messages).trimEnd().split('\n').map((l) => JSON.parse(l) as Record<string, unknown>); // prettier-ignore
  expect(lines.map((l) => l['step'] ?? l['name'])).toEqual(['early', 'baseline', 1, 'at once', 2, 'late', 'end']);
  expect(lines[2]).toEqual({ step: 1, at: '2026-03-01T09:30:01.000Z' });
  expect(lines[3]).toEqual({ name: 'at once', received_at: '2026-03-01T09:30:01.000Z' });
  expect(lines.flatMap((l) => markOf(l, script) ?? [])).toEqual(marks);
});

test('a step that expects an event twice has both before the next step that expects it begins', () => {
  const twice = {
    ...script,
    steps: [
      { ...blankStep('one'), expects: [expects('Viewed', 2)] },
      { ...blankStep('two'), expects: [expects('Viewed')] },
    ],
  };
  const messages = [0, 1, 2].map((receivedAt) => ({ kind: 'event', name: 'Viewed', receivedAt }) as TrialMessage);
  expect(guessMarks(twice, messages)).toEqual([
    { step: 'one', at: 0 },
    { step: 'two', at: 2 },
  ]);
});

describe('steps that a file does not say begin with what they expect', () => {
  const came = (...names: string[]): TrialMessage[] => names.map((name, i) => ({ kind: name === 'page' ? 'view' : 'event', name, receivedAt: i }) as TrialMessage); // prettier-ignore
  test.each<[string[], [string, number][]]>([
    [['Viewed', 'Asked', 'Asked', 'Viewed', 'Answered'], [['look', 0], ['ask', 1], ['end of it', 4]]], // prettier-ignore
    // The second step expects it too, once the first has had its own.
    [['Viewed', 'Viewed'], [['look', 0], ['ask', 1]]], // prettier-ignore
    // What a step expects a second time begins no other.
    [['Asked', 'Asked', 'Answered'], [['ask', 0], ['end of it', 2]]], // prettier-ignore
    [['page', 'Other', 'Answered'], [['end of it', 2]]], // prettier-ignore
    // No step is gone back to.
    [['Answered', 'Viewed', 'Asked'], [['end of it', 0]]], // prettier-ignore
    [[], []],
  ])('%j', (names, marks) => {
    expect(guessMarks(script, came(...names))).toEqual(marks.map(([step, at]) => ({ step, at })));
  });
});
