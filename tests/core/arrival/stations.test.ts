/** Volume, client beside server, profiles, drift and “this is me”: what each says of messages that are known. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { byDanger } from '../../../src/core/arrival/danger';
import { driftSince } from '../../../src/core/arrival/drift';
import type { FindingGroup } from '../../../src/core/arrival/finding-group';
import { identifiersOfMe, isMine } from '../../../src/core/arrival/me';
import { arrivedNames, profileOf } from '../../../src/core/arrival/profile';
import { draftFromProfile } from '../../../src/core/arrival/profile-draft';
import { reconciliation } from '../../../src/core/arrival/reconciliation';
import { volumeOf } from '../../../src/core/arrival/volume';
import { applyEdits } from '../../../src/core/plan/edit';
import { propertiesOf } from '../../../src/core/plan/plan';
import { eventNamed } from '../../../src/core/plan/plan-index';
import { seeded } from '../../../src/demo/random';
import { create, deepFreeze, event, planWith, property, question } from '../../build/plan';
import { attributedTo } from '../../../src/core/table/following-persons';
import { tableOf } from '../../build/messages';

const DAY = 1440;
const MS = 60_000;
type Row = Parameters<typeof tableOf>[0][number];
const range = (n: number): number[] => Array.from({ length: n }, (_, i) => i);

const plan = deepFreeze(
  planWith(
    [
      create('source', 's', { name: 'Hall', kind: 'web' }),
      create('source', 'server', { name: 'Office', kind: 'server' }),
      create('identifierKind', 'user', { name: 'user', identifies: 'person' }),
      property('ticket', {}),
      property('crate', { allowed: ['oak', 'elm'] }),
      event('ask', {
        name: 'Asked',
        order: 1,
        scope: '/hall',
        counterpart: { eventName: 'Answered', keyProperty: 'ticket', windowMs: 10 * MS },
        properties: [
          { propertyId: 'ticket', required: true },
          { propertyId: 'crate', required: false },
        ],
      }),
      event('answer', { name: 'Answered', order: 2, properties: [{ propertyId: 'ticket', required: true }] }),
    ],
    { timeZone: 'UTC' },
  ),
);

describe('volume', () => {
  const now = 80 * DAY * MS + 60 * MS;
  /** Growing by a hundredth a day, half on Sundays (day 4 of the epoch’s weeks), with a little noise. */
  const usual = (d: number) => Math.round(200 * 1.01 ** d * (d % 7 === 3 ? 0.5 : 1));
  const rowsOf = (perDay: (d: number) => number, release: (d: number) => string = () => '1'): Row[] => {
    const random = seeded(8);
    return range(80).flatMap((d) =>
      range(perDay(d) + random.int(0, 8)).map((i) => ({ at: d * DAY + i, ids: { user: `m-${i % 50}` }, release: release(d) })),
    );
  };
  const volume = (rows: Row[], versions: { number: number; at: number }[] = []) =>
    volumeOf(
      plan,
      attributedTo(
        tableOf(rows),
        Int32Array.from(rows, (_, i) => i % 50),
      ),
      versions,
      now,
      { eventName: 'E' },
    );
  test('steady growth and quiet Sundays are usual; a lost day, a doubled day and a silent one are off', () => {
    expect(volume(rowsOf(usual)).days.filter((d) => d.off)).toEqual([]);
    const { days, messages } = volume(rowsOf((d) => (d === 70 ? usual(d) / 4 : d === 74 ? usual(d) * 2 : d === 77 ? -8 : usual(d))));
    expect(days.filter((d) => d.off).map((d) => [d.at / (DAY * MS), d.off])).toEqual([
      [70, 'fewer'],
      [74, 'more'],
      [77, 'fewer'],
    ]);
    expect(messages).toBe(days.reduce((n, d) => n + d.messages, 0));
    expect(days.every((d) => d.persons <= 50 && d.persons <= d.messages)).toBe(true);
  });
  test('a release is marked where it begins, but not the first; a version where it was published', () => {
    const { marks } = volume(
      rowsOf(usual, (d) => (d < 60 ? '1' : '2')),
      [
        { number: 1, at: 5 * DAY * MS },
        { number: 2, at: 65 * DAY * MS },
      ],
    );
    expect(marks).toMatchObject([
      { what: 'release', text: '2', at: 60 * DAY * MS },
      { what: 'version', text: 'version 2' },
    ]);
  });
});

describe('client beside server', () => {
  test('each message is matched, extra, lost or waiting, whatever the order of arrival', () => {
    const pair = fc.record({ asked: fc.boolean(), answered: fc.boolean(), late: fc.boolean(), recent: fc.boolean() });
    fc.assert(
      fc.property(fc.array(pair, { maxLength: 30 }), fc.boolean(), (pairs, turned) => {
        const now = 10 * DAY * MS;
        const rows = pairs.flatMap(({ asked, answered, late, recent }, i): Row[] => {
          const at = recent ? 10 * DAY - 5 : i * 30;
          const ticket = `t-${i}`;
          return [
            ...(asked ? [{ at, name: 'Asked', ids: {}, properties: { ticket } }] : []),
            ...(answered
              ? [{ at: at + (late && !recent ? 20 : 2), name: 'Answered', sourceId: 'server', ids: {}, properties: { ticket } }]
              : []),
          ];
        });
        if (turned) rows.reverse();
        const [found] = reconciliation(plan, tableOf(rows), now);
        const alone = (p: (typeof pairs)[number]) => !(p.asked && p.answered) || (p.late && !p.recent);
        const count = (f: (p: (typeof pairs)[number]) => boolean) => pairs.filter(f).length;
        expect(found).toMatchObject({
          clientMessages: count((p) => p.asked),
          serverMessages: count((p) => p.answered),
          waiting: count((p) => p.asked && !p.answered && p.recent),
          extra: { n: count((p) => p.asked && alone(p) && !p.recent) },
          lost: { n: count((p) => p.answered && alone(p) && !p.recent) },
        });
        expect(found!.bySource.reduce((n, s) => n + s.unconfirmed.n, 0)).toBe(found!.extra.n);
      }),
    );
  });
});

describe('profile', () => {
  const table = tableOf([
    ...range(60).map((i) => ({
      at: i,
      name: 'Lent',
      ids: {},
      page: i === 0 ? '/yard/1' : '/hall/1',
      properties: { size: i % 4, crate: i % 2 ? 'oak' : 'elm', ...(i < 30 ? { weight: i / 4 + 0.1 } : {}) },
    })),
    { at: 99, name: 'Asked', ids: {}, page: '/yard', properties: { crate: 'ash', ticket: 't-1' } },
  ]);
  const now = 2 * DAY * MS;
  test('values, shares and range as they came, beside the plan', () => {
    expect(arrivedNames(plan, table)).toEqual([
      { eventName: 'Lent', messages: 60, planned: false, defined: false, automatic: false, sources: [{ sourceId: 's', messages: 60 }] },
      { eventName: 'Asked', messages: 1, planned: true, defined: false, automatic: false, sources: [{ sourceId: 's', messages: 1 }] },
    ]);
    const p = profileOf(plan, table, 'Lent', now)!;
    expect(p.pages).toMatchObject([
      { value: '/hall/1', messages: 59, inScope: true },
      { value: '/yard/1', messages: 1 },
    ]);
    const weight = p.properties.find((x) => x.name === 'weight')!;
    expect(weight).toMatchObject({
      messages: 30,
      distinct: 30,
      numbers: { min: 0.1, max: 7.35 },
      inferred: { type: 'number', allowed: [] },
    });
    expect(weight.numbers!.median).toBeCloseTo(3.725, 10);
    expect(p.properties.find((x) => x.name === 'crate')!.inferred).toMatchObject({ type: 'string', allowed: ['elm', 'oak'] });
    expect(profileOf(plan, table, 'Asked', now)!.pages[0]!.inScope).toBe(false);
    expect(profileOf(plan, table, 'Nothing', now)).toBeUndefined();
  });
  test('a draft takes up what the plan lacks, once: a second one has nothing to add', () => {
    let n = 0;
    const edits = draftFromProfile(plan, profileOf(plan, table, 'Lent', now)!, () => `new-${n++}`);
    const applied = applyEdits(plan, edits);
    if (!applied.ok) throw new Error(JSON.stringify(applied.problem));
    const [, lent] = eventNamed(applied.plan, 'Lent')!;
    expect(propertiesOf(applied.plan, lent).map((p) => [p.property.name, p.property.type, p.required])).toEqual(
      expect.arrayContaining([
        ['size', 'integer', true],
        ['weight', 'number', false],
        ['crate', 'string', true],
      ]),
    );
    // The property that was there is taken as it is, its list included.
    expect(Object.values(applied.plan.property).filter((p) => p.name === 'crate')).toEqual([plan.property['crate']]);
    expect(draftFromProfile(applied.plan, profileOf(applied.plan, table, 'Lent', now)!, () => 'x')).toEqual([]);
  });
});

test('findings stand in the order of what they endanger', () => {
  const asked = { type: 'active persons', events: [{ eventName: 'Asked', where: [] }], period: 'week' } as const;
  const p = planWith([event('ask', { name: 'Asked' }), event('l', { name: 'Lent' }), question('q', { formula: asked })]);
  const group = (key: string, severity: 'stop' | 'note', touches: string[], count: number, of: number) =>
    ({ key, severity, touches, count, outOf: of }) as unknown as FindingGroup;
  const groups = [
    group('a note', 'note', ['Asked'], 9, 9),
    group('many', 'stop', ['Lent'], 50, 100),
    group('more of fewer', 'stop', ['Lent'], 9, 10),
    group('a question', 'stop', ['Asked'], 1, 100),
  ];
  expect(byDanger(p, groups).map((g) => g.key)).toEqual(['a question', 'more of fewer', 'many', 'a note']);
});

test('drift: what is new or vanished, where the other side would have shown it; free text and rare things are left alone', () => {
  const at = (d: number, i: number) => d * DAY + i;
  const rows = range(20).flatMap((d) =>
    range(30).map((i): Row => ({
      at: at(d, i),
      name: d >= 10 && i < 10 ? 'Renamed' : d < 10 && i < 10 ? 'Named' : 'E',
      ids: {},
      release: d >= 10 ? '2' : '1',
      properties: {
        note: `n-${d}-${i}`,
        ...(d >= 10 ? { added: 1 } : { dropped: true }),
        size: d >= 10 ? String(i % 3) : i % 3,
        crate: d >= 10 && i % 2 ? 'ash' : 'oak',
        ...(d === 15 && i === 20 ? { once: 1 } : {}),
      },
    })),
  );
  const { changes, before, after } = driftSince(tableOf(rows), 0, 10 * DAY * MS, 20 * DAY * MS);
  expect([before, after]).toEqual([300, 300]);
  expect(changes.map((c) => `${c.change} ${c.what} ${c.eventName} ${c.property} ${c.value}`.trim()).sort()).toEqual([
    'new event Renamed',
    'new property E added',
    'new type E size text',
    'new value E crate ash',
    'vanished event Named',
    'vanished property E dropped',
    'vanished type E size number',
  ]);
  expect(changes.find((c) => c.value === 'ash')).toMatchObject({ release: '2', messages: 100 });
  expect(driftSince(tableOf(rows), 0, 0, 20 * DAY * MS).changes).toEqual([]);
});

describe('this is me', () => {
  const message = (ids: Record<string, string>) => ({ body: { ids } });
  const device = message({ anonymous: 'a-1', device: 'd-1' });
  const mine = message({ anonymous: 'a-1', user: 'm-1' });
  const other = message({ device: 'd-1', user: 'm-2' });
  test('from any identifier to all that stand beside it, over several messages, but not to who shares the device', () => {
    for (const start of ['a-1', 'm-1', 'd-1'])
      for (const order of [
        [device, mine, other],
        [mine, device, other],
      ]) {
        const me = identifiersOfMe(start, order, 'user');
        expect([...me].sort()).toEqual(['a-1', 'd-1', 'm-1']);
        expect([device, mine, other].map((m) => isMine(me, m, 'user'))).toEqual([true, true, false]);
      }
  });
  test('by whatever name a plan knows who is signed in', () => {
    const shared = message({ terminal: 't-1' });
    const ada = message({ terminal: 't-1', reader: 'r-1' });
    const bo = message({ terminal: 't-1', reader: 'r-2' });
    const me = identifiersOfMe('r-1', [shared, ada, bo], 'reader');
    expect([...me].sort()).toEqual(['r-1', 't-1']);
    expect([shared, ada, bo].map((m) => isMine(me, m, 'reader'))).toEqual([true, true, false]);
  });
  test('a placeholder joins nobody', () => {
    const me = identifiersOfMe(
      'a-1',
      [message({ anonymous: 'a-1', user: '{{member_id}}' }), message({ anonymous: 'a-9', user: '{{member_id}}' })],
      'user',
    );
    expect([...me]).toEqual(['a-1']);
  });
});
