/** The checks over many messages: what each finds, and that it is silent where nothing is wrong. */
import { describe, expect, test } from 'vitest';
import { manyChecks } from '../../../src/core/arrival/batch/index';
import type { ManyCheck, ManyFound } from '../../../src/core/arrival/check-many';
import { sentAgain } from '../../../src/core/arrival/batch/sent-again';
import { turnedAway } from '../../../src/core/arrival/batch/turned-away';
import type { IntakeDay } from '../../../src/core/arrival/intake-totals';
import { tooOld } from '../../../src/core/arrival/batch/too-old';
import type { RuleSettings } from '../../../src/core/findings/severity';
import { isWithin, valuesOf } from '../../../src/core/arrival/check';
import { manyGroups } from '../../../src/core/arrival/finding-group';
import { allChecks, findingSentence, wordsFor } from '../../../src/core/arrival/words';
import { resolvePersons } from '../../../src/core/identity/persons';
import { settingsOf, type Plan } from '../../../src/core/plan/plan';
import { Watch } from '../../../src/core/plan/watch';
import type { MessageTable } from '../../../src/core/table/message-table';
import { seeded } from '../../../src/demo/random';
import { create, deepFreeze, event, planWith, property } from '../../plans';
import { RULES, tableOf } from '../../tables';

const DAY = 1440;
const MINUTE_MS = 60_000;
type Row = Parameters<typeof tableOf>[0][number];

const sentBy = (...sources: string[]) => sources.map((sourceId) => ({ sourceId, required: true, build: 'built' as const }));
const required = (...ids: string[]) => ids.map((propertyId) => ({ propertyId, required: true }));
const plan = deepFreeze(
  planWith(
    [
      create('source', 's', { name: 'Hall', kind: 'web', expectedLagMs: 60_000 }),
      create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
      create('identifierKind', 'device', { name: 'device', identifies: 'device' }),
      property('weight', { type: 'number', unit: 'kg' }),
      property('share', { type: 'integer' }),
      property('crate', { distinct: 3 }),
      event('e', { name: 'E', sources: sentBy('s'), properties: required('weight', 'crate') }),
      event('once', { name: 'Opened', sources: sentBy('s'), oncePer: 'session' }),
      event('read', {
        name: 'Read',
        sources: sentBy('s'),
        series: { property: 'share', values: ['25', '50', '100'] },
        scope: '/guides',
        properties: required('share'),
      }),
    ],
    { timeZone: 'UTC' },
  ),
);

const run = (code: string, rows: readonly Row[], nowMinutes: number, of: Plan = plan, watchedSince = 0): readonly ManyFound<unknown>[] => {
  const table: MessageTable = tableOf(rows);
  const check = manyChecks.find((c) => c.id === code) as ManyCheck<string, unknown> | undefined;
  if (!check) throw new Error(`no check ${code}`);
  const people = resolvePersons(table, RULES);
  const c = { plan: of, people, now: nowMinutes * MINUTE_MS, watch: Watch.of(of, watchedSince * MINUTE_MS) };
  return check.find(c, valuesOf(check.parameters, settingsOf(of).rules[code]));
};
const says = (code: string, found: readonly ManyFound<unknown>[]): string[] =>
  found.map((f) => findingSentence(code, f.eventName, f.params));
const user = (n: number) => ({ user: `m-${n}` });

describe('never seen', () => {
  const rows = Array.from({ length: 20 }, (_, i) => ({ at: 10, receivedAt: i, ids: user(1) }));
  test('too early before a day, waiting before three, a fault then; only of sources that send at all', () => {
    expect(run('never-seen', rows, 0.9 * DAY)).toEqual([]);
    expect(run('never-seen', rows, 2 * DAY).map((f) => [f.eventName, f.severity])).toEqual([
      ['Opened', 'note'],
      ['Read', 'note'],
    ]);
    const found = run('never-seen', rows, 5 * DAY);
    expect(found.map((f) => f.severity)).toEqual([undefined, undefined]);
    expect(says('never-seen', found)[0]).toBe('`Opened` was never sent in the 5 days since it was planned.');
    expect(run('never-seen', [], 5 * DAY)).toEqual([]);
  });
});

describe('no user ID', () => {
  const kiosk: Plan = {
    ...plan,
    source: { s: { ...plan.source['s']!, idKinds: { beforeSignIn: ['device'], afterSignIn: ['device', 'user'] } } },
  };
  const rows: Row[] = Array.from({ length: 120 }, (_, i) => ({ at: i, ids: { device: `d-${i}` } }));
  test('too early, waiting, a fault: by the workspace’s own hours; the counting basis is looked at first', () => {
    expect(run('no-user-id', rows, 0.9 * DAY, kiosk)).toEqual([]);
    expect(run('no-user-id', rows, 2 * DAY, kiosk)).toMatchObject([{ severity: 'note', params: { state: 'waiting' } }]);
    const [found] = run('no-user-id', rows, 4 * DAY, kiosk);
    expect(found).toMatchObject({ sourceId: 's', count: 120, of: 120, params: { state: 'fault' } });
    expect(wordsFor('no-user-id', found!.params)!.mend).toMatch(/^First look whether figures count devices only/);
    const patient = { ...kiosk, settings: { settings: { ...kiosk.settings['settings']!, tooEarlyHours: 100, escalationHours: 200 } } };
    expect(run('no-user-id', rows, 4 * DAY, patient)).toEqual([]);
  });
  test('one that came, a source that cannot carry it, or too few messages are no finding', () => {
    expect(run('no-user-id', [...rows, { at: 130, ids: user(1) }], 4 * DAY, kiosk)).toEqual([]);
    expect(
      run('no-user-id', rows, 4 * DAY, {
        ...kiosk,
        source: { s: { ...kiosk.source['s']!, idKinds: { beforeSignIn: ['device'], afterSignIn: ['device'] } } },
      }),
    ).toEqual([]);
    expect(run('no-user-id', rows.slice(0, 90), 4 * DAY, kiosk)).toEqual([]);
  });
});

describe('silence', () => {
  const daily = (silent: (day: number) => boolean, perDay = 6): Row[] =>
    Array.from({ length: 42 }, (_, d) => d)
      .filter((d) => !silent(d))
      .flatMap((d) => Array.from({ length: perDay }, (_, i) => ({ at: d * DAY + 30 * i, ids: user(i) })));
  test('whole days without any, where the weekdays let expect enough; over or not', () => {
    const [gap] = run(
      'silence',
      daily((d) => d >= 35 && d <= 37),
      42 * DAY,
    );
    expect(gap).toMatchObject({ params: { days: 3, ongoing: false }, firstAt: 35 * DAY * MINUTE_MS, of: 18 });
    expect(
      run(
        'silence',
        daily((d) => d >= 39),
        42 * DAY,
      ),
    ).toMatchObject([{ params: { ongoing: true, days: 3 } }]);
  });
  test('a rare event may well be silent', () => {
    expect(
      run(
        'silence',
        daily((d) => d === 35 || d === 36, 2),
        42 * DAY,
      ),
    ).toEqual([]);
    expect(
      run(
        'silence',
        daily(() => false),
        42 * DAY,
      ),
    ).toEqual([]);
  });
});

test('volume: a day far off its weekday, not one that goes with its source', () => {
  const random = seeded(3);
  const rows = (perDay: (d: number) => number): Row[] =>
    Array.from({ length: 56 }, (_, d) => d).flatMap((d) => [
      ...Array.from({ length: perDay(d) + random.int(0, 6) }, (_, i) => ({ at: d * DAY + i, ids: user(i) })),
      ...Array.from({ length: (d % 7 === 6 ? 400 : 1000) + random.int(0, 9) }, (_, i) => ({
        at: d * DAY + i,
        name: 'Opened',
        ids: user(i),
      })),
    ]);
  const weekly = (d: number) => (d % 7 === 6 ? 80 : 200);
  expect(run('volume-change', rows(weekly), 56 * DAY)).toEqual([]);
  const found = run(
    'volume-change',
    rows((d) => (d === 50 ? 20 : weekly(d))),
    56 * DAY,
  );
  expect(found.filter((f) => f.eventName === 'E')).toMatchObject([
    { params: { direction: 'fewer', days: 1 }, firstAt: 50 * DAY * MINUTE_MS },
  ]);
});

test('double fire: the same person, properties and source within a second', () => {
  const pairs = (gap: number, crate: (i: number) => string): Row[] =>
    Array.from({ length: 40 }, (_, i) => i).flatMap((i) => [
      { at: i * 60, ids: user(i), properties: { crate: `c${i}` } },
      { at: i * 60 + gap, ids: user(i), properties: { crate: crate(i) } },
    ]);
  expect(
    run(
      'double-fire',
      pairs(0.01, (i) => `c${i}`),
      DAY * 9,
    ),
  ).toMatchObject([{ eventName: 'E', count: 40, of: 80 }]);
  expect(
    run(
      'double-fire',
      pairs(0.01, (i) => `d${i}`),
      DAY * 9,
    ),
  ).toEqual([]);
  expect(
    run(
      'double-fire',
      pairs(0.1, (i) => `c${i}`),
      DAY * 9,
    ),
  ).toEqual([]);
});

test('repeated: once per session is kept over sessions, broken within one; told by release', () => {
  const opened = (gap: number, release: string): Row[] =>
    Array.from({ length: 20 }, (_, i) => i).flatMap((i) =>
      [0, gap].map((d) => ({ at: i * DAY + d, name: 'Opened', ids: user(i), release })),
    );
  expect(run('repeated', opened(31, '1'), 30 * DAY)).toEqual([]);
  expect(
    run('repeated', [...opened(40, '1'), ...opened(5, '2').map((r) => ({ ...r, ids: { user: `${r.ids.user}x` } }))], 30 * DAY),
  ).toMatchObject([{ eventName: 'Opened', releases: ['2'], count: 20, of: 40 }]);
});

test('milestones: again on the same page, or a lower one after a higher; another page begins anew', () => {
  const read = (shares: readonly number[], n: number, page = '/guides/a'): Row[] =>
    shares.map((share, i) => ({ at: n * DAY + i, name: 'Read', ids: user(n), page, properties: { share } }));
  const many = (shares: readonly number[]) => Array.from({ length: 5 }, (_, n) => read(shares, n)).flat();
  expect(run('milestones', many([25, 50, 100]), 9 * DAY)).toEqual([]);
  expect(run('milestones', many([25, 50, 25, 50]), 9 * DAY)).toMatchObject([{ field: 'repeated', count: 10, of: 20 }]);
  expect(run('milestones', many([50, 25, 100]), 9 * DAY)).toMatchObject([{ field: 'out of order', count: 5 }]);
  expect(
    run('milestones', [...many([25, 50]), ...Array.from({ length: 5 }, (_, n) => read([25, 50], n, '/guides/b')).flat()], 9 * DAY),
  ).toEqual([]);
});

test('out of scope: the page that it fires on most, and how many others', () => {
  const on = (page: string, n: number): Row[] => Array.from({ length: n }, (_, i) => ({ at: i, name: 'Read', page, ids: user(i) }));
  expect(run('out-of-scope', on('/guides/x', 9), DAY)).toEqual([]);
  const found = run('out-of-scope', [...on('/guides/x', 5), ...on('/shop', 3), ...on('/', 1)], DAY);
  expect(found).toMatchObject([{ count: 4, of: 9 }]);
  expect(says('out-of-scope', found)).toEqual(['`Read` fires outside `/guides`: on `/shop` and 1 other page.']);
});

test.each([
  [1000, 'grams'],
  [2.2046226218487757, 'pounds'],
  [35.27396194958041, 'ounces'],
])('units: a release that sends %f times what the others send', (factor, unit) => {
  const random = seeded(8);
  const sent = (n: number, release: string, f: number): Row[] =>
    Array.from({ length: n }, (_, i) => ({ at: i, ids: user(i), release, properties: { weight: (5 + random.int(0, 400) / 10) * f } }));
  expect(run('unit-suspicion', [...sent(300, '1', 1), ...sent(80, '2', factor)], DAY)).toMatchObject([
    { releases: ['2'], count: 80, params: { factor, sent: unit, planned: 'kilograms', ground: 'past' } },
  ]);
  // The same distribution, or one that is merely wider, is no other unit.
  expect(run('unit-suspicion', [...sent(300, '1', 1), ...sent(80, '2', 1)], DAY)).toEqual([]);
  expect(run('unit-suspicion', [...sent(300, '1', 1), ...sent(80, '2', 1.3)], DAY)).toEqual([]);
});

test('clock ahead of the receipt, with its device where it is one; late against the expectation', () => {
  const ahead = (n: number, device: string): Row[] =>
    Array.from({ length: n }, (_, i) => ({ at: 300 + i, receivedAt: i * MINUTE_MS, ids: { ...user(i), device } }));
  expect(run('clock-ahead', ahead(5, 'k1'), DAY)).toMatchObject([{ params: { device: 'k1', aheadMs: 300 * MINUTE_MS }, count: 5, of: 5 }]);
  expect(run('clock-ahead', [...ahead(5, 'k1'), ...ahead(5, 'k2')], DAY)).toMatchObject([{ params: { device: '' } }]);
  const lagging = (ms: number): Row[] => Array.from({ length: 200 }, (_, i) => ({ at: i, receivedAt: i * MINUTE_MS + ms, ids: user(i) }));
  expect(run('clock-ahead', lagging(0), DAY)).toEqual([]);
  expect(run('late-arrival', lagging(30_000), DAY)).toEqual([]);
  expect(run('late-arrival', lagging(180_000), DAY)).toMatchObject([{ params: { expectedMs: 60_000, p95Ms: 180_000 }, count: 200 }]);
});

test('shared device: many user IDs within a day on one device, not over a year', () => {
  const signed = (everyMinutes: number): Row[] =>
    Array.from({ length: 9 }, (_, i) => ({ at: i * everyMinutes, ids: { ...user(i), device: 'k1' } }));
  expect(run('shared-device', signed(20), DAY)).toMatchObject([{ params: { kind: 'device', devices: 1, users: 9 }, count: 9, of: 9 }]);
  expect(run('shared-device', signed(30 * DAY), 400 * DAY)).toEqual([]);
});

test('more distinct values than planned', () => {
  const crates = (n: number): Row[] => Array.from({ length: n }, (_, i) => ({ at: i, ids: user(i), properties: { crate: `c${i}` } }));
  expect(run('too-many-values', crates(4), DAY)).toEqual([]);
  expect(run('too-many-values', crates(9), DAY)).toMatchObject([{ params: { planned: 3, found: 9 }, count: 5, of: 9 }]);
});

test('what a check finds in two releases of a source is one cause; a check that is switched off is silent', () => {
  const table = tableOf(
    ['1', '2'].flatMap((release) =>
      Array.from({ length: 20 }, (_, i) => ({ at: i + 500, receivedAt: 0, release, ids: { user: `m-${release}-${i}` } })),
    ),
  );
  const context = { people: resolvePersons(table, RULES), now: 600 * MINUTE_MS, watch: Watch.of(plan, 0) };
  const groupsOf = (p: Plan) => {
    const steps = manyGroups({ ...context, plan: p });
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
    }
  };
  expect(groupsOf(plan)).toMatchObject([{ code: 'clock-ahead', releases: ['1', '2'], count: 40, samples: expect.any(Array) as number[] }]);
  const settings = { ...plan.settings['settings']!, rules: { 'clock-ahead': { off: true } } };
  expect(groupsOf({ ...plan, settings: { settings } })).toEqual([]);
});

describe('a clock that runs behind', () => {
  /** A message every four hours of three days, received by `lag(i)` minutes later than it says. */
  const sent = (device: string, lag: (i: number) => number): Row[] =>
    Array.from({ length: 18 }, (_, i) => ({ at: i * 240, receivedAt: (i * 240 + lag(i)) * MINUTE_MS, ids: { device, user: `m-${i}` } }));
  test('always by the same span, over a day or more: its device is named', () => {
    const found = run('clock-behind', [...sent('k-1', (i) => 300 + (i % 2)), ...sent('k-2', () => 0)], 4 * DAY);
    expect(found).toMatchObject([{ params: { device: 'k-1' }, count: 18, of: 18, sourceId: 's' }]);
    expect(says('clock-behind', found)).toEqual([
      'Messages say they happened about 5 hours before they were received, always by the same span, all from the device `k-1`.',
    ]);
  });
  test('a queue that is emptied now and then, or a small lag is none; of a single day it is too early to say', () => {
    expect(
      run(
        'clock-behind',
        sent('k-1', (i) => 10 + 40 * (i % 6)),
        4 * DAY,
      ),
    ).toEqual([]);
    // Within a day it is said that it is too early, and why.
    const [early] = run('clock-behind', sent('k-1', () => 300).slice(0, 6), 4 * DAY);
    expect([early!.severity, says('clock-behind', [early!])[0]]).toEqual([
      'note',
      'Messages say they happened about 5 hours before they were received, always by the same span, all from the device `k-1`; it takes a day to tell a clock from a queue, and they have come for 20 hours.',
    ]);
    expect(
      run(
        'clock-behind',
        sent('k-1', () => 2),
        4 * DAY,
      ),
    ).toEqual([]);
  });
});

test('what came again and what was refused, by source and day of the intake', () => {
  const day = (d: number, sourceId: string, accepted: number, duplicates: number, refused: number): IntakeDay => ({
    day: d,
    sourceId,
    accepted,
    duplicates,
    refused,
  });
  const intake = [day(3, 's', 1000, 30, 0), day(4, 's', 1000, 0, 60), day(4, 't', 5000, 12, 2), day(5, 's', 10, 20, 0)];
  const c = {
    plan,
    people: resolvePersons(tableOf([]), RULES),
    now: 5.5 * DAY * MINUTE_MS,
    watch: Watch.of(plan, 0),
    intake,
  };
  const again = sentAgain.find(c, valuesOf(sentAgain.parameters, undefined));
  expect(again).toEqual([
    expect.objectContaining({
      sourceId: 's',
      count: 50,
      of: 2120,
      firstAt: 3 * DAY * MINUTE_MS,
      lastAt: 5.5 * DAY * MINUTE_MS,
      perDay: new Map([
        [3, 30],
        [5, 20],
      ]),
    }),
  ]);
  expect(says('sent-again', again)).toEqual(['Messages came again under the same message ID, 50 of 2,120; each counts once.']);
  expect(turnedAway.find(c, valuesOf(turnedAway.parameters, undefined))).toMatchObject([{ sourceId: 's', count: 60, of: 2120 }]);
  expect(turnedAway.find({ ...c, intake: undefined! }, valuesOf(turnedAway.parameters, undefined))).toEqual([]);
});

describe('numbers of a check are the workspace’s where it set them', () => {
  const withRules = (rules: RuleSettings): Plan => ({ ...plan, settings: { settings: { ...plan.settings['settings']!, rules } } });
  const pairs = (apart: number): Row[] =>
    Array.from({ length: 20 }, (_, i) => i * 10).flatMap((at, i) => [
      { at, ids: user(i) },
      { at: at + apart, ids: user(i) },
    ]);
  test('two messages half a minute apart are one thing only where the workspace says so', () => {
    expect(run('double-fire', pairs(0.5), DAY)).toEqual([]);
    const patient = withRules({ 'double-fire': { parameters: { within: 60 } } });
    expect(run('double-fire', pairs(0.5), DAY, patient)).toMatchObject([{ count: 20, params: { withinMs: 60_000 } }]);
    expect(run('double-fire', pairs(0.5), DAY, withRules({ 'double-fire': { parameters: { within: 60, least: 30 } } }))).toEqual([]);
  });
  test('a table that was asked with one limit answers rightly for another', () => {
    const late: Row[] = Array.from({ length: 10 }, (_, i) => ({ at: i, receivedAt: (i + 40 * DAY) * MINUTE_MS, ids: user(i) }));
    expect(run('too-old', late, 41 * DAY)).toEqual([]);
    expect(run('too-old', late, 41 * DAY, withRules({ 'too-old': { parameters: { limit: 30 } } }))).toMatchObject([{ count: 10 }]);
    const table = tableOf(late);
    const c = { people: resolvePersons(table, RULES), now: 41 * DAY * MINUTE_MS, watch: Watch.of(plan, 0), plan };
    expect([90, 30, 50, 39].map((limit) => tooOld.find(c, { limit, least: 3 }).length)).toEqual([0, 1, 0, 1]);
  });
  test('what is out of bounds is as if it were not set', () => {
    expect(valuesOf(tooOld.parameters, { parameters: { limit: -1, least: 5.5, other: 2 } })).toEqual({ limit: 90, least: 3 });
  });
  test('each number lies within its own bounds, and has a name of one word', () => {
    for (const c of allChecks)
      for (const [name, p] of Object.entries(c.parameters ?? {})) {
        expect([c.id, name, isWithin(p, p.value)]).toEqual([c.id, name, true]);
        expect(name).toMatch(/^[a-z]+$/);
      }
  });
});

describe('parity', () => {
  const sent = (sourceId: string, crates: readonly (string | number)[], n = 60): Row[] =>
    Array.from({ length: n }, (_, i) => ({ at: i, sourceId, ids: user(i), properties: { crate: crates[i % crates.length]! } }));
  test('a type or a value that one source alone has, told once and of the smaller', () => {
    expect(says('parity', run('parity', [...sent('s', ['oak', 'elm'], 90), ...sent('t', ['oak', 'ash'])], DAY))).toEqual([
      '`E` sends `crate` with values that no other source has: ash; the others have oak, elm.',
    ]);
    expect(run('parity', [...sent('s', ['oak'], 90), ...sent('t', [1, 'oak'])], DAY)).toMatchObject([
      { params: { what: 'type', own: ['number'], others: ['text'] }, sourceId: 't', count: 30, of: 60 },
    ]);
  });
  test('silent over the same values, over what is too rare to miss, and over a single source', () => {
    expect(run('parity', [...sent('s', ['oak', 'elm']), ...sent('t', ['elm', 'oak'])], DAY)).toEqual([]);
    expect(run('parity', [...sent('s', ['oak']), ...sent('t', ['oak', ...Array.from({ length: 9 }, () => 'oak'), 'ash'])], DAY)).toEqual(
      [],
    );
    expect(run('parity', sent('s', ['oak', 1]), DAY)).toEqual([]);
  });
});

test('too old: what was received months after it happened, from three messages on', () => {
  const late = (n: number): Row[] =>
    Array.from({ length: n }, (_, i) => ({ at: i, ids: user(i), receivedAt: (100 * DAY + i) * MINUTE_MS }));
  const fresh = { at: 99 * DAY, ids: user(9), receivedAt: 99 * DAY * MINUTE_MS + 1000 };
  expect(run('too-old', [...late(3), fresh], 101 * DAY)).toMatchObject([{ count: 3, of: 4, params: { oldestMs: 100 * DAY * MINUTE_MS } }]);
  expect(run('too-old', [...late(2), fresh], 101 * DAY)).toEqual([]);
});

test('a source that puts an ID into every name breaks no check', () => {
  const rows: Row[] = Array.from({ length: 150_000 }, (_, i) => ({
    at: i % (40 * DAY),
    ids: user(i % 50),
    name: `Opened ${i}`,
    release: `r${i}`,
  }));
  for (const code of ['silence', 'volume-change', 'unit-suspicion', 'parity', 'never-seen'])
    expect(() => run(code, rows, 40 * DAY)).not.toThrow();
});
