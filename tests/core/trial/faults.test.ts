/** Trials with faults in them, one by one and every pair: each is named, and nothing else is blamed. */
import { describe, expect, it, test } from 'vitest';
import { judgeTrial } from '../../../src/core/trial/verdict';
import type { TrialVerdict } from '../../../src/core/trial/verdict-shape';
import type { TrialMessage, TrialRun } from '../../../src/core/trial/run';
import { trialMarkdown, trialReport } from '../../../src/core/report/trial-report';
import { create, deepFreeze, event, planWith, property } from '../../build/plan';
import { expects, mark, message, NOW, step } from './made';

const on = (...ids: string[]) => ids.map((sourceId) => ({ sourceId, required: true, build: 'built' as const }));
/** Tools are lent at a counter: the page and the desk both send *Tool Lent*, for one action. */
const plan = planWith([
  property('tool', { personalData: 'none' }),
  property('borrower', { personalData: 'personal' }),
  create('source', 'web', { name: 'Web', kind: 'web' }),
  create('source', 'app', { name: 'App', kind: 'mobile' }),
  create('source', 'desk', { name: 'Desk', kind: 'server' }),
  event('lent', { name: 'Tool Lent', formerNames: ['tool_lent'], sources: on('web', 'app', 'desk') }),
  event('seen', { name: 'Tool Viewed', sources: on('web', 'app') }),
  event('paid', { name: 'Deposit Paid', sources: on('desk') }),
  event('sent', { name: 'Letter Sent', sources: on('desk') }),
]);

const run: TrialRun = {
  script: {
    name: 'Lending',
    about: '',
    flow: '',
    owner: '',
    retired: false,
    steps: [
      step('view', { expects: [expects('Tool Viewed', { ids: ['visitor', 'member'] })] }),
      step('lend', { expects: [expects('Tool Lent', { values: [{ property: 'tool', wanted: { is: 'like', pattern: '^T-' } }] })] }),
      step('pay', { expects: [expects('Deposit Paid', { values: [{ property: 'borrower', wanted: { is: 'exactly', value: 'Ada' } }] })] }),
      step('cancel', { forbids: ['Letter Sent'] }),
    ],
  },
  marks: ['view', 'lend', 'pay', 'cancel'].map((s, i) => mark(s, i * 60)).concat(mark('end', 600)),
};

const right = (): TrialMessage[] => [
  message('Tool Viewed', 1),
  message('Tool Lent', 61, { properties: { tool: 'T-1' } }),
  message('Tool Lent', 62, { sourceId: 'desk', release: '2', properties: { tool: 'T-1' } }),
  message('Deposit Paid', 121, { sourceId: 'desk', release: '2', properties: { borrower: 'Ada' } }),
];

const judged = (messages: readonly TrialMessage[], r: TrialRun = run, now = NOW): TrialVerdict =>
  judgeTrial(
    deepFreeze(r),
    deepFreeze([...messages].sort((a, b) => a.receivedAt - b.receivedAt).map((m, i) => ({ ...m, seq: i + 1 }))),
    plan,
    now,
  );
const said = (v: TrialVerdict): string[] => v.steps.flatMap((s) => [...s.expected.flatMap((e) => e.misfits), ...s.forbidden]).map((m) => `${m.what}: ${m.sentence}`).sort(); // prettier-ignore

type Change = (all: TrialMessage[]) => TrialMessage[];
const without =
  (name: string, sourceId: string): Change =>
  (all) =>
    all.filter((m) => m.name !== name || m.sourceId !== sourceId);
const with_ =
  (name: string, more: Partial<TrialMessage>): Change =>
  (all) =>
    all.map((m) => (m.name === name ? { ...m, ...more } : m));
const and =
  (...more: TrialMessage[]): Change =>
  (all) => [...all, ...more];

/** What is done to the messages, the step, and what is to be said of it. */
const FAULTS: readonly { readonly name: string; readonly in: string; readonly change: Change; readonly says: readonly string[] }[] = [
  { name: 'the page does not send what the desk sends', in: 'lend', change: without('Tool Lent', 'web'), says: ['missing: `Tool Lent` did not come from Web or App.'] }, // prettier-ignore
  { name: 'the desk does not send what the page sends', in: 'lend', change: without('Tool Lent', 'desk'), says: ['missing: `Tool Lent` did not come from Desk.'] }, // prettier-ignore
  { name: 'the page sends twice', in: 'view', change: and(message('Tool Viewed', 2)), says: ['too many: `Tool Viewed` came twice for one action.'] }, // prettier-ignore
  { name: 'two identifiers, one missing', in: 'view', change: with_('Tool Viewed', { ids: { visitor: 'v-1' } }), says: ['identifier: `Tool Viewed` came without the identifier `member`.'] }, // prettier-ignore
  { name: 'another value', in: 'pay', change: with_('Deposit Paid', { properties: { borrower: 'Eve' } }), says: ['value: `Deposit Paid` came with `borrower` a personal value.'] }, // prettier-ignore
  { name: 'a property that nobody planned', in: 'pay', change: with_('Deposit Paid', { findings: [{ code: 'unplanned-property', severity: 'note', sentence: 'It came with `x`.' }] }), says: ['finding: It came with `x`.'] }, // prettier-ignore
  { name: 'a source of which the plan does not ask it', in: 'view', change: and(message('Tool Viewed', 3, { sourceId: 'desk' })), says: ['too many: `Tool Viewed` came twice for one action.'] }, // prettier-ignore
  { name: 'a failed action completes', in: 'cancel', change: and(message('Letter Sent', 181, { sourceId: 'desk' })), says: ['not wanted: `Letter Sent` came, and must not.'] }, // prettier-ignore
];

test('everything right: both sides of an action, each of its own source', () => {
  const v = judged(right());
  expect([v.state, said(v)]).toEqual(['passed', []]);
  expect(v.refuted).toEqual([]);
  expect(v.verified.map((x) => `${x.event} ${x.sourceId} ${x.release}`).sort()).toEqual([
    'Deposit Paid desk 2',
    'Tool Lent desk 2',
    'Tool Lent web 8.1',
    'Tool Viewed web 8.1',
  ]);
});

describe('one fault', () => {
  it.each(FAULTS.map((f) => [f.name, f] as const))('%s', (_, f) => {
    const v = judged(f.change(right()));
    expect(said(v)).toEqual([...f.says]);
    expect(v.state).toBe('failed');
    // The other steps stand as they did.
    expect(v.steps.filter((s) => s.state !== 'passed').map((s) => s.step)).toEqual([f.in]);
  });
});

describe('every pair of faults in different steps', () => {
  const pairs = FAULTS.flatMap((a, i) => FAULTS.slice(i + 1).filter((b) => b.in !== a.in).map((b) => [`${a.name}, and ${b.name}`, a, b] as const)); // prettier-ignore
  it.each(pairs)('%s', (_, a, b) => {
    const v = judged(b.change(a.change(right())));
    expect(said(v)).toEqual([...a.says, ...b.says].sort());
    expect(v.steps.filter((s) => s.state !== 'passed').map((s) => s.step).sort()).toEqual([a.in, b.in].sort()); // prettier-ignore
    // What is blamed is verified nowhere; what is not blamed stays verified.
    const blamed = new Set(v.steps.flatMap((s) => [...s.expected.flatMap((e) => e.misfits), ...s.forbidden]).map((m) => m.event));
    expect(new Set(v.verified.map((x) => x.event))).toEqual(new Set(['Tool Viewed', 'Tool Lent', 'Deposit Paid'].filter((e) => !blamed.has(e)))); // prettier-ignore
  });
});

describe('what is refuted', () => {
  const refuted = (change: Change): string[] => judged(change(right())).refuted!.map((x) => `${x.event} ${x.sourceId} ${x.release}`).sort(); // prettier-ignore
  it('is where the message came from that is not as it must be', () => {
    expect(refuted(with_('Deposit Paid', { properties: {} }))).toEqual(['Deposit Paid desk 2']);
    expect(refuted(and(message('Letter Sent', 181, { sourceId: 'desk', release: '3' })))).toEqual(['Letter Sent desk 3']);
  });
  it('is where it is missing, in the release in which its source sent other things from then on', () => {
    expect(refuted(without('Tool Lent', 'desk'))).toEqual(['Tool Lent desk 2']);
    // The page sent nothing from that step on: nobody knows whether it was there at all.
    expect(refuted(without('Tool Lent', 'web'))).toEqual([]);
    expect(refuted((all) => [...without('Tool Lent', 'web')(all), message('Crate Viewed', 63, { release: '9' })])).toEqual(['Tool Lent web 9']); // prettier-ignore
  });
  it('is that of the source whose message it was, where another one uses the same ID', () => {
    const same = (all: TrialMessage[]) =>
      all.map((m) =>
        m.name === 'Tool Lent' ? { ...m, messageId: 'both', properties: m.sourceId === 'desk' ? { tool: '7' } : m.properties } : m,
      );
    expect(refuted(same)).toEqual(['Tool Lent desk 2']);
  });
  it('is nothing where an earlier step remembered nothing', () => {
    const remembering: TrialRun = {
      ...run,
      script: { ...run.script, steps: [step('pay', { expects: [expects('Deposit Paid', { values: [{ property: 'tool', wanted: { is: 'remembered', as: 'x' } }] })] })] }, // prettier-ignore
    };
    const v = judged(right(), { ...remembering, marks: [mark('pay', 0), mark('end', 600)] });
    expect([v.verified, v.refuted]).toEqual([[], []]);
  });
});

describe('sides', () => {
  const stepOf = (v: TrialVerdict, id: string) => v.steps.find((s) => s.step === id)!;
  it('either client will do, and both are too many', () => {
    expect(judged(with_('Tool Viewed', { sourceId: 'app' })(right())).state).toBe('passed');
    const twice = judged(and(message('Tool Lent', 63, { sourceId: 'app', properties: { tool: 'T-1' } }))(right()));
    expect(said(twice)).toEqual(['too many: `Tool Lent` came twice from Web or App for one action.']);
  });
  it('a script that names a source is not satisfied by another, and does not blame it where the plan asks it too', () => {
    const named: TrialRun = { ...run, script: { ...run.script, steps: [step('lend', { expects: [expects('Tool Lent', { sources: ['web'] })] })] }, marks: [mark('lend', 0), mark('end', 600)] }; // prettier-ignore
    const v = judged(right(), named);
    expect([v.state, stepOf(v, 'lend').remarks]).toEqual(['passed', ['`Tool Lent` came from Desk too, which this step does not mention.']]);
    const missing = judged(without('Tool Lent', 'web')(right()), named);
    expect(said(missing)).toEqual(['missing: `Tool Lent` did not come from Web.']);
  });
  it('a script that names a source, and another that the plan does not ask: that one is the fault', () => {
    const named: TrialRun = { ...run, script: { ...run.script, steps: [step('pay', { expects: [expects('Deposit Paid', { sources: ['desk'] })] })] }, marks: [mark('pay', 0), mark('end', 600)] }; // prettier-ignore
    const v = judged(and(message('Deposit Paid', 122))(right()), named);
    expect(said(v)).toEqual(['source: `Deposit Paid` came from Web, which the plan does not ask for it.']);
    expect(v.refuted).toEqual([{ event: 'Deposit Paid', sourceId: 'web', release: '8.1' }]);
  });
  it('have no order between them, and keep that to what is before and after', () => {
    const ordered: TrialRun = { ...run, script: { ...run.script, steps: [step('all', { inOrder: true, waitMs: 500_000, expects: [expects('Tool Viewed'), expects('Tool Lent'), expects('Deposit Paid')] })] }, marks: [mark('all', 0), mark('end', 600)] }; // prettier-ignore
    const deskFirst = right().map((m) => (m.name === 'Tool Lent' && m.sourceId === 'desk' ? { ...m, receivedAt: m.receivedAt - 2000 } : m));
    expect(judged(deskFirst, ordered).state).toBe('passed');
    const late = right().map((m) => (m.name === 'Tool Lent' && m.sourceId === 'web' ? { ...m, receivedAt: m.receivedAt + 90_000 } : m));
    expect(said(judged(late, ordered))).toEqual(['order: `Deposit Paid` came before `Tool Lent`.']);
  });
});

describe('what is not known blames nobody', () => {
  it('a step that was not begun is that, not a gap', () => {
    const v = judged(right(), { ...run, marks: [...run.marks.filter((m) => m.step !== 'pay')] });
    expect([v.state, v.steps[2]!.state, v.steps[2]!.reason]).toEqual(['incomplete', 'not begun', 'It was not begun before the run ended.']);
  });
  it('a run that ends before the time of a step is over does not call late what may be on its way', () => {
    const early: TrialRun = { ...run, marks: [mark('view', 0), mark('end', 4)] };
    const v = judged([], early);
    expect([v.state, v.steps[0]!.state, said(v)]).toEqual(['incomplete', 'not judged', []]);
    expect(v.steps[0]!.reason).toContain('ended 6 s before');
    expect(judged([message('Tool Viewed', 1)], early).steps[0]!.state).toBe('passed');
  });
  it('where nothing of the tester came at all, every cause that looks like it is named', () => {
    const v = judged([]);
    expect(v.steps[0]!.state).toBe('gap');
    expect(v.steps[0]!.reason).toMatch(/Nothing was sent, something held it back .* or the tester is told by/);
    expect(v.refuted).toEqual([]);
    // With others of theirs, it is the step.
    expect(judged(right().slice(1)).steps[0]!.reason).toMatch(/^Nothing came of it, while other messages/);
  });
  it('what the action caused before anything was built is not verified by its coming, nor refuted', () => {
    const v = judged([message('Tool Viewed', -50), ...right()], { ...run, marks: [mark('baseline', -60), ...run.marks] });
    expect(v.verified.map((x) => x.event)).not.toContain('Tool Viewed');
    expect(v.verified.map((x) => x.event)).toContain('Deposit Paid');
    expect(v.refuted).toEqual([]);
  });
});

test('evidence names the values that the script speaks of, but for personal ones', () => {
  const v = judged(right());
  const text = trialMarkdown(run.script, v, []);
  expect(text).toContain('with `tool` "T-1"');
  expect(text).toContain('with `visitor` v-1, `member` m-1');
  expect(text).toContain('with `borrower` a personal value');
  expect(text).not.toContain('Ada');
  const wrong = judged(with_('Deposit Paid', { properties: { borrower: 'Eve' } })(right()));
  expect(trialMarkdown(run.script, wrong, []) + JSON.stringify(trialReport(run.script, wrong))).not.toContain('Eve');
});
