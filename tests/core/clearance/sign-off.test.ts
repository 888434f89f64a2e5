/** When a sign-off falls, with the clock as argument; what a question means; signals by day. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Clearance, GateId, Signal } from '../../../src/core/clearance/gate';
import { fallOf, meaningOfQuestion, type SignOff } from '../../../src/core/clearance/sign-off';
import { signalsByDay, whyNotSigned } from '../../../src/core/clearance/sign-off-shown';
import { applyEdits, setField, type Edit } from '../../../src/core/plan/edit';
import type { Plan } from '../../../src/core/plan/plan';
import { create, event, planWith, property, question } from '../../build/plan';

const plan = planWith([
  property('days', { type: 'integer', unit: 'd' }),
  property('colour', {}),
  event('l', { name: 'Loan Started', properties: [{ propertyId: 'days', required: true }, { propertyId: 'colour', required: false }] }), // prettier-ignore
  event('v', { name: 'Tool Viewed' }),
  create('definition', 'long', { name: 'Long Loan', source: { of: 'events', names: ['Loan Started'] } }),
  question('q', {
    formula: { type: 'total of a property', event: { eventName: 'Long Loan', where: [] }, property: 'days', period: 'week' },
  }),
  create('userProperty', 'tier', { name: 'level', within: ['member'] }),
  question('u', {
    formula: {
      type: 'active persons',
      events: [{ eventName: 'Tool Viewed', where: [] }],
      period: 'week',
      groupBy: { of: 'user property', name: ['member', 'level'] },
    },
  }),
  question('p', { formula: { type: 'active persons', events: [{ eventName: 'Tool Viewed', where: [] }], period: 'week' } }),
]);
const after = (edit: Edit | undefined): Plan => {
  const r = applyEdits(plan, [edit!]);
  if (!r.ok) throw new Error(JSON.stringify(r));
  return r.plan;
};
const means = (p: Plan, id: string): string => meaningOfQuestion(p, p.question[id]!);

test('a question means something else when its formula, an event, a used property, a definition or the rules for people change', () => {
  const settings = plan.settings['settings']!;
  const identity = setField(plan, 'settings', 'settings', 'identity', { ...settings.identity, linking: false });
  const where = {
    match: 'all' as const,
    conditions: [{ subject: { of: 'release' as const }, op: 'is' as const, values: ['2'] }],
    groups: [],
  };
  const cases: [string, Edit | undefined, string[]][] = [
    ['a used property', setField(plan, 'property', 'days', 'unit', 'h'), ['q']],
    ['its definition', setField(plan, 'definition', 'long', 'where', where), ['q']],
    ['the event that it is made of', setField(plan, 'event', 'l', 'scope', '/loans'), ['q']],
    ['a property that it does not use', setField(plan, 'property', 'colour', 'unit', 'h'), []],
    ['words', setField(plan, 'event', 'v', 'description', 'Looked at.'), []],
    ['who owns it', setField(plan, 'definition', 'long', 'owner', 'Ana'), []],
    ['identity rules', identity, ['p', 'u']],
    ['the user property that it is grouped by', setField(plan, 'userProperty', 'tier', 'allowed', ['gold']), ['u']],
    ['its text', setField(plan, 'question', 'p', 'text', 'How many?'), []],
  ];
  for (const [what, edit, wanted] of cases) {
    const next = after(edit);
    expect([what, ['p', 'q', 'u'].filter((id) => means(next, id) !== means(plan, id)).sort()]).toEqual([what, wanted]);
  }
});

const clearance = (gates: Partial<Record<GateId, Signal>>): Clearance => ({
  signal: 'clear',
  gates: (Object.entries(gates) as [GateId, Signal][]).map(([gate, signal]) => ({
    gate,
    asks: '',
    signal,
    evidence: `${gate} is ${signal}.`,
  })),
});
const DAY = 86_400_000;
const signed: SignOff = {
  id: 1, questionId: 'q', version: 3, at: 0, author: 'Ana', note: 'Looked at.', signal: 'caution', headline: 5, meaning: 'm', until: 10 * DAY, fellAt: null, because: null,
  gates: { built: { signal: 'clear', evidence: '' }, conforming: { signal: 'caution', evidence: '' } },
}; // prettier-ignore
const fall = (gates: Partial<Record<GateId, Signal>>, more: Partial<{ version: number; meaning: string | undefined; now: number }> = {}) =>
  fallOf(
    signed,
    { version: more.version ?? 3, meaning: 'meaning' in more ? more.meaning : 'm', clearance: clearance(gates) },
    more.now ?? DAY,
  );

test('it falls when a gate falls below what was signed, at its end, when it means something else, when it is gone; otherwise it holds', () => {
  expect(fall({ built: 'clear', conforming: 'caution' })).toBeUndefined();
  expect(fall({ built: 'clear', conforming: 'clear' })).toBeUndefined();
  expect(fall({ built: 'clear', conforming: 'stop' })).toBe('The gate conforming fell from caution to stop: conforming is stop.');
  expect(fall({ built: 'caution', conforming: 'caution' })).toBe('The gate built fell from clear to caution: built is caution.');
  // While a new version is being checked against, nothing has fallen.
  expect(fall({ built: 'open', conforming: 'open' })).toBeUndefined();
  // A gate that was not there when it was signed was no reason to doubt.
  expect(fall({ built: 'clear', conforming: 'caution', fresh: 'stop' })).toContain('fresh fell from clear to stop');
  expect(fall({ built: 'clear' }, { now: 10 * DAY - 1 })).toBeUndefined();
  expect(fall({ built: 'clear' }, { now: 10 * DAY })).toBe('Its end date has come.');
  expect(fall({ built: 'clear' }, { version: 4, meaning: 'other' })).toBe('Version 4 changed what it means.');
  expect(fall({ built: 'clear' }, { version: 4 })).toBeUndefined();
  expect(fall({ built: 'clear' }, { version: 5, meaning: undefined })).toBe('Version 5 does not have the question.');
});

test('what is at stop or not judged is not signed, and the gate is named; caution may be', () => {
  const of = (gates: Record<string, Signal>) => whyNotSigned(clearance(gates));
  expect(of({ built: 'clear', settled: 'open', fresh: 'stop' })).toBe('The gate fresh is at stop: fresh is stop.');
  expect(of({ settled: 'open' })).toBe('The gate settled is not judged yet: settled is open.');
  // The question is at caution by another gate, and this one is waited for all the same.
  expect(of({ built: 'caution', settled: 'open' })).toBe('The gate settled is not judged yet: settled is open.');
  expect(of({ settled: 'caution' })).toBeUndefined();
  expect(of({ settled: 'clear' })).toBeUndefined();
});

test('the worst signal of each day, against looking at every hour', () => {
  const HOUR = 3_600_000;
  const RANK: readonly Signal[] = ['stop', 'caution', 'open', 'clear'];
  fc.assert(
    fc.property(
      fc.array(fc.record({ hour: fc.integer({ min: 0, max: 24 * 7 }), signal: fc.constantFrom(...RANK) }), { maxLength: 12 }),
      fc.integer({ min: 0, max: 24 * 6 }),
      (list, nowHour) => {
        const changes = [...new Map(list.map((c) => [c.hour, c.signal])).entries()].sort((a, b) => a[0] - b[0]).map(([hour, signal]) => ({ at: hour * HOUR, signal })).filter((c) => c.at <= nowHour * HOUR); // prettier-ignore
        const starts = Array.from({ length: 8 }, (_, d) => d * DAY);
        const days = signalsByDay(changes, starts, nowHour * HOUR);
        expect(days).toHaveLength(7);
        for (const [d, signal] of days.entries()) {
          const seen = new Set<Signal>();
          for (let h = d * 24; h < (d + 1) * 24 && h <= nowHour; h++) {
            const s = changes.findLast((c) => c.at <= h * HOUR)?.signal;
            if (s) seen.add(s);
          }
          expect(signal).toBe(RANK.find((s) => seen.has(s)));
        }
      },
    ),
    { seed: 41, numRuns: 500 },
  );
});
