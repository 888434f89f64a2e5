/** Every formula against the same figure by PostgreSQL on the same seeded rows.
 *  Source: PostgreSQL 15, its own calendar (`date_trunc … at time zone`), `percentile_cont` and window functions.
 *  Persons are given to both sides as a column: identity has tests of its own.
 */
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { figureOf } from '../../src/core/questions/compute-figure';
import type { FigureContext } from '../../src/core/questions/figure';
import { type Formula, type Step } from '../../src/core/questions/formula';
import { attributedTo } from '../../src/core/table/following-persons';
import { MessageTable } from '../../src/core/table/message-table';
import { seeded } from '../../src/demo/random';
import { DAY_MS } from '../../src/core/time';
import { testDatabase } from '../build/database';

const NOW = Date.parse('2026-11-23T15:00:00Z');
const PERSONS = 300;
const ZONE = 'America/New_York';
const EVENTS = ['Crate Moved', 'Crate Dropped', 'Mover Registered', 'Hall Opened'];
const HALLS = ['north', 'south', 'Łódź', ''];

interface Row {
  readonly name: string;
  readonly person: number;
  readonly at: number;
  readonly hall: string | undefined;
  readonly weight: number | undefined;
}

const makeRows = (): Row[] => {
  const random = seeded(42).next;
  const whole = (n: number): number => Math.floor(random() * n);
  // Two days that are not 24 hours long lie in it: 8 March and 1 November 2026.
  const from = Date.parse('2026-02-20T00:00:00Z');
  return Array.from({ length: 9000 }, () => ({
    name: EVENTS[whole(EVENTS.length)]!,
    person: random() < 0.04 ? -1 : whole(PERSONS),
    at: from + whole(NOW + 2 * DAY_MS - from),
    hall: random() < 0.1 ? undefined : HALLS[whole(HALLS.length)]!,
    weight: random() < 0.1 ? undefined : whole(400) / 4,
  }));
};

let client: pg.Client;
let context: FigureContext;

beforeAll(async () => {
  client = new pg.Client({ connectionString: await testDatabase('figures_test', 'bare') });
  await client.connect();
  await client.query(`create table m (name text, person int, at timestamptz, hall text, weight float8)`);
  const rows = makeRows();
  await client.query(
    `insert into m select * from json_to_recordset($1) as t(name text, person int, at timestamptz, hall text, weight float8)`,
    [JSON.stringify(rows.map((r) => ({ ...r, at: new Date(r.at).toISOString() })))],
  );
  const table = new MessageTable();
  rows.forEach((r, i) =>
    table.append({
      seq: i + 1,
      kind: 'event',
      name: r.name,
      sourceId: 's',
      release: '',
      occurredAt: r.at,
      ids: {},
      properties: { ...(r.hall === undefined ? {} : { hall: r.hall }), ...(r.weight === undefined ? {} : { weight: r.weight }) },
    }),
  );
  context = {
    people: attributedTo(
      table,
      Int32Array.from(rows, (r) => r.person),
    ),
    settings: { timeZone: ZONE, weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 0 },
    now: NOW,
  };
});
afterAll(() => client.end());

const sql = async <T extends object>(text: string): Promise<T[]> =>
  (await client.query<T>(text.replaceAll('NOW', `timestamptz '${new Date(NOW).toISOString()}'`).replaceAll('ZONE', `'${ZONE}'`))).rows;
const on = (eventName: string): Step => ({ eventName, where: [] });
const figure = <T extends Formula['type']>(f: Extract<Formula, { type: T }>) =>
  figureOf(f, context) as Extract<ReturnType<typeof figureOf>, { type: T }>;
const n = (v: unknown): number => Number(v);

describe('against PostgreSQL', () => {
  test.each(['day', 'week', 'month'] as const)('active persons by %s, over changes of the clock', async (period) => {
    const rows = await sql<{ start: Date; persons: string; messages: string }>(
      `select date_trunc('${period}', at at time zone ZONE) at time zone ZONE as start, count(distinct person) filter (where person >= 0) as persons, count(*) as messages
       from m where name in ('Crate Moved', 'Hall Opened') and at <= NOW group by 1 order by 1`,
    );
    const f = figure({ type: 'active persons', events: [on('Crate Moved'), on('Hall Opened')], period });
    expect(f.points.filter((p) => p.messages > 0).map((p) => [p.from, p.persons, p.messages])).toEqual(
      rows.map((r) => [r.start.getTime(), n(r.persons), n(r.messages)]),
    );
  });

  test('active persons of a rolling week', async () => {
    const rows = await sql<{ start: Date; persons: string }>(
      `with days as (select generate_series(timestamp '2026-02-19', (NOW at time zone ZONE), interval '1 day') as d)
       select d at time zone ZONE as start, (select count(distinct person) from m where person >= 0 and name = 'Crate Moved' and at <= NOW
         and at >= (d - interval '6 days') at time zone ZONE and at < (d + interval '1 day') at time zone ZONE) as persons from days order by d`,
    );
    const f = figure({ type: 'active persons', events: [on('Crate Moved')], period: 'day', rollingDays: 7 });
    const bySql = new Map(rows.map((r) => [r.start.getTime(), n(r.persons)]));
    expect(f.points.length).toBeGreaterThan(270);
    for (const p of f.points) expect(p.persons, new Date(p.from).toISOString()).toBe(bySql.get(p.from));
  });

  test('conversion in order: three steps within ten days of the first', async () => {
    const [row] = await sql<{ a: string; b: string; c: string }>(
      `with a as (select person, at from m where name = 'Mover Registered' and person >= 0 and at between NOW - interval '2688 hours' and NOW),
       reach as (select a.person, case when min(b.at) is null then 1 when exists (select 1 from m c where c.person = a.person and c.name = 'Crate Dropped'
           and c.at > min(b.at) and c.at <= a.at + interval '240 hours' and c.at <= NOW) then 3 else 2 end as steps
         from a left join m b on b.person = a.person and b.name = 'Crate Moved' and b.at > a.at and b.at <= a.at + interval '240 hours' and b.at <= NOW
         group by a.person, a.at)
       select count(distinct person) as a, count(distinct person) filter (where steps > 1) as b, count(distinct person) filter (where steps > 2) as c from reach`,
    );
    const f = figure({
      type: 'conversion',
      steps: [on('Mover Registered'), on('Crate Moved'), on('Crate Dropped')],
      windowMs: 10 * DAY_MS,
      overDays: 112,
    });
    expect(f.steps.map((s) => s.persons)).toEqual([n(row!.a), n(row!.b), n(row!.c)]);
  });

  test('conversion in any order', async () => {
    const [row] = await sql<{ a: string; b: string; c: string }>(
      `with a as (select person, at from m where name = 'Mover Registered' and person >= 0 and at between NOW - interval '2688 hours' and NOW),
       done as (select a.person, bool_or(b.name = 'Crate Moved') as moved, bool_or(b.name = 'Crate Dropped') as dropped
         from a left join m b on b.person = a.person and b.at > a.at and b.at <= a.at + interval '72 hours' and b.at <= NOW group by a.person, a.at)
       select count(distinct person) as a, count(distinct person) filter (where moved) as b, count(distinct person) filter (where moved and dropped) as c from done`,
    );
    const steps = [on('Mover Registered'), on('Crate Moved'), on('Crate Dropped')];
    const f = figure({ type: 'conversion', steps, windowMs: 3 * DAY_MS, overDays: 112, anyOrder: true });
    expect(f.steps.map((s) => s.persons)).toEqual([n(row!.a), n(row!.b), n(row!.c)]);
  });

  test('average per person, over those with the event and over the active', async () => {
    const rows = await sql<{ start: Date; messages: string; own: string; active: string }>(
      `select date_trunc('week', at at time zone ZONE) at time zone ZONE as start, count(*) filter (where name = 'Crate Moved' and person >= 0) as messages,
         count(distinct person) filter (where name = 'Crate Moved' and person >= 0) as own, count(distinct person) filter (where person >= 0) as active
       from m where name in ('Crate Moved', 'Hall Opened') and at <= NOW group by 1 order by 1`,
    );
    const own = figure({ type: 'average per person', event: on('Crate Moved'), per: 'persons with it', active: [], period: 'week' });
    const active = figure({
      type: 'average per person',
      event: on('Crate Moved'),
      per: 'active persons',
      active: [on('Crate Moved'), on('Hall Opened')],
      period: 'week',
    });
    expect(own.points.map((p) => p.value)).toEqual(rows.map((r) => n(r.messages) / n(r.own)));
    expect(active.points.map((p) => p.value)).toEqual(rows.map((r) => n(r.messages) / n(r.active)));
  });

  test.each(['on day', 'on or after day'] as const)(
    'retention %s 10: size and returned of every day’s cohort together, the young left out',
    async (mode) => {
      const compare = mode === 'on day' ? '=' : '>=';
      const [row] = await sql<{ size: string; returned: string; young: string }>(
        `with first as (select person, min(at) as at from m where name = 'Mover Registered' and person >= 0 and at <= NOW group by person),
       cohort as (select person, (at at time zone ZONE)::date as d from first where (at at time zone ZONE)::date >= ((NOW - interval '1440 hours') at time zone ZONE)::date),
       judged as (select d, d + 10 >= (NOW at time zone ZONE)::date as young, exists (select 1 from m where m.person = cohort.person and name = 'Crate Moved'
         and at <= NOW and (at at time zone ZONE)::date ${compare} d + 10) as back from cohort)
       select count(*) filter (where not young) as size, count(*) filter (where not young and back) as returned, count(*) filter (where young) as young from judged`,
      );
      const f = figure({ type: 'retention', start: on('Mover Registered'), returning: on('Crate Moved'), day: 10, mode, overDays: 60 });
      expect([f.size, f.returned, f.young]).toEqual([n(row!.size), n(row!.returned), n(row!.young)]);
    },
  );

  test('total of a property: sum, mean, median and p95 by week', async () => {
    const rows = await sql<Record<'sum' | 'mean' | 'median' | 'p95', number> & { start: Date; n: string }>(
      `select date_trunc('week', at at time zone ZONE) at time zone ZONE as start, count(weight) as n, sum(weight) as sum, avg(weight) as mean,
         percentile_cont(0.5) within group (order by weight) as median, percentile_cont(0.95) within group (order by weight) as p95
       from m where name = 'Crate Moved' and at <= NOW group by 1 order by 1`,
    );
    const f = figure({ type: 'total of a property', event: on('Crate Moved'), property: 'weight', period: 'week' });
    expect(f.points.map((p) => [p.from, p.n, p.sum])).toEqual(rows.map((r) => [r.start.getTime(), n(r.n), r.sum]));
    f.points.forEach((p, i) => {
      expect(p.mean).toBeCloseTo(rows[i]!.mean, 10);
      expect(p.median).toBeCloseTo(rows[i]!.median, 10);
      expect(p.p95).toBeCloseTo(rows[i]!.p95, 10);
    });
  });

  test.each(['messages', 'persons', 'sum'] as const)('top values by %s', async (measure) => {
    const amount = { messages: 'count(*)', persons: 'count(distinct person) filter (where person >= 0)', sum: 'coalesce(sum(weight), 0)' }[
      measure
    ];
    const rows = await sql<{ hall: string; amount: string }>(
      `select hall, ${amount} as amount from m where name = 'Crate Moved' and hall is not null and at between NOW - interval '672 hours' and NOW group by hall`,
    );
    const f = figure({ type: 'top values', event: on('Crate Moved'), property: 'hall', measure, sumOf: 'weight', overDays: 28 });
    expect(new Map(f.ranked.map((r) => [r.value, r.amount]))).toEqual(new Map(rows.map((r) => [r.hall, n(r.amount)])));
    expect(f.ranked.map((r) => r.amount)).toEqual([...f.ranked].map((r) => r.amount).sort((a, b) => b - a));
  });

  test('share who also did, and the rate of a value', async () => {
    const window = `at between NOW - interval '672 hours' and NOW`;
    const [share] = await sql<{ a: string; both: string }>(
      `with a as (select distinct person from m where name = 'Crate Moved' and person >= 0 and ${window}), b as (select distinct person from m where name = 'Crate Dropped' and person >= 0 and ${window})
       select count(*) as a, count(*) filter (where person in (select person from b)) as both from a`,
    );
    const s = figure({ type: 'share who also did', first: on('Crate Moved'), also: on('Crate Dropped'), overDays: 28 });
    expect([s.first, s.both]).toEqual([n(share!.a), n(share!.both)]);
    const [rate] = await sql<{ hits: string; of: string; phits: string; persons: string }>(
      `select count(*) filter (where weight >= 50) as hits, count(*) as of, count(distinct person) filter (where weight >= 50 and person >= 0) as phits,
         count(distinct person) filter (where person >= 0) as persons from m where name = 'Crate Moved' and ${window}`,
    );
    const condition = { property: 'weight', op: 'at least', is: 50 } as const;
    const m = figure({ type: 'rate of a value', event: on('Crate Moved'), condition, of: 'messages', overDays: 28 });
    const p = figure({ type: 'rate of a value', event: on('Crate Moved'), condition, of: 'persons', overDays: 28 });
    expect([m.hits, m.total, p.hits, p.total]).toEqual([n(rate!.hits), n(rate!.of), n(rate!.phits), n(rate!.persons)]);
  });

  test('persons who did something are left out, or kept alone', async () => {
    const [row] = await sql<{ out: string; only: string }>(
      `with x as (select distinct person from m where name = 'Hall Opened' and hall = 'north' and person >= 0 and at <= NOW)
       select count(distinct person) filter (where person not in (select person from x)) as out, count(distinct person) filter (where person in (select person from x)) as only
       from m where name = 'Crate Moved' and person >= 0 and at between NOW - interval '672 hours' and NOW`,
    );
    const counted = (mode: 'leaving out' | 'keeping only') =>
      figure({
        type: 'share who also did',
        first: on('Crate Moved'),
        also: on('Crate Dropped'),
        overDays: 28,
        filters: [{ mode, who: 'persons', did: { eventName: 'Hall Opened', where: [{ property: 'hall', is: 'north' }] } }],
      }).first;
    expect([counted('leaving out'), counted('keeping only')]).toEqual([n(row!.out), n(row!.only)]);
  });
});
