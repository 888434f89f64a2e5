/** Two scenarios beside each other: what differs, what is touched, and what is worse. */
import { expect, test } from 'vitest';
import type { Worked } from '../../../src/core/scenario/side';
import { dryRunOf, touchedBy, type QuestionDelta } from '../../../src/core/scenario/dry-run';
import { FIRST_RULE } from '../../../src/core/alerts/default-rule';
import type { KeptRule } from '../../../src/core/alerts/kept-rule';
import { fallingSignOffs } from '../../../src/core/scenario/falling';
import { touchedRules } from '../../../src/core/scenario/touched-rules';
import { stretchOfDays } from '../../../src/core/scenario/stretch';
import { sumOf, worse } from '../../../src/core/scenario/worse';
import type { FindingGroup } from '../../../src/core/arrival/finding-group';
import type { Signal } from '../../../src/core/clearance/gate';
import { meaningOfQuestion, type SignOff } from '../../../src/core/clearance/sign-off';
import type { Edit } from '../../../src/core/plan/edit';
import { applyEdits } from '../../../src/core/plan/edit';
import type { Plan } from '../../../src/core/plan/plan';
import type { Formula } from '../../../src/core/questions/formula';
import { create, event, planWith, property, question } from '../../build/plan';

const NOBODY = { persons: 0, links: 0, refused: 0, orphans: 0, unattributed: 0, largest: 0 };
const group = (key: string, count: number, severity: FindingGroup['severity'] = 'caution'): FindingGroup => ({
  key, count, severity, code: 'wrong-type', eventName: 'Tool Viewed', touches: [], sourceId: 'web', releases: ['1'], outOf: 100, firstAt: 0, lastAt: 0,
  samples: [], title: key, why: '', sentence: `${key}.`, cause: '', fix: '', fixer: 'source', expected: '', received: '',
}); // prettier-ignore
const side = (groups: FindingGroup[], questions: Worked['questions'] = new Map()): Worked => ({ groups, questions, persons: NOBODY });
const active = (eventName: string): Formula => ({ type: 'active persons', events: [{ eventName, where: [] }], period: 'week' });
const plan = planWith([
  property('p1', { name: 'colour' }),
  property('p2', { name: 'weight' }),
  event('e1', { name: 'Tool Viewed', properties: [{ propertyId: 'p1', required: true }] }),
  event('e2', { name: 'Loan Started', properties: [{ propertyId: 'p2', required: true }], conversion: true }),
  create('definition', 'd1', {
    name: 'Red Tool Viewed',
    source: { of: 'events', names: ['Tool Viewed'] },
    where: { match: 'all', conditions: [{ subject: { of: 'property', name: 'colour' }, op: 'is', values: ['red'] }], groups: [] },
  }),
  create('definition', 'd2', { name: 'Red Again', source: { of: 'events', names: ['Red Tool Viewed'] } }),
  question('q1', { formula: active('Red Again') }),
  question('q2', { formula: active('Loan Started') }),
]);
const after = (...edits: Edit[]): Plan => {
  const r = applyEdits(plan, edits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};

test('findings appear, vanish, grow and shrink with their numbers; those that stay are counted', () => {
  const run = dryRunOf(
    4,
    12,
    [planWith([]), planWith([])],
    side([group('stays', 5), group('vanishes', 3), group('grows', 1), group('graver', 2)]),
    side([group('stays', 5), group('appears', 9), group('grows', 4), group('graver', 2, 'stop'), group('counts none', 0)]),
  );
  expect(run.findings.map((f) => [f.key, f.before, f.after])).toEqual([
    ['appears', 0, 9],
    ['grows', 1, 4],
    ['vanishes', 3, 0],
    ['counts none', 0, 1],
    ['graver', 2, 2],
  ]);
  expect([run.same, run.version, run.judged, run.limits]).toEqual([1, 4, 12, []]);
});

test('a property touches the definition with a condition on it, what is made of that, and the question that asks', () => {
  const touched = touchedBy(plan, after({ op: 'set', kind: 'property', id: 'p1', field: 'unit', before: '', after: 'kg' }));
  expect(touched.map((t) => [t.kind, t.label, t.by])).toEqual([
    ['question', 'q1', ['colour']],
    ['definition', 'Red Again', ['colour']],
    ['definition', 'Red Tool Viewed', ['colour']],
  ]);
  expect(touchedBy(plan, after({ op: 'set', kind: 'property', id: 'p2', field: 'unit', before: '', after: 'kg' }))).toEqual([]);
});

test('a definition that is changed touches itself and its questions; a question that is changed itself', () => {
  const d = plan.definition['d1']!;
  const touched = touchedBy(plan, after({ op: 'set', kind: 'definition', id: 'd1', field: 'since', before: d.since, after: 5 }));
  expect(touched.map((t) => t.id)).toEqual(['q1', 'd2', 'd1']);
  const q = plan.question['q2']!;
  expect(touchedBy(plan, after({ op: 'set', kind: 'question', id: 'q2', field: 'formula', before: q.formula, after: active('Tool Viewed') })).map((t) => t.id)).toEqual(['q2']); // prettier-ignore
});

test('a limit that is used otherwise is told; a difference within the interval is within chance', () => {
  const share = (headline: number, low: number, high: number) => ({
    text: 'q',
    headline,
    interval: { low, high },
    isShare: true,
    signal: 'clear' as const,
  });
  const conversion = after({ op: 'set', kind: 'event', id: 'e1', field: 'conversion', before: false, after: true });
  const run = dryRunOf(1, 0, [plan, conversion], side([], new Map([['q1', share(0.5, 0.45, 0.55)], ['q2', share(0.5, 0.45, 0.55)]])), side([], new Map([['q1', share(0.53, 0.5, 0.56)], ['q2', share(0.7, 0.65, 0.75)]]))); // prettier-ignore
  expect(run.limits).toEqual([{ what: 'conversion events', before: 1, after: 2, limit: 30 }]);
  expect(run.questions.map((q) => [q.id, q.before, q.after, q.withinChance])).toEqual([
    ['q1', 0.5, 0.53, true],
    ['q2', 0.5, 0.7, false],
  ]);
});

test('worse is what may be relied on less; what was never judged is not', () => {
  const of = (signalBefore: Signal | undefined, signalAfter: Signal | undefined): QuestionDelta => ({
    id: `${signalBefore} ${signalAfter}`, text: '', isShare: false, before: 1, after: 1, withinChance: undefined, signalBefore, signalAfter,
  }); // prettier-ignore
  const all = (['stop', 'caution', 'clear', 'open', undefined] as const).flatMap((a) =>
    (['stop', 'caution', 'clear', 'open', undefined] as const).map((b) => of(a, b)),
  );
  expect(worse(all).map((q) => q.id)).toEqual(['caution stop', 'clear stop', 'clear caution', 'clear open']);
});

test('a sum says what differs, each kind by its number, and nothing where nothing does', () => {
  const one = planWith([question('q1', { formula: active('Tool Viewed') })]);
  const run = dryRunOf(
    1,
    0,
    [one, one],
    side(
      [group('a', 5), group('b', 3)],
      new Map([['q1', { text: 'q', headline: 1, interval: undefined, isShare: false, signal: 'clear' }]]),
    ),
    side([group('a', 6), group('c', 9), group('d', 1)], new Map([['q1', { text: 'q', headline: 2, interval: undefined, isShare: false, signal: 'stop' }]])), // prettier-ignore
  );
  expect(sumOf(run)).toBe('2 findings appear, 1 finding vanishes, 1 finding changes, 1 figure differs, 1 question may be relied on less');
  expect(sumOf(dryRunOf(1, 0, [planWith([]), planWith([])], side([group('a', 5)]), side([group('a', 5)])))).toBe('nothing changes');
});

test('a stretch is whole days of the zone, both of its days within, the day of a clock change too; what is none says why', () => {
  const hour = 3_600_000;
  const utc = stretchOfDays('2026-11-02', '2026-11-03', 'UTC');
  expect(utc).toEqual({ from: Date.parse('2026-11-02T00:00:00Z'), to: Date.parse('2026-11-04T00:00:00Z') });
  const london = stretchOfDays('2026-10-25', '2026-10-25', 'Europe/London');
  expect(typeof london === 'string' ? london : (london.to - london.from) / hour).toBe(25);
  expect(stretchOfDays('2026-02-30', '2026-11-03', 'UTC')).toBe('“2026-02-30” is not a day such as 2026-11-02.');
  expect(stretchOfDays('2026-11-02', 'today', 'UTC')).toBe('“today” is not a day such as 2026-11-02.');
  expect(stretchOfDays('2026-11-04', '2026-11-03', 'UTC')).toBe('The stretch ends on 2026-11-03, before it begins on 2026-11-04.');
});

test('sign-offs fall where the question means something else, is gone, or may be relied on less; words leave them', () => {
  const signed = (questionId: string): SignOff => ({
    id: 1, questionId, version: 1, at: 0, author: 'Ana', note: '', signal: 'clear', gates: {}, headline: 1, until: null, fellAt: null, because: null,
    meaning: meaningOfQuestion(plan, plan.question[questionId]!),
  }); // prettier-ignore
  const holding = [signed('q1'), signed('q2')];
  const delta = (id: string, signalAfter: Signal): QuestionDelta => ({ id, text: id, isShare: false, before: 1, after: 1, withinChance: undefined, signalBefore: 'clear', signalAfter }); // prettier-ignore
  const falling = (next: Plan, deltas: readonly QuestionDelta[] = []): string[] =>
    fallingSignOffs(holding, [plan, next], deltas).map((s) => `${s.questionId} ${s.because}`);
  expect(falling(after({ op: 'set', kind: 'event', id: 'e1', field: 'scope', before: '', after: '/tools' }))).toEqual(['q1 it means something else']); // prettier-ignore
  expect(falling(after({ op: 'set', kind: 'event', id: 'e1', field: 'description', before: '', after: 'Seen.' }))).toEqual([]);
  expect(falling(plan, [delta('q2', 'caution'), delta('q1', 'clear')])).toEqual(['q2 its signal falls']);
  const { q2: _gone, ...left } = plan.question;
  expect(falling({ ...plan, question: left })).toEqual(['q2 the question is gone']);
});

test('a rule of alerts is touched where it names a question that means something else, or what is gone', () => {
  const rule = (name: string, more: Partial<KeptRule>): KeptRule => ({ ...FIRST_RULE, id: 1, rev: 1, author: 'Ana', at: 0, name, ...more });
  const rules = [
    rule('all', {}),
    rule('question', { questions: ['q1'] }),
    rule('event', { events: ['Tool Viewed'] }),
    rule('off', { events: ['Tool Viewed'], active: false }),
    rule('other', { questions: ['q2'], events: ['Loan Started'] }),
  ];
  const renamed = applyEdits(plan, [{ op: 'set', kind: 'event', id: 'e1', field: 'name', before: 'Tool Viewed', after: 'Tool Seen' }]);
  if (!renamed.ok) throw new Error('refused');
  const touched = [{ kind: 'question' as const, id: 'q1', label: 'q1', by: ['Tool Viewed'] }];
  expect(touchedRules(rules, [plan, renamed.plan], touched).map((r) => [r.name, r.because])).toEqual([
    ['question', expect.stringContaining('may mean something else')],
    ['event', 'nothing is called `Tool Viewed`'],
  ]);
  expect(touchedRules(rules, [plan, plan], [])).toEqual([]);
  const { q1: _gone, ...left } = plan.question;
  expect(touchedRules(rules, [plan, { ...plan, question: left }], []).map((r) => r.name)).toEqual(['question']);
});
