/** Settled, conforming by person, identified, complete and fresh: every signal, “not judged yet”, and the numbers worked out by hand. */
import { expect, test } from 'vitest';
import type { FindingGroup } from '../../../src/core/arrival/finding-group';
import { clearanceOf } from '../../../src/core/clearance/clearance';
import { clearanceContext } from '../../../src/core/clearance/context';
import type { Gate } from '../../../src/core/clearance/gate';
import { GATE_OF } from '../../../src/core/clearance/lowering';
import { relativeHalf, trialsForWidth } from '../../../src/core/clearance/precision';
import { countsPeople, daysOf } from '../../../src/core/clearance/reach';
import { byShare, worstSignal } from '../../../src/core/clearance/weight';
import { personRulesOf } from '../../../src/core/identity/person-rules';
import { resolvePersons } from '../../../src/core/identity/persons';
import { blank } from '../../../src/core/plan/defaults';
import { applyEdits, setField } from '../../../src/core/plan/edit';
import type { Plan, Question } from '../../../src/core/plan/plan';
import { Watch } from '../../../src/core/plan/watch';
import type { Formula } from '../../../src/core/questions/formula';
import { wilson, wilsonHalf } from '../../../src/core/stats/wilson';
import { MessageTable, type TableMessage } from '../../../src/core/table/message-table';
import { seeded } from '../../../src/demo/random';
import { create, event, planWith, property } from '../../build/plan';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
const NOW = Date.parse('2026-11-23T12:00:00Z');
const required = (sourceId: string) => ({ sourceId, required: true, build: 'built' as const });
const plan = planWith(
  [
    create('source', 'web', { name: 'Web', kind: 'web', mark: 'W', owner: 'Tomasz', expectedLagMs: 60_000 }),
    create('source', 'desk', { name: 'Desk', kind: 'server', mark: 'D', owner: 'Ines', expectedLagMs: 60_000 }),
    create('identifierKind', 'anonymous', { name: 'anonymous', identifies: 'device' }),
    create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
    property('days', { type: 'integer' }),
    event('v', { name: 'Tool Viewed', sources: [required('web')] }),
    event('l', { name: 'Loan Started', sources: [required('desk')], properties: [{ propertyId: 'days', required: true }] }),
  ],
  { timeZone: 'UTC' },
);
const conversion: Formula = {
  type: 'conversion',
  steps: [
    { eventName: 'Tool Viewed', where: [] },
    { eventName: 'Loan Started', where: [] },
  ],
  windowMs: 7 * DAY,
  overDays: 28,
};
const asking = (formula: Formula, more: Partial<Question> = {}): Question => blank('question', { text: 'q', formula, ...more });

interface Sent extends Partial<TableMessage> {
  readonly name: string;
  readonly occurredAt: number;
  readonly ids: Record<string, string>;
}
const tableWith = (sent: readonly Sent[]): MessageTable => {
  const table = new MessageTable();
  [...sent]
    .sort((a, b) => (a.receivedAt ?? a.occurredAt) - (b.receivedAt ?? b.occurredAt))
    .forEach((m, i) => table.append({ seq: i + 1, kind: 'event', sourceId: 'web', release: '1', properties: {}, receivedAt: m.occurredAt + 1000, ...m })); // prettier-ignore
  return table;
};
/** So many people who view, up to a minute ago; a share of them borrow soon after. Both are signed in. */
const lending = (people: number, share: number, days = 20): Sent[] =>
  Array.from({ length: people }, (_, i): Sent[] => {
    const at = NOW - 60_000 - Math.floor((i / people) * days * DAY);
    const ids = { user: `u${i}` };
    return [
      { name: 'Tool Viewed', occurredAt: at, ids },
      ...(i < people * share ? [{ name: 'Loan Started', sourceId: 'desk', occurredAt: at + 30_000, ids, properties: { days: 2 } }] : []),
    ];
  }).flat();

interface Case {
  readonly sent: readonly Sent[];
  readonly question?: Question;
  readonly watch?: Watch;
  readonly groups?: readonly FindingGroup[];
  readonly now?: number;
  readonly of?: Plan;
  readonly judged?: (table: MessageTable) => void;
}
const gatesOf = ({ sent, question = asking(conversion), watch, groups = [], now = NOW, of = plan, judged }: Case): Record<string, Gate> => {
  const table = tableWith(sent);
  judged?.(table);
  const persons = resolvePersons(table, personRulesOf(of));
  const published = { plan: of, number: 1, publishedAt: now - 60 * DAY, watch: watch ?? Watch.of(of, now - 60 * DAY) };
  const { gates } = clearanceOf(question, clearanceContext({ published, persons, groups, now }));
  return Object.fromEntries(gates.map((g) => [g.gate, g]));
};
const finding = (code: string, more: Partial<FindingGroup> = {}): FindingGroup => ({
  key: JSON.stringify([code, more.eventName ?? 'Tool Viewed', '', 'web']), code, severity: 'stop', eventName: 'Tool Viewed', touches: ['Tool Viewed'], sourceId: 'web', releases: ['1'],
  count: 600, outOf: 600, firstAt: NOW - 3 * DAY, lastAt: NOW - HOUR, samples: [], title: code, why: '', sentence: `${code} is found.`, cause: '', fix: `Mend ${code}.`, fixer: 'source', expected: '', received: '', ...more,
}); // prettier-ignore

/** So many letters are a line of the list of gates. */
const BRIEF = 64;

test('with nothing wrong all seven are clear', () => {
  const gates = gatesOf({ sent: lending(3000, 0.5) });
  for (const g of Object.values(gates)) expect([g.gate, (g.brief ?? g.evidence).length <= BRIEF]).toEqual([g.gate, true]);
  expect(Object.values(gates).map((g) => [g.gate, g.signal])).toEqual(
    ['planned', 'built', 'settled', 'conforming', 'identified', 'complete', 'fresh'].map((g) => [g, 'clear']),
  );
});

test('without messages, without a version, and before anybody looked, a gate is not judged, and says why', () => {
  const none = gatesOf({ sent: [] });
  for (const g of ['settled', 'conforming', 'identified', 'complete', 'fresh'] as const) expect([g, none[g]!.signal, none[g]!.evidence === '']).toEqual([g, 'open', false]); // prettier-ignore
  const table = tableWith(lending(50, 0.5));
  const bare = clearanceOf(asking(conversion), { published: undefined, table, reconciled: [], now: NOW });
  for (const g of bare.gates) expect([g.gate, g.signal]).toEqual([g.gate, 'open']);
  const unlooked = clearanceOf(asking(conversion), {
    published: { plan, number: 1, publishedAt: 0, watch: Watch.of(plan, 0) },
    table,
    reconciled: [],
    now: NOW,
  });
  expect(unlooked.gates.filter((g) => g.signal === 'open').map((g) => g.gate)).toEqual([
    'settled',
    'conforming',
    'identified',
    'complete',
    'fresh',
  ]);
});

test('settled: a change of what the figure hangs on begins the window anew; of what it does not, not; words are no change', () => {
  const at = NOW - 10 * HOUR;
  const changed = (edits: Parameters<typeof applyEdits>[1]): Watch => {
    const r = applyEdits(plan, edits);
    if (!r.ok) throw new Error('edits');
    return Watch.of(plan, NOW - 60 * DAY).followedBy(r.plan, at);
  };
  const sent = lending(3000, 0.5);
  const narrowed = changed([setField(plan, 'event', 'v', 'scope', '/tools')!]);
  expect(gatesOf({ sent, watch: narrowed })['settled']).toMatchObject({
    signal: 'open',
    evidence: '`Tool Viewed` was changed 10 hours ago; it settles within 2 days, in 38 hours.',
    judgedAt: at + 48 * HOUR,
  });
  expect(gatesOf({ sent, watch: narrowed, now: NOW + 38 * HOUR })['settled']!.signal).toBe('clear');
  for (const edit of [
    setField(plan, 'event', 'v', 'description', 'A tool was looked at.')!,
    setField(plan, 'event', 'v', 'owner', 'Ana')!,
    // The conversion uses no property.
    setField(plan, 'property', 'days', 'unit', 'd')!,
  ])
    expect(gatesOf({ sent, watch: changed([edit]) })['settled']!.signal).toBe('clear');
  const identity = { ...plan.settings['settings']!.identity, linking: false };
  expect(gatesOf({ sent, watch: changed([setField(plan, 'settings', 'settings', 'identity', identity)!]) })['settled']!.evidence).toContain('The identity rules were changed'); // prettier-ignore
  const total: Formula = { type: 'total of a property', event: { eventName: 'Loan Started', where: [] }, property: 'days', period: 'week' };
  const unit = changed([setField(plan, 'property', 'days', 'unit', 'd')!]);
  expect(gatesOf({ sent, question: asking(total), watch: unit })['settled']!.evidence).toContain('`days` was changed');
});

test('settled: a new release counts once it sends more than one in twenty; the first release of a source is none', () => {
  const sent = lending(3000, 0.5);
  const newer = (n: number): Sent[] =>
    Array.from({ length: n }, (_, i) => ({ name: 'Tool Viewed', occurredAt: NOW - 5 * HOUR + i, ids: { user: `u${i}` }, release: '2' }));
  // About 750 of them in the last week.
  expect(gatesOf({ sent: [...sent, ...newer(20)] })['settled']!.signal).toBe('clear');
  expect(gatesOf({ sent: [...sent, ...newer(200)] })['settled']).toMatchObject({
    signal: 'open',
    evidence: expect.stringContaining('Release 2 of Web began to send `Tool Viewed`') as string,
  });
  const whole = lending(3000, 0.5, 1).filter((m) => m.name === 'Tool Viewed');
  expect(gatesOf({ sent: whole.map((m) => ({ ...m, occurredAt: m.occurredAt + DAY })), watch: Watch.of(plan, 0) })['settled']!.evidence).not.toContain('Release'); // prettier-ignore
});

test('settled: too wide an interval is a caution that says how many more it takes, and the question’s own wish is kept', () => {
  const gate = gatesOf({ sent: lending(400, 0.5) })['settled']!;
  // Wilson of 200 of 400 is 45.1 % to 54.9 %; half of it 4.9 points. For ± 2 points some 2,400 are needed.
  expect(gate).toMatchObject({
    signal: 'caution',
    evidence: expect.stringContaining('± 4.9 points only, where ± 2 points is asked') as string,
  });
  expect(gate.evidence).toMatch(/1,99\d more people would do: \d+ days at the present rate/);
  expect(gatesOf({ sent: lending(400, 0.5), question: asking(conversion, { precision: 0.06 }) })['settled']!.signal).toBe('clear');
});

test('how many trials make an interval narrow enough is the first number that does', () => {
  const rng = seeded(5);
  for (let i = 0; i < 200; i++) {
    const share = Math.round(rng.next() * 100) / 100;
    const half = 0.005 + rng.next() * 0.1;
    const n = trialsForWidth(share, half)!;
    // What the interval of whole hits is, up to half a hit.
    const width = (trials: number): number => {
      const x = wilson(Math.round(share * trials), trials)!;
      return (x.high - x.low) / 2;
    };
    expect(wilsonHalf(share, n)).toBeLessThanOrEqual(half);
    if (n > 1) expect(wilsonHalf(share, n - 1)).toBeGreaterThan(half);
    expect(Math.abs(width(n * 100) - wilsonHalf(share, n * 100))).toBeLessThan(half / 20);
  }
  // The table value: 50 % to ± 2 points takes 2,397 with Wilson, where the normal interval says 2,401.
  expect(trialsForWidth(0.5, 0.02)).toBeGreaterThan(2390);
  expect(trialsForWidth(0.5, 0.02)).toBeLessThanOrEqual(2401);
});

test('half the interval of a mean and of a sum covers the true one in about 95 of 100 drawings', () => {
  const rng = seeded(9);
  let [meanIn, sumIn] = [0, 0];
  const RUNS = 2000;
  for (let run = 0; run < RUNS; run++) {
    // Poisson many values, each 1 to 6, as dice give them.
    let n = 0;
    for (let t = rng.exponential(1 / 200); t < 1; t += rng.exponential(1 / 200)) n++;
    const values = Array.from({ length: n }, () => 1 + Math.floor(rng.next() * 6));
    const sum = values.reduce((a, b) => a + b, 0);
    const mean = sum / n;
    if (Math.abs(mean - 3.5) <= relativeHalf(values, true)! * mean) meanIn++;
    if (Math.abs(sum - 200 * 3.5) <= relativeHalf(values, false)! * sum) sumIn++;
  }
  for (const share of [meanIn / RUNS, sumIn / RUNS]) {
    expect(share).toBeGreaterThan(0.93);
    expect(share).toBeLessThan(0.97);
  }
  expect(relativeHalf([3], true)).toBeUndefined();
  expect(relativeHalf([0, 0, 0], true)).toBeUndefined();
});

const WRONG = [{ code: 'wrong-type', severity: 'stop', path: ['properties', 'days'], params: { property: 'days', expected: 'integer', received: 'string', numberInText: true, value: '2' } }] as const; // prettier-ignore

test('conforming: by person where people are counted, only what is used, only in the days of the figure', () => {
  const uses: Formula = { ...conversion, steps: [conversion.steps[0]!, { eventName: 'Loan Started', where: [{ property: 'days', is: 1, op: 'at least' }] }] }; // prettier-ignore
  const sent = lending(1000, 0.5);
  const spoil = (share: number) => (table: MessageTable) => {
    const rows = table.rowsOf('Loan Started');
    for (let i = 0; i < rows.length * share; i++) table.setVerdicts(rows[i]!, WRONG as never);
  };
  // A fifth of 500 loans: 100 of 1,000 people, where of 1,500 messages it would be one in fifteen.
  const used = gatesOf({ sent, question: asking(uses), judged: spoil(0.2) })['conforming']!;
  expect(used).toMatchObject({
    signal: 'stop',
    evidence: expect.stringContaining('90.0 % of 1,000 people have messages that all conform') as string,
  });
  expect(used.numbers).toContainEqual({ what: 'messages that conform', value: '1,400 of 1,500' });
  expect(gatesOf({ sent, question: asking(uses), judged: spoil(0.06) })['conforming']!.signal).toBe('caution');
  expect(gatesOf({ sent, judged: spoil(0.2) })['conforming']!.signal).toBe('clear');
  const old = sent.map((m) => ({ ...m, occurredAt: m.occurredAt - 40 * DAY }));
  expect(gatesOf({ sent: old, question: asking(uses), judged: spoil(1) })['conforming']).toMatchObject({
    signal: 'open',
    evidence: 'No message of these events is of the days that the figure looks at.',
  });
  const scoped = planWith([
    create('source', 'web', { name: 'Web', kind: 'web', mark: 'W' }),
    create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
    event('v', { name: 'Tool Viewed', scope: '/tools', sources: [required('web')] }),
  ]);
  const active: Formula = { type: 'active persons', events: [{ eventName: 'Tool Viewed', where: [] }], period: 'month' };
  const placed = lending(1000, 0).map((m, i) => ({ ...m, page: i % 10 === 0 ? '/about' : '/tools/7' }));
  expect(gatesOf({ sent: placed, question: asking(active), of: scoped })['conforming']!.evidence).toMatch(
    /on pages where they have no place/,
  );
});

test('findings lower the gate that they speak of, by how much they touch the figure, with who can raise it', () => {
  const sent = lending(3000, 0.5);
  const gate = (g: FindingGroup, name: string): Gate => gatesOf({ sent, groups: [g] })[name]!;
  expect(gate(finding('user-id-dropped'), 'identified')).toMatchObject({
    signal: 'stop',
    findings: [finding('user-id-dropped').key],
    raise: [{ who: 'Tomasz', text: 'Mend user-id-dropped.' }],
  });
  // Two in a thousand are no matter; one in twenty is one for caution.
  expect(gate(finding('user-id-dropped', { count: 10, outOf: 5000 }), 'identified')).toMatchObject({ signal: 'clear', findings: [finding('user-id-dropped').key] }); // prettier-ignore
  expect(gate(finding('user-id-dropped', { count: 250, outOf: 5000 }), 'identified').signal).toBe('caution');
  expect(gate(finding('silence', { count: 0, outOf: 0 }), 'complete').signal).toBe('stop');
  expect(gate(finding('volume-change', { severity: 'caution' }), 'complete').signal).toBe('caution');
  expect(gate(finding('double-fire', { count: 4, outOf: 5000 }), 'complete').signal).toBe('clear');
  // A sample weighs by what it leaves out, not by how many messages say so: 3,000 came of `Tool Viewed`.
  for (const [count, rate, signal] of [[3000, 0.1, 'stop'], [300, 0.1, 'stop'], [1, 0.5, 'clear'], [1, 0.001, 'stop'], [3000, 0.999, 'clear'], [3000, 0.95, 'caution']] as const) // prettier-ignore
    expect([count, rate, gate(finding('from-sample', { count, outOf: 3000, missing: count * (1 / rate - 1) }), 'complete').signal]).toEqual([count, rate, signal]); // prettier-ignore
  // What was let go on the device is missing, and nobody knows of which events.
  expect(gate(finding('lost-before', { severity: 'caution', count: 4, outOf: 5000 }), 'complete').signal).toBe('caution');
  expect(gate(finding('clock-ahead'), 'fresh').signal).toBe('stop');
  expect(gate(finding('unit-suspicion'), 'conforming').signal).toBe('stop');
});

test('a finding on another event, of another source, of days long gone, or a mere note leaves the question alone', () => {
  const sent = lending(3000, 0.5);
  const clear = (g: FindingGroup): void => {
    for (const { gate, signal } of Object.values(gatesOf({ sent, groups: [g] }))) expect([gate, signal]).toEqual([gate, 'clear']);
  };
  clear(finding('silence', { eventName: 'Guide Read', touches: ['Guide Read'] }));
  clear(finding('turned-away', { eventName: '', touches: [], sourceId: 'kiosk' }));
  clear(finding('volume-change', { firstAt: NOW - 50 * DAY, lastAt: NOW - 45 * DAY }));
  clear(finding('silence', { severity: 'note' }));
  clear(finding('personal-data'));
  // Of the whole source that sends it, it is not left alone.
  expect(gatesOf({ sent, groups: [finding('turned-away', { eventName: '', touches: [], sourceId: 'desk' })] })['complete']!.signal).toBe(
    'stop',
  );
});

test('a question that counts no people needs nobody identified', () => {
  const total: Formula = { type: 'total of a property', event: { eventName: 'Loan Started', where: [] }, property: 'days', period: 'week' };
  const gates = gatesOf({ sent: lending(3000, 0.5), question: asking(total), groups: [finding('user-id-dropped', { eventName: 'Loan Started', touches: ['Loan Started'] })] }); // prettier-ignore
  expect(gates['identified']).toMatchObject({ signal: 'clear', evidence: 'It counts messages, not people.' });
});

test('identified: this figure without linking, by hand', () => {
  // 100 people view unknown, then sign in and view again in the same browser: one each when linked, two without.
  const sent = Array.from({ length: 100 }, (_, i): Sent[] => [
    { name: 'Tool Viewed', occurredAt: NOW - 5 * DAY + i, ids: { anonymous: `a${i}` } },
    { name: 'Tool Viewed', occurredAt: NOW - 5 * DAY + HOUR + i, ids: { anonymous: `a${i}`, user: `u${i}` } },
  ]).flat();
  const active: Formula = { type: 'active persons', events: [{ eventName: 'Tool Viewed', where: [] }], period: 'week' };
  const gate = gatesOf({ sent, question: asking(active) })['identified']!;
  expect(gate.numbers).toContainEqual({ what: 'this figure without linking', value: '+100.0 %' });
  expect(gate.numbers).toContainEqual({ what: 'known by a user ID', value: '100.0 %' });
});

test('fresh: a source may pause as long as it usually does; longer is a caution, a day longer a stop; it says which days are complete', () => {
  const sent = lending(3000, 0.5);
  // The newest message is a day old; nothing before paused for more than half an hour.
  const steady = Array.from({ length: 24 * 30 }, (_, i): Sent => ({ name: 'Tool Viewed', occurredAt: NOW - i * HOUR, ids: { user: 'w' } }));
  const desk = Array.from({ length: 24 * 30 }, (_, i): Sent => ({ name: 'Loan Started', sourceId: 'desk', occurredAt: NOW - i * HOUR, ids: { user: 'w' } })); // prettier-ignore
  const at = (later: number): Gate => gatesOf({ sent: [...sent, ...steady, ...desk], now: NOW + later })['fresh']!;
  expect(at(HOUR / 2).signal).toBe('clear');
  expect(at(6 * HOUR)).toMatchObject({ signal: 'caution', evidence: expect.stringContaining('has sent nothing for 6 hours') as string });
  expect(at(30 * HOUR).signal).toBe('stop');
  expect(at(0).evidence).toContain('The days up to 22 Nov 2026 are complete');
});

test('complete: what the server confirms and the client never said is told with its bound', () => {
  const paired = planWith([
    create('source', 'web', { name: 'Web', kind: 'web', mark: 'W' }),
    create('source', 'desk', { name: 'Desk', kind: 'server', mark: 'D' }),
    create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
    property('loan', {}),
    event('r', { name: 'Loan Requested', sources: [required('web')], properties: [{ propertyId: 'loan', required: true }], counterpart: { eventName: 'Loan Started', keyProperty: 'loan', windowMs: HOUR } }), // prettier-ignore
    event('l', { name: 'Loan Started', sources: [required('desk')], properties: [{ propertyId: 'loan', required: true }] }),
  ]);
  const sent = Array.from({ length: 1000 }, (_, i): Sent[] => {
    const at = NOW - 3 * DAY + i * 1000;
    const m = { ids: { user: `u${i}` }, properties: { loan: `l${i}` } };
    return [
      { name: 'Loan Started', sourceId: 'desk', occurredAt: at + 1000, ...m },
      ...(i % 50 === 0 ? [] : [{ name: 'Loan Requested', occurredAt: at, ...m }]),
    ];
  }).flat();
  const active: Formula = { type: 'active persons', events: [{ eventName: 'Loan Requested', where: [] }], period: 'month' };
  const gate = gatesOf({ sent, question: asking(active), of: paired })['complete']!;
  const { high } = wilson(20, 1000)!;
  expect(gate.numbers).toEqual([
    { what: 'confirmed and seen: Loan Requested', value: `98.0 %, at least ${(Math.floor((1 - high) * 1000) / 10).toFixed(1)} %` },
    { what: 'still on their way, by the usual lag', value: 'about 0, with 980 there' },
  ]);
});

test('the days of a figure, and whether it counts people, for every kind of formula', () => {
  const step = { eventName: 'Tool Viewed', where: [] };
  const monday = Date.parse('2026-11-16T00:00:00Z');
  expect(daysOf(plan, conversion, NOW)).toEqual({ from: NOW - 28 * DAY, to: NOW });
  expect(daysOf(plan, { type: 'active persons', events: [step], period: 'week' }, NOW)).toEqual({ from: monday, to: NOW });
  expect(daysOf(plan, { type: 'active persons', events: [step], period: 'month' }, NOW).from).toBe(Date.parse('2026-10-01T00:00:00Z'));
  expect(daysOf(plan, { type: 'active persons', events: [step], period: 'day', rollingDays: 28 }, NOW).from).toBe(Date.parse('2026-10-25T00:00:00Z')); // prettier-ignore
  const values = { event: step, property: 'days', overDays: 28 } as const;
  expect(countsPeople({ type: 'top values', measure: 'persons', ...values })).toBe(true);
  expect(countsPeople({ type: 'top values', measure: 'messages', ...values })).toBe(false);
  expect(countsPeople({ type: 'rate of a value', event: step, condition: { property: 'days', is: 1 }, of: 'messages', overDays: 28 })).toBe(
    false,
  );
});

test('weights: the worst wins, open before clear; the bound is judged, not the share', () => {
  expect(worstSignal([])).toBe('clear');
  expect(worstSignal(['clear', 'open'])).toBe('open');
  expect(worstSignal(['open', 'caution', 'clear'])).toBe('caution');
  const thresholds = { clear: 0.98, caution: 0.9 };
  // One of 60 is 98.3 % right, but surely only 91 %.
  expect(byShare({ severity: 'stop', count: 1 }, 60, thresholds)).toBe('caution');
  expect(byShare({ severity: 'stop', count: 1 }, 6000, thresholds)).toBe('clear');
  expect(byShare({ severity: 'caution', count: 0 }, 60, thresholds)).toBe('caution');
  // More than there are messages of the question's events: all of them may be.
  expect(byShare({ severity: 'caution', count: 90 }, 60, thresholds)).toBe('stop');
  expect(Object.values(GATE_OF).filter((g) => g !== undefined).length).toBeGreaterThan(30);
});

test('built: a release in use that sends much and none of an event that others send is a caution; one that sent little waits, with the usual time', () => {
  const viewing = (release: string, n: number, from: number, name = 'Tool Viewed'): Sent[] =>
    Array.from({ length: n }, (_, i) => ({ name, release, occurredAt: from + i * 60_000, ids: { user: `${release}${i}` } }));
  const of = (more: Sent[]) =>
    gatesOf({ sent: [...viewing('1', 400, NOW - 9 * DAY), ...viewing('1', 400, NOW - 9 * DAY + HOUR, 'Tool Searched'), ...lending(100, 1), ...more] })['built']!; // prettier-ignore
  expect(of([]).signal).toBe('clear');
  // Half of what release 1 sends are views: of 60 messages about 30 are usual.
  const silent = of(viewing('2', 60, NOW - DAY, 'Tool Searched'));
  expect([silent.signal, silent.evidence]).toEqual([
    'caution',
    expect.stringMatching(/^Release 2 of Web has sent 60 messages and none of `Tool Viewed`, where about (2|3)\d are usual\.$/),
  ]);
  const young = of(viewing('2', 20, NOW - HOUR, 'Tool Searched'));
  expect(young.signal).toBe('clear');
  expect(young.numbers).toEqual([
    { what: 'release 2 of Web', value: 'waits for Tool Viewed for 60 minutes; the first usually comes after 1 minute' },
  ]);
  // Out of use it is nobody's business; once it has sent one, it is built.
  expect(of(viewing('0', 400, NOW - 30 * DAY, 'Tool Searched')).signal).toBe('clear');
  expect(of([...viewing('2', 60, NOW - DAY, 'Tool Searched'), ...viewing('2', 1, NOW - HOUR)]).signal).toBe('clear');
});

test('built: a property that the formula uses and no message carries is said', () => {
  const total: Formula = { type: 'total of a property', event: { eventName: 'Loan Started', where: [] }, property: 'days', period: 'week' };
  const sent = lending(300, 1);
  expect(gatesOf({ sent, question: asking(total) })['built']!.signal).toBe('clear');
  const bare = sent.map(({ properties: _, ...m }) => m);
  expect(gatesOf({ sent: bare, question: asking(total) })['built']).toMatchObject({
    signal: 'caution',
    evidence: '`Loan Started` has never come with `days`.',
  });
});
