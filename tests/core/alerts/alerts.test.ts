/** What happened between two looks, what rules choose of it, and how it is written. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { happenedBetween, together, type Happened } from '../../../src/core/alerts/happened';
import { ALERT_KINDS, KIND_TEXT } from '../../../src/core/alerts/kinds';
import { nextDigest } from '../../../src/core/alerts/next-digest';
import { MAX_TRIES, pauseAfter } from '../../../src/core/alerts/retry';
import type { KeptRule } from '../../../src/core/alerts/kept-rule';
import { isAbout, tellsOfFall, type AlertRule } from '../../../src/core/alerts/rule';
import { standingWords } from '../../../src/core/alerts/standing';
import { linkOf, tellingOf } from '../../../src/core/alerts/telling';
import { partsOf } from '../../../src/core/place-item';
import { placeOf } from '../../../src/islands/workplace/place';
import { FIRST_RULE } from '../../../src/core/alerts/default-rule';
import { concernsOfQuestion, watchedNow, type Observed, type Watched } from '../../../src/core/alerts/watched';
import { cloudEvent, mailHtml, mailText, subjectOf, type Delivered } from '../../../src/core/alerts/written';
import type { TriagedFinding } from '../../../src/core/arrival/triage';
import type { QuestionClearance } from '../../../src/core/clearance/question-clearance';
import type { Signal } from '../../../src/core/clearance/gate';
import { create, event, planWith, question } from '../../build/plan';

const HOUR = 3_600_000;
const plan = planWith([
  create('source', 'web', { name: 'Web', owner: 'Tomasz' }),
  event('v', { name: 'Tool Viewed', owner: 'Ines', sources: [{ sourceId: 'web', required: true, build: 'built' }] }),
  question('q', { text: 'Who looks?', owner: 'Maren', formula: { type: 'active persons', events: [{ eventName: 'Tool Viewed', where: [] }], period: 'day' } }), // prettier-ignore
]);
const cleared = (signal: Signal): QuestionClearance => ({
  questionId: 'q',
  signal,
  gates: [{ gate: 'fresh', asks: '', signal, evidence: 'It is late.' }],
  figure: undefined,
});
const finding = (more: Partial<TriagedFinding> = {}): TriagedFinding => ({
  key: 'k', code: 'wrong-type', severity: 'caution', eventName: 'Tool Viewed', touches: ['Tool Viewed'], sourceId: 'web', releases: ['8.0'], count: 3, outOf: 10,
  firstAt: 1, lastAt: 2, samples: [], title: 'Wrong type', why: '', sentence: '`days` is a text.', cause: '', fix: '', fixer: 'source', expected: '', received: '', state: 'open', ...more,
}) as TriagedFinding; // prettier-ignore
const look = (more: Partial<Observed> = {}, before?: Watched, now = 0): Watched =>
  watchedNow({ plan, clearances: [cleared('clear')], findings: [], followUps: [], intake: [], ...more }, before, now);
const between = (a: Partial<Observed>, b: Partial<Observed>): [string, string][] => {
  const before = look(a);
  return happenedBetween(plan, before, look(b, before), 1).map((h) => [h.kind, h.says]);
};

test('nothing is told where nothing changed, whatever there is', () => {
  const all: Partial<Observed> = {
    clearances: [cleared('stop')],
    findings: [finding(), finding({ key: 'f', state: 'fixed' })],
    intake: [{ sourceId: 'web', accepted: 1, duplicates: 0, rejected: 7 }],
  };
  expect(between(all, all)).toEqual([]);
});

test('a signal falls and rises from what was last judged; waiting to be judged is neither', () => {
  expect(between({}, { clearances: [cleared('stop')] })).toEqual([
    ['signal fell', '“Who looks?” fell from clear to stop. fresh: It is late.'],
  ]);
  expect(between({ clearances: [cleared('stop')] }, { clearances: [cleared('caution')] })[0]![0]).toBe('signal rose');
  expect(between({}, { clearances: [cleared('open')] })).toEqual([]);
  const open = look({ clearances: [cleared('open')] }, look());
  expect(happenedBetween(plan, open, look({ clearances: [cleared('caution')] }, open), 2).map((h) => h.kind)).toEqual(['signal fell']);
  // A question that is new was never anything else.
  expect(happenedBetween(plan, { ...look(), questions: {} }, look({ clearances: [cleared('stop')] }), 1)).toEqual([]);
});

test('a waiver is told as one, with who, what and until when; what rose by it is not told as better; its end is said', () => {
  const waived = { author: 'Ana', reason: 'Known, mended on Friday.', at: 5, until: Date.UTC(2026, 2, 6), from: 'stop' as const };
  const under = {
    ...cleared('caution'),
    gates: [{ gate: 'fresh', asks: '', signal: 'caution' as const, evidence: 'It is late.', waived }],
  };
  const told = between({ clearances: [cleared('stop')] }, { clearances: [under as QuestionClearance] });
  expect(told).toEqual([
    ['gate waived', '“Who looks?”: Ana answers for the gate “fresh”, which is at stop, until 2026-03-06: Known, mended on Friday.'],
  ]);
  // While it lasts nothing is told again; a second one of the same gate is another.
  expect(between({ clearances: [under as QuestionClearance] }, { clearances: [under as QuestionClearance] })).toEqual([]);
  const again = { ...under, gates: [{ ...under.gates[0]!, waived: { ...waived, at: 9 } }] };
  expect(between({ clearances: [under as QuestionClearance] }, { clearances: [again as QuestionClearance] }).map(([k]) => k)).toEqual([
    'gate waived',
  ]);
  expect(between({ clearances: [under as QuestionClearance] }, { clearances: [cleared('stop')] })).toEqual([
    ['signal fell', '“Who looks?” fell from caution to stop. fresh: It is late. Nobody answers for “fresh” any longer.'],
  ]);
  // A gate that was not judged is waived as that; what rises for another reason is told as rising.
  const open = { ...under, gates: [{ ...under.gates[0]!, waived: { ...waived, from: 'open' as const } }] };
  expect(between({ clearances: [cleared('open')] }, { clearances: [open as QuestionClearance] })[0]![1]).toContain('which is not judged');
  expect(between({ clearances: [under as QuestionClearance] }, { clearances: [cleared('clear')] }).map(([k]) => k)).toEqual([
    'signal rose',
  ]);
});

test('an alert says what is to be known to act: finding, source, release, owner, question, event, and where', () => {
  const before = look();
  const [h] = happenedBetween(plan, before, look({ findings: [finding({ releases: ['8.0', ''] })] }, before), 1);
  expect(h!.about).toEqual({
    finding: { title: 'Wrong type', key: 'k' }, questions: ['Who looks?'], events: ['Tool Viewed'], sources: ['Web'], releases: ['8.0', ''],
    owners: expect.arrayContaining(['Ines', 'Tomasz']) as string[],
  }); // prettier-ignore
  const { sent } = tellingOf([{ ...FIRST_RULE, id: 1, rev: 1, by: 'webhook', author: '', at: 0 } as unknown as KeptRule], [h!], 5);
  const d: Delivered = { id: 'd', workspace: 'W', rule: 'R', told: sent[0]!.told, at: 5 };
  const [alert] = (cloudEvent(d, 'https://post.example') as { data: { alerts: Record<string, unknown>[] } }).data.alerts;
  expect(alert).toMatchObject({ sources: ['Web'], releases: ['8.0', ''], questions: ['Who looks?'], events: ['Tool Viewed'], finding: { key: 'k', title: 'Wrong type' } }); // prettier-ignore
  expect(alert!['link']).toMatch(/^https:\/\/post\.example\/arrivals/);
  for (const line of ['Source: Web', 'Releases: 8.0, none given', 'Question: Who looks?', 'Event: Tool Viewed']) {
    expect(mailText(d, 'https://post.example')).toContain(line);
    expect(mailHtml(d, 'https://post.example')).toContain(line);
  }
  // A signal says its question and owner, and no release.
  const [fell] = happenedBetween(plan, before, look({ clearances: [cleared('stop')] }, before), 2);
  expect(fell!.about).toMatchObject({ finding: null, questions: ['Who looks?'], owners: ['Maren'], releases: [] });
});

test('what is told together says whose and where it is, too', () => {
  const many = Array.from({ length: 30 }, (_, i) => finding({ key: `k${i}`, releases: [`8.${i % 3}`] }));
  const before = look();
  const [h, ...more] = together(happenedBetween(plan, before, look({ findings: many }, before), 1));
  expect(more).toEqual([]);
  expect(h!.about).toMatchObject({
    finding: null,
    sources: ['Web'],
    questions: ['Who looks?'],
    events: ['Tool Viewed'],
    releases: ['8.0', '8.1', '8.2'],
  });
  expect(h!.about!.owners).toContain('Tomasz');
});

test('an inbox says when nobody looks, and when nobody sends; not before it is late, nor where nobody has begun', () => {
  const said = (lookedAt: number | null, overdue = 0) => standingWords({ lookedAt, overdue }, 100 * HOUR);
  expect(said(100 * HOUR - 20 * 60_000)).toEqual([]);
  expect(said(null)).toEqual([]);
  expect(said(100 * HOUR - 21 * 60_000)[0]).toContain('Nobody has looked for what happened for 21 minutes');
  expect(said(95 * HOUR)[0]).toContain('for 5 hours');
  expect(said(100 * HOUR, 1)).toEqual([
    expect.stringMatching(/^One delivery has been due for more than 20 minutes, and nobody sends it\./),
  ]);
  expect(said(100 * HOUR, 1200)[0]).toContain('1,200 deliveries have been due');
});

test('a finding opens, opens again after it was fixed, gone or acknowledged, spreads, gets worse; a note is nobody’s business', () => {
  const kinds = (a: TriagedFinding[], b: TriagedFinding[]): string[] => between({ findings: a }, { findings: b }).map(([k]) => k);
  expect(kinds([], [finding()])).toEqual(['finding opened']);
  expect(kinds([], [finding({ code: 'silence' })])).toEqual(['silence']);
  expect(kinds([], [finding({ code: 'volume-change' })])).toEqual(['volume']);
  expect(kinds([], [finding({ severity: 'note' })])).toEqual([]);
  expect(kinds([], [finding({ state: 'acknowledged' })])).toEqual([]);
  for (const state of ['fixed', 'acknowledged'] as const) expect(kinds([finding({ state })], [finding()])).toEqual(['finding reopened']);
  expect(kinds([finding()], [finding({ releases: ['8.0', '8.1'] })])).toEqual(['finding spread']);
  expect(kinds([finding()], [finding({ severity: 'stop' })])).toEqual(['finding got worse']);
  expect(kinds([finding({ severity: 'stop' })], [finding()])).toEqual([]);
  // Gone in between, it is remembered.
  const first = look({ findings: [finding()] });
  const gone = look({}, first);
  expect(gone.findings['k']!.state).toBe('gone');
  expect(happenedBetween(plan, gone, look({ findings: [finding()] }, gone), 3).map((h) => h.kind)).toEqual(['finding reopened']);
});

test('a sign-off that fell is told with its question and why, also where no look saw that it was given; not of a question that is gone', () => {
  const fell = (questionId: string) => happenedBetween(plan, look(), look({}, look()), 1, [{ id: 5, questionId, author: 'Ana', because: 'Its end date has come.' }]); // prettier-ignore
  expect(fell('q').map((h) => [h.kind, h.says, h.severity])).toEqual([
    ['sign-off fell', 'The sign-off of “Who looks?” by Ana no longer holds. Its end date has come.', 'stop'],
  ]);
  expect(fell('q')[0]!.owners).toEqual(['Maren']);
  expect(fell('gone')).toEqual([]);
});

test('rejected messages are told at once, and what goes on once an hour, with all that came since', () => {
  const rejected = (n: number): Partial<Observed> => ({ intake: [{ sourceId: 'web', accepted: 0, duplicates: 0, rejected: n }] });
  let before = look(rejected(4));
  const told: string[] = [];
  for (const [minute, n] of [
    [0, 4],
    [10, 5],
    [20, 9],
    [69, 12],
    [71, 12],
    [140, 12],
  ] as const) {
    const now = look(rejected(n), before, 5 * HOUR + minute * 60_000);
    told.push(...happenedBetween(plan, before, now, minute).map((h) => `${minute}: ${h.says}`));
    before = now;
  }
  expect(told).toEqual(['10: 1 message was rejected, from Web.', '71: 7 messages were rejected, from Web.']);
});

test('limits and follow-ups are told once, when they come', () => {
  const tight = planWith([event('v', { name: 'Tool Viewed' })], { limits: { events: 1, userProperties: 25, conversions: 30 } });
  const at = (before?: Watched): Watched => watchedNow({ plan: tight, clearances: [], findings: [], followUps: [], intake: [] }, before, 0);
  const roomy = { ...at(), limits: {} };
  expect(happenedBetween(tight, roomy, at(roomy), 1).map((h) => [h.kind, h.says])).toEqual([['limit', '1 of 1 event names are used.']]);
  expect(happenedBetween(tight, at(), at(at()), 2)).toEqual([]);
  const due = { key: 'w', why: 'not seen yet' as const, state: 'due' as const, eventName: 'Tool Viewed', sourceId: 'web', text: 'Tool Viewed from Web', from: 0, due: 5, finding: undefined }; // prettier-ignore
  expect(between({}, { followUps: [due] })).toEqual([['follow-up due', 'A follow-up is due: Tool Viewed from Web']]);
  expect(between({ followUps: [due] }, { followUps: [due] })).toEqual([]);
  expect(between({}, { followUps: [{ ...due, state: 'waiting' }] })).toEqual([]);
});

test('the same cause has the same key at a look, two looks have two; a storm of one kind is one', () => {
  const many = Array.from({ length: 10_000 }, (_, i) => finding({ key: `k${i}`, sentence: `Finding ${i}.` }));
  const before = look();
  const now = look({ findings: many }, before);
  const happened = happenedBetween(plan, before, now, 1);
  expect(happened).toHaveLength(10_000);
  expect(new Set(happened.map((h) => h.cause)).size).toBe(10_000);
  expect(happenedBetween(plan, before, now, 2)[0]!.cause).not.toBe(happened[0]!.cause);
  const one = together(happened);
  expect(one.map((h) => [h.kind, h.says.slice(0, 36)])).toEqual([['finding opened', '10,000 at once (finding opened), amo'.slice(0, 36)]]);
  expect(one[0]!.owners).toContain('Tomasz');
  expect(together(happened.slice(0, 20))).toEqual(happened.slice(0, 20));
});

test('what is kept between two looks survives JSON', () => {
  const w = look({ findings: [finding()], intake: [{ sourceId: '', accepted: 0, duplicates: 0, rejected: 2 }] });
  expect(JSON.parse(JSON.stringify(w))).toEqual(w);
});

const rule = (more: Partial<AlertRule> = {}): AlertRule => ({ ...FIRST_RULE, kinds: [...ALERT_KINDS], severity: 'note', ...more });
const opened = (): Happened => happenedBetween(plan, look(), look({ findings: [finding()] }, look()), 1)[0]!;

test('a rule is about what it names: kind, severity, question, event, source, owner', () => {
  const h = opened();
  expect(h).toMatchObject({ questions: ['q'], events: ['Tool Viewed'], sources: ['web'] });
  expect([...h.owners].sort()).toEqual(['Ines', 'Tomasz']);
  const about = (more: Partial<AlertRule>): boolean => isAbout(rule(more), h);
  expect(about({})).toBe(true);
  for (const yes of [
    { questions: ['x', 'q'] },
    { events: ['Tool Viewed'] },
    { sources: ['web'] },
    { owners: ['Tomasz'] },
    { severity: 'caution' as const },
  ])
    expect([yes, about(yes)]).toEqual([yes, true]);
  for (const no of [
    { questions: ['x'] },
    { events: ['x'] },
    { sources: ['app'] },
    { owners: ['x'] },
    { severity: 'stop' as const },
    { active: false },
    { kinds: ['signal fell' as const] },
  ])
    expect([no, about(no)]).toEqual([no, false]);
  // What got better is told by whoever asks for it.
  const rose = happenedBetween(plan, look({ clearances: [cleared('stop')] }), look(), 1)[0]!;
  expect(isAbout(rule({ severity: 'stop' }), rose)).toBe(true);
  expect(Object.keys(KIND_TEXT)).toEqual([...ALERT_KINDS]);
});

test('pauses grow, never fall under what the receiver asks for, and end', () => {
  const pauses = Array.from({ length: MAX_TRIES }, (_, i) => pauseAfter(i + 1));
  expect(pauses.at(-1)).toBeUndefined();
  const given = pauses.slice(0, -1) as number[];
  expect(given.every((p, i) => i === 0 || p >= given[i - 1]!)).toBe(true);
  expect(given[0]).toBe(5000);
  expect(given.reduce((a, b) => a + b, 0)).toBeGreaterThan(48 * HOUR);
  expect(pauseAfter(1, 60_000)).toBe(60_000);
  expect(pauseAfter(1, 1e15)).toBe(86_400_000);
  expect(pauseAfter(MAX_TRIES, 60_000)).toBeUndefined();
});

test('a digest goes out at eight hours of the workspace’s day, always later than now, within 34 hours', () => {
  expect(new Date(nextDigest(Date.parse('2026-11-29T03:00:00Z'), 'Europe/London')).toISOString()).toBe('2026-11-29T08:00:00.000Z');
  expect(new Date(nextDigest(Date.parse('2026-11-29T08:00:00Z'), 'Europe/London')).toISOString()).toBe('2026-11-30T08:00:00.000Z');
  expect(new Date(nextDigest(Date.parse('2026-11-29T03:00:00Z'), 'Asia/Tokyo')).toISOString()).toBe('2026-11-29T23:00:00.000Z');
  const zones = Intl.supportedValuesOf('timeZone');
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 2 ** 41 }), fc.constantFrom(...zones), (now, zone) => {
      const at = nextDigest(now, zone);
      expect(at).toBeGreaterThan(now);
      expect(at - now).toBeLessThanOrEqual(34 * HOUR);
    }),
  );
});

const delivered = (says: readonly string[]): Delivered => ({
  id: 'd-1',
  workspace: 'Oddment <b>',
  rule: 'What stops',
  told: says.map((s, i) => ({ kind: 'finding opened', severity: 'stop', says: s, link: `/clearance/q${i}`, at: 5000 })),
  at: 6000,
});

test('as a CloudEvent: what the specification asks for, and how many, of which fifty are listed', () => {
  const e = cloudEvent(delivered(Array.from({ length: 60 }, (_, i) => `Finding \`f${i}\`.`)), 'https://post.example') as {
    [k: string]: unknown;
    data: { count: number; alerts: { text: string; link: string }[] };
  };
  // Source: CloudEvents 1.0.2, "Required Attributes".
  expect([e['specversion'], e['id'], e['source'], e['type']]).toEqual(['1.0', 'd-1', 'https://post.example/', 'signal-post.alerts']);
  expect(e['time']).toBe('1970-01-01T00:00:06.000Z');
  expect([e.data.count, e.data.alerts.length]).toEqual([60, 50]);
  expect(e.data.alerts[0]).toMatchObject({ text: 'Finding f0.', link: 'https://post.example/clearance/q0' });
});

test('as mail: whatever it says, its subject is one line, and its HTML has no tag that is not ours', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ unit: 'binary' }), { minLength: 1, maxLength: 4 }), (says) => {
      const d = delivered(says);
      expect(subjectOf(d)).not.toMatch(/[\r\n]/);
      const tags = new Set([...mailHtml(d, 'https://post.example').matchAll(/<\/?([a-z]+)/gi)].map((m) => m[1]));
      for (const tag of tags) expect(['div', 'p', 'b', 'br', 'a', 'code']).toContain(tag);
      expect(mailText(d, 'https://post.example')).toContain('https://post.example/clearance/q0');
    }),
  );
  expect(subjectOf(delivered(['a', 'b']))).toBe('Oddment <b>: a (and 1 more)');
});

test('whatever any rule is about is told; each rule sends its own, the inbox nothing; a link leads where the screen is', () => {
  const kept = (id: number, more: Partial<AlertRule>): KeptRule => ({ ...rule(more), id, rev: 1, author: 'Ana', at: 0 });
  const h = opened();
  const rules = [kept(1, {}), kept(2, { by: 'webhook', to: 'https://a.example' }), kept(3, { by: 'mail', to: 'a@b.c', events: ['x'] })];
  const { told, sent } = tellingOf(rules, [h], 7);
  expect(told).toEqual([h]);
  expect(sent.map((s) => [s.rule.id, s.told.map((t) => [t.says, t.at])])).toEqual([[2, [[h.says, 7]]]]);
  expect(tellingOf([kept(3, { events: ['x'] })], [h], 7)).toEqual({ told: [], sent: [] });
  fc.assert(
    fc.property(fc.string({ minLength: 1 }), (key) => {
      const at = (link: string) => placeOf(new URL(link, 'http://post.example'));
      expect([at(linkOf({ at: { finding: key } })).station, partsOf(at(linkOf({ at: { finding: key } })).item)]).toEqual([
        'arrivals',
        ['finding', key],
      ]);
      expect(at(linkOf({ at: { question: key } }))).toMatchObject({ station: 'clearance', item: key });
    }),
  );
  expect(linkOf({ at: null })).toBe('/clearance/alerts');
});

test('whether a rule tells when a question falls: by all that the rule names, its sources too', () => {
  const concerns = concernsOfQuestion(plan, 'q', plan.question['q']!);
  expect(concerns).toEqual({ questions: ['q'], events: ['Tool Viewed'], sources: ['web'], owners: ['Maren'] });
  const tells = (more: Partial<AlertRule>): boolean => tellsOfFall(rule(more), concerns);
  for (const yes of [{}, { sources: ['web'] }, { kinds: ['sign-off fell' as const] }, { severity: 'stop' as const }])
    expect([yes, tells(yes)]).toEqual([yes, true]);
  for (const no of [{ sources: ['app'] }, { owners: ['Ines'] }, { kinds: ['silence' as const] }, { active: false }])
    expect([no, tells(no)]).toEqual([no, false]);
});

test('rejected messages concern their source and its owner; of nobody known, nobody', () => {
  const of = (sourceId: string) => {
    const rejected = (n: number): Partial<Observed> => ({ intake: [{ sourceId, accepted: 0, duplicates: 0, rejected: n }] });
    const before = look(rejected(1));
    const now = look(rejected(4), before, 5 * HOUR);
    return happenedBetween(plan, before, now, 1).map((h) => [h.kind, h.sources, h.owners, h.severity, h.events, h.questions, h.at, h.says]);
  };
  expect(of('web')).toEqual([['rejected messages', ['web'], ['Tomasz'], 'caution', [], [], null, '3 messages were rejected, from Web.']]);
  expect(of('')).toEqual([['rejected messages', [''], [], 'caution', [], [], null, '3 messages were rejected, from somebody without a valid key.']]); // prettier-ignore
});

test('the rule that a workspace begins with tells whatever gets worse, from caution on, of everything, at once in the inbox', () => {
  expect(FIRST_RULE.kinds).toEqual(ALERT_KINDS.filter((k) => k !== 'signal rose'));
  expect([FIRST_RULE.active, FIRST_RULE.severity, FIRST_RULE.by, FIRST_RULE.pace]).toEqual([true, 'caution', 'inbox', 'at once']);
  expect([FIRST_RULE.questions, FIRST_RULE.events, FIRST_RULE.sources, FIRST_RULE.owners]).toEqual([[], [], [], []]);
});
