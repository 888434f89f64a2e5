/** Definitions as events of a table: rows, values and figures against messages that really bear the defined name. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Change, Definition } from '../../../src/core/definitions/definition';
import { copied } from '../../../src/core/definitions/copied';
import { heldDefinitions, withDefinitions } from '../../../src/core/definitions/defined-events';
import { orderOf } from '../../../src/core/definitions/order';
import { refOf, valueAt } from '../../../src/core/plan/property-path';
import type { Plan } from '../../../src/core/plan/plan';
import { answerOf } from '../../../src/core/questions/compute-figure';
import type { FigureContext } from '../../../src/core/questions/figure';
import type { Formula } from '../../../src/core/questions/formula';
import { attributedTo } from '../../../src/core/table/following-persons';
import { MessageTable, type TableMessage } from '../../../src/core/table/message-table';
import { create, planWith } from '../../build/plan';
import { condition, group, message, naiveTakes } from './naive';
import { draws } from '../../build/draws';

type Message = Omit<TableMessage, 'seq'>;

/** Columns have no null: what is null has nothing. */
const sent: fc.Arbitrary<Message> = message.map((m) => ({
  ...m,
  properties: Object.fromEntries(Object.entries(m.properties).filter(([, v]) => v !== null)),
}));

const PATHS = [refOf(['colour']), refOf(['price']), refOf(['element']), refOf(['element', 'red']), refOf(['shade'])];
const change: fc.Arbitrary<Change> = fc.oneof(
  fc.record({ what: fc.constant('set' as const), name: fc.constantFrom(...PATHS), value: fc.constantFrom<string | number>('teal', 7) }),
  fc.record({ what: fc.constant('rename' as const), name: fc.constantFrom(...PATHS), to: fc.constantFrom('colour', 'shade', 'red') }),
  fc.record({ what: fc.constant('drop' as const), name: fc.constantFrom(...PATHS) }),
);
const bodyFrom = (name: string, names: readonly string[]): fc.Arbitrary<Definition> =>
  fc.record({
    name: fc.constant(name),
    source: fc.oneof(
      {
        weight: 4,
        arbitrary: fc
          .uniqueArray(fc.constantFrom(...names), { minLength: 1, maxLength: 2 })
          .map((n) => ({ of: 'events' as const, names: n })),
      },
      { weight: 1, arbitrary: fc.constantFrom({ of: 'interactions' as const }, { of: 'views' as const }) },
    ),
    where: fc.oneof(
      group,
      condition.map((c) => ({ match: 'all' as const, conditions: [c], groups: [] })),
    ),
    changes: fc.array(change, { maxLength: 3 }),
    since: fc.constantFrom(undefined, undefined, 2 * 86_400_000),
  });
const RAW = ['Tool Viewed', 'tool_viewed', 'Loan Started'] as const;
const three = fc
  .tuple(bodyFrom('First', RAW), bodyFrom('Second', [...RAW, 'First']), bodyFrom('tool_viewed', [...RAW, 'First', 'Second']))
  // Made of one another they hold nothing; that has a test of its own.
  .filter((all) => orderOf(all).ok);

const ENVIRONMENTS = [
  create('source', 'web', { name: 'Web', environment: 'production' }),
  create('source', 'app', { name: 'App', environment: 'staging' }),
  create('source', 'server', { name: 'Server', environment: '' }),
];
const planOf = (definitions: readonly Definition[]): Plan =>
  planWith([...ENVIRONMENTS, ...definitions.map((d, i) => create('definition', `d${i}`, d))]);

/** A message as it is for a definition, or nothing: in the order of its sources, each as that source has it. */
const asDefined = (m: Message, d: Definition, others: ReadonlyMap<string, Definition>): Message | undefined => {
  const offered =
    d.source.of !== 'events'
      ? [m].filter((x) => x.kind === (d.source.of === 'views' ? 'view' : 'interaction'))
      : d.source.names.flatMap((n): Message[] => {
          const other = n === d.name ? undefined : others.get(n);
          const through = other ? asDefined(m, other, others) : m.kind === 'event' && m.name === n ? m : undefined;
          return through ? [through] : [];
        });
  const [first] = offered;
  if (!first) return undefined;
  const source: Definition['source'] =
    first.kind === 'interaction' ? { of: 'interactions' } : first.kind === 'view' ? { of: 'views' } : { of: 'events', names: [first.name] };
  if (!naiveTakes(first, { ...d, source })) return undefined;
  return { ...first, properties: copied(first.properties, d.changes).values };
};

test('rows and values of definitions that are made of one another are those of each message by itself, however messages come', () => {
  let values = 0;
  fc.assert(
    fc.property(fc.array(sent, { maxLength: 30 }), three, fc.integer({ min: 0, max: 30 }), (messages, definitions, cut) => {
      const table = new MessageTable();
      const add = (from: number, to: number): void => messages.slice(from, to).forEach((m, i) => table.append({ ...m, seq: from + i + 1 }));
      const seen = withDefinitions(table, planOf(definitions));
      const others = new Map(definitions.map((d) => [d.name, d]));
      for (const [from, to] of [
        [0, cut],
        [cut, messages.length],
      ] as const) {
        add(from, to);
        const come = messages.slice(0, Math.max(to, from));
        for (const d of definitions) {
          const expected = come.flatMap((m, row) => (asDefined(m, d, others) ? [row] : []));
          expect([...seen.rowsOf(d.name)]).toEqual(expected);
          for (const path of PATHS)
            for (const row of expected) {
              const column = seen.propertyOf(d.name, path);
              const at = column?.column.get(row) ?? -1;
              const is = at < 0 ? undefined : column!.values.values[at];
              const wanted = valueAt(asDefined(come[row]!, d, others)!.properties, path);
              // Of lists and objects columns say only that they are there.
              if (typeof wanted === 'object') continue;
              expect(is).toBe(wanted);
              if (wanted !== undefined) values++;
            }
        }
        // What arrives under its own name is what it was.
        const taken = new Set(definitions.map((d) => d.name));
        for (const n of RAW) if (!taken.has(n)) expect([...seen.rowsOf(n)]).toEqual([...table.rowsOf(n)]);
      }
    }),
    { seed: 8, numRuns: draws(600, 3000) },
  );
  expect(values).toBeGreaterThan(draws(300, 1500));
});

const withoutStart = three.map((all) => all.map((d): Definition => ({ ...d, since: undefined })));

const PERIOD = { period: 'day' } as const;
const step = (eventName: string) => ({ eventName, where: [] });
const NAMES = ['First', 'Second', 'tool_viewed', 'Loan Started', 'Tool Viewed'] as const;
const formula: fc.Arbitrary<Formula> = fc.constantFrom(...NAMES).chain((a) =>
  fc.constantFrom(...NAMES).chain((b) =>
    fc.constantFrom<Formula>(
      { type: 'active persons', events: a === b ? [step(a)] : [step(a), step(b)], ...PERIOD },
      { type: 'average per person', event: step(a), ...PERIOD, of: 'with the event' } as unknown as Formula,
      { type: 'conversion', steps: [step(a), step(b)], windowMs: 86_400_000, overDays: 30, anyOrder: false } as unknown as Formula,
      { type: 'share who also did', first: step(a), also: step(b), overDays: 30 } as unknown as Formula,
      { type: 'top values', event: step(a), property: 'colour', measure: 'messages', overDays: 30 } as unknown as Formula,
      {
        type: 'top values',
        event: { eventName: a, where: [{ property: 'price', op: 'is present', is: '' }] },
        property: 'shade',
        measure: 'persons',
        overDays: 30,
      } as unknown as Formula,
      {
        type: 'rate of a value',
        event: step(a),
        of: 'persons',
        condition: { property: 'colour', op: 'is', is: 'teal' },
        overDays: 30,
      } as unknown as Formula,
      { type: 'total of a property', event: step(a), property: 'price', ...PERIOD },
    ),
  ),
);

const contextOf = (table: MessageTable, persons: readonly number[]): FigureContext => {
  const people = attributedTo(table.base, Int32Array.from(persons));
  return {
    people: { ...people, table },
    settings: { timeZone: 'UTC', weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 0 },
    now: 20 * 86_400_000,
  };
};

test('a figure over one defined event is that over messages that were sent under its name', () => {
  let some = 0;
  fc.assert(
    fc.property(fc.array(sent, { minLength: 5, maxLength: 40 }), withoutStart, formula, (messages, definitions, f) => {
      const text = JSON.stringify(f);
      const named = NAMES.filter((n) => text.includes(`"${n}"`));
      const others = new Map(definitions.map((d) => [d.name, d]));
      // Where events share messages there is no such history to compare with: the next test is about those.
      fc.pre(
        messages.every(
          (m) =>
            named.filter((n) => (others.has(n) ? asDefined(m, others.get(n)!, others) : m.kind === 'event' && m.name === n)).length <= 1,
        ),
      );
      const table = new MessageTable();
      const sentSo = new MessageTable();
      const person = messages.map((m) => ('user' in m.ids ? Number(m.ids['user']!.slice(1)) : -1));
      messages.forEach((m, i) => {
        table.append({ ...m, seq: i + 1 });
        const as = named.flatMap((n) => {
          const d = others.get(n);
          const own = d ? asDefined(m, d, others) : undefined;
          return own ? [{ ...own, kind: 'event' as const, name: n }] : [];
        })[0];
        // What bears a defined name without being of it is something else there.
        sentSo.append({ ...(as ?? (others.has(m.name) ? { ...m, name: 'something else' } : m)), seq: i + 1 });
      });
      const a = answerOf(f, contextOf(withDefinitions(table, planOf(definitions)), person));
      const b = answerOf(f, contextOf(sentSo, person));
      expect({ figure: a.figure, reach: a.reach }).toEqual({ figure: b.figure, reach: b.reach });
      if (a.reach.some((r) => r.messages > 0)) some++;
    }),
    { seed: 5, numRuns: draws(500, 2500) },
  );
  expect(some).toBeGreaterThan(draws(100, 500));
});

test('a message that feeds several definitions counts once in each and once in all', () => {
  fc.assert(
    fc.property(fc.array(sent, { maxLength: 40 }), withoutStart, (messages, definitions) => {
      const table = new MessageTable();
      messages.forEach((m, i) => table.append({ ...m, seq: i + 1 }));
      const seen = withDefinitions(table, planOf(definitions));
      const names = definitions.map((d) => d.name);
      const person = messages.map((_, i) => i % 3);
      const f: Formula = { type: 'active persons', events: names.map(step), period: 'day' };
      const a = answerOf(f, contextOf(seen, person));
      const each = names.map((n) => new Set(seen.rowsOf(n)));
      const all = messages.map((_, row) => row).filter((row) => each.some((e) => e.has(row)));
      expect((a.figure as { messages: number }).messages).toBe(all.length);
      expect(a.reach.map((r) => r.messages)).toEqual(names.map((n) => seen.rowsOf(n).length));
      const union = seen.unionOf(names)!;
      expect([...seen.rowsOf(union)]).toEqual(all);
    }),
    { seed: 3, numRuns: 400 },
  );
});

test('two plans over one table each have their own event of one name, and persons that are the same share nothing else', () => {
  const table = new MessageTable();
  for (let i = 0; i < 20; i++)
    table.append({ kind: 'event', name: 'Page Viewed', sourceId: 'web', release: '1', occurredAt: i * 60_000, page: i % 4 === 0 ? '/a' : '/b', ids: {}, properties: {}, seq: i + 1 }); // prettier-ignore
  const on = (page: string): Definition => ({
    name: 'Narrow',
    source: { of: 'events', names: ['Page Viewed'] },
    where: { match: 'all', conditions: [{ subject: { of: 'page path' }, op: 'is', values: [page] }], groups: [] },
    changes: [],
  });
  const persons = Array.from({ length: 20 }, (_, i) => i % 5);
  const people = attributedTo(table, Int32Array.from(persons));
  const count = (plan: Plan): number => {
    const c = { ...contextOf(withDefinitions(table, plan), persons), people: { ...people, table: withDefinitions(table, plan) } };
    return (answerOf({ type: 'active persons', events: [step('Narrow')], period: 'day' }, c).figure as { messages: number }).messages;
  };
  expect([count(planOf([on('/a')])), count(planOf([on('/b')])), count(planOf([on('/a')])), count(planOf([]))]).toEqual([5, 15, 5, 0]);
});

test('definitions that are made of one another hold nothing; the others do', () => {
  const of = (name: string, ...names: string[]): Definition => ({
    name,
    source: { of: 'events', names },
    where: { match: 'all', conditions: [], groups: [] },
    changes: [],
  });
  const held = heldDefinitions(planOf([of('A', 'B'), of('B', 'C'), of('C', 'A'), of('D', 'Tool Viewed')]));
  expect(held.map((d) => d.name)).toEqual(['D']);
});

const DAY = 86_400_000;
const from = 3 * DAY + 7 * 3_600_000;

test('before its start a definition is not measured: figures are those over what came from then on, in whole periods', () => {
  let some = 0;
  fc.assert(
    fc.property(fc.array(sent, { minLength: 5, maxLength: 40 }), formula, (messages, f) => {
      const text = JSON.stringify(f);
      fc.pre(text.includes('"First"'));
      const all: Definition = {
        name: 'First',
        source: { of: 'events', names: ['Tool Viewed'] },
        where: { match: 'all', conditions: [], groups: [] },
        changes: [],
      };
      const person = messages.map((m) => ('user' in m.ids ? Number(m.ids['user']!.slice(1)) : -1));
      const tableOf = (list: readonly Message[]): MessageTable => {
        const table = new MessageTable();
        list.forEach((m, i) => table.append({ ...m, seq: i + 1 }));
        return table;
      };
      const late = messages.map((m, i) => ({ m, p: person[i]! })).filter(({ m }) => m.occurredAt >= from);
      const measured = answerOf(f, contextOf(withDefinitions(tableOf(messages), planOf([{ ...all, since: from }])), person)).figure;
      const reference = answerOf(
        f,
        contextOf(
          withDefinitions(tableOf(late.map((x) => x.m)), planOf([all])),
          late.map((x) => x.p),
        ),
      ).figure;
      expect(measured.measuredFrom).toBe(from);
      expect(measured.askedFrom).toBe('overDays' in f ? 20 * DAY - f.overDays * DAY : undefined);
      const { measuredFrom: _, askedFrom: __, outside: ___, ...own } = measured;
      const { outside: ____, ...wanted } = reference;
      const points = 'points' in wanted ? (wanted.points as readonly { readonly from: number }[]).filter((p) => p.from >= from) : undefined;
      expect(own).toEqual({
        ...wanted,
        ...(points ? { points } : {}),
        ...('latest' in wanted ? { latest: points!.findLast((p) => (p as { complete?: boolean }).complete) } : {}),
      });
      if (late.length > 0) some++;
    }),
    { seed: 4, numRuns: draws(200, 800) },
  );
  expect(some).toBeGreaterThan(draws(50, 200));
});

test('of a retention cohorts begin with the first whole day that is measured', () => {
  const table = new MessageTable();
  // Persons 0 to 9 start on days 0 to 9, and each comes back on the next day.
  const persons: number[] = [];
  const add = (name: string, day: number, p: number): void => {
    table.append({
      kind: 'event',
      name,
      sourceId: 'web',
      release: '1',
      occurredAt: day * DAY + 3_600_000,
      ids: {},
      properties: {},
      seq: persons.length + 1,
    });
    persons.push(p);
  };
  for (let day = 0; day < 10; day++) {
    add('Tool Viewed', day, day);
    if (day > 0) add('Loan Started', day, day - 1);
  }
  const plan = planOf([
    {
      name: 'Back',
      source: { of: 'events', names: ['Loan Started'] },
      where: { match: 'all', conditions: [], groups: [] },
      changes: [],
      since: 4 * DAY + 1,
    },
  ]);
  const f = {
    type: 'retention',
    start: step('Tool Viewed'),
    returning: step('Back'),
    day: 1,
    mode: 'on day',
    overDays: 20,
  } as unknown as Formula;
  const figure = answerOf(f, { ...contextOf(withDefinitions(table, plan), persons), now: 10 * DAY + 5 }).figure;
  expect(figure).toMatchObject({ type: 'retention', measuredFrom: 4 * DAY + 1, askedFrom: -10 * DAY + 5 });
  // Of days 5 to 8 all came back; whoever started before, or has not had their day, is not in it.
  expect(figure).toMatchObject({ size: 4, returned: 4 });
});
