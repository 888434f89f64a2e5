/** Every formula over the columns of two million messages against the same figure in SQL in the same run: the same answer first.
 *  PostgreSQL has the rows in a narrow table with an index on (name, at), vacuumed and analysed, and its default settings.
 */
import assert from 'node:assert/strict';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import { from as copyFrom } from 'pg-copy-streams';
import { figureOf } from '../src/core/questions/compute-figure';
import type { Figure, FigureContext } from '../src/core/questions/figure';
import { type Formula, type Step } from '../src/core/questions/formula';
import { attributedTo } from '../src/core/table/following-persons';
import { MessageTable } from '../src/core/table/message-table';
import { seeded } from '../src/demo/random';
import { DAY_MS } from '../src/core/time';
import { goal, measure, size } from './measure';

const MESSAGES = size(2_000_000, 30_000);
const PERSONS = size(200_000, 3000);
const DAYS = 56;
const NOW = Date.parse('2026-11-23T15:00:00Z');
const ZONE = 'Europe/London';
const EVENTS = ['Crate Viewed', 'Crate Moved', 'Mover Registered', 'Hall Opened'];
const HALLS = Array.from({ length: 12 }, (_, i) => `hall ${i}`);
const ROUNDS = 5;
const FLOOR = 20;
const REPEATS = size(8, 1);

const on = (eventName: string): Step => ({ eventName, where: [] });
const VIEWED = on('Crate Viewed');
const MOVED = on('Crate Moved');
const BEGUN = on('Mover Registered');

interface Case {
  readonly name: string;
  readonly formula: Formula;
  readonly sql: string;
  /** The figure as the rows that the query gives. */
  readonly rows: (f: Figure) => readonly (readonly (number | string)[])[];
}

const AT = `timestamptz '${new Date(NOW).toISOString()}'`;
const since = (days: number): string => `at between ${AT} - interval '${days * 24} hours' and ${AT}`;
const period = (unit: string): string =>
  `extract(epoch from date_trunc('${unit}', at at time zone '${ZONE}') at time zone '${ZONE}') * 1000`;
const as = <T extends Figure['type']>(f: Figure, type: T): Extract<Figure, { type: T }> => {
  assert.equal(f.type, type);
  return f as Extract<Figure, { type: T }>;
};

const CASES: readonly Case[] = [
  {
    name: 'active persons by week',
    formula: { type: 'active persons', events: [VIEWED, MOVED], period: 'week' },
    sql: `select ${period('week')} as k, count(distinct person) from m where name in ('Crate Viewed', 'Crate Moved') and at <= ${AT} group by 1 order by 1`,
    rows: (f) => as(f, 'active persons').points.map((p) => [p.from, p.persons]),
  },
  {
    name: 'conversion within 7 days',
    formula: { type: 'conversion', steps: [VIEWED, MOVED], windowMs: 7 * DAY_MS, overDays: 28 },
    sql: `select count(distinct person), count(distinct person) filter (where moved <= at + interval '168 hours') from (
            select person, name, at, min(case when name = 'Crate Moved' then at end) over (partition by person order by at rows between 1 following and unbounded following) as moved
            from m where name in ('Crate Viewed', 'Crate Moved') and ${since(28)}) x where name = 'Crate Viewed'`,
    rows: (f) => [as(f, 'conversion').steps.map((s) => s.persons)],
  },
  {
    name: 'average per person by week',
    formula: { type: 'average per person', event: MOVED, per: 'persons with it', active: [], period: 'week' },
    sql: `select ${period('week')} as k, count(*), count(distinct person) from m where name = 'Crate Moved' and at <= ${AT} group by 1 order by 1`,
    rows: (f) => as(f, 'average per person').points.map((p) => [p.from, p.messages, p.persons]),
  },
  {
    name: 'retention on or after day 14',
    formula: { type: 'retention', start: BEGUN, returning: VIEWED, day: 14, mode: 'on or after day', overDays: 56 },
    sql: `with first as (select person, (min(at) at time zone '${ZONE}')::date as d from m where name = 'Mover Registered' and at <= ${AT} group by person),
            last as (select person, (max(at) at time zone '${ZONE}')::date as d from m where name = 'Crate Viewed' and at <= ${AT} group by person),
            judged as (select f.d, coalesce(l.d >= f.d + 14, false) as back from first f left join last l using (person)
              where f.d >= ((${AT} - interval '1344 hours') at time zone '${ZONE}')::date and f.d + 14 < (${AT} at time zone '${ZONE}')::date)
          select count(*), count(*) filter (where back) from judged`,
    rows: (f) => [[as(f, 'retention').size, as(f, 'retention').returned]],
  },
  {
    name: 'total of a property by week',
    formula: { type: 'total of a property', event: MOVED, property: 'weight', period: 'week' },
    sql: `select ${period('week')} as k, sum(weight), percentile_cont(0.5) within group (order by weight), percentile_cont(0.95) within group (order by weight)
          from m where name = 'Crate Moved' and at <= ${AT} group by 1 order by 1`,
    rows: (f) => as(f, 'total of a property').points.map((p) => [p.from, p.sum!, p.median!, p.p95!]),
  },
  {
    name: 'top values by persons',
    formula: { type: 'top values', event: VIEWED, property: 'hall', measure: 'persons', overDays: 28 },
    sql: `select hall, count(distinct person) from m where name = 'Crate Viewed' and ${since(28)} group by hall order by 2 desc, 1`,
    rows: (f) =>
      [...as(f, 'top values').ranked]
        .map((r) => [String(r.value), r.amount] as const)
        .sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1)),
  },
  {
    name: 'share who also did',
    formula: { type: 'share who also did', first: VIEWED, also: MOVED, overDays: 28 },
    sql: `select count(*), count(b.person) from (select distinct person from m where name = 'Crate Viewed' and ${since(28)}) a
          left join (select distinct person from m where name = 'Crate Moved' and ${since(28)}) b using (person)`,
    rows: (f) => [[as(f, 'share who also did').first, as(f, 'share who also did').both]],
  },
  {
    name: 'rate of a value, of persons',
    formula: {
      type: 'rate of a value',
      event: MOVED,
      condition: { property: 'weight', op: 'at least', is: 50 },
      of: 'persons',
      overDays: 28,
    },
    sql: `select count(distinct person) filter (where weight >= 50), count(distinct person) from m where name = 'Crate Moved' and ${since(28)}`,
    rows: (f) => [[as(f, 'rate of a value').hits, as(f, 'rate of a value').total]],
  },
];

export const benchFigures = async (): Promise<boolean> => {
  const url = process.env['BENCH_DATABASE_URL'];
  assert(url, 'BENCH_DATABASE_URL is not set; run ./signal-post bench');
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  await client.query('drop table if exists m; create table m (name text, person int, at timestamptz, hall text, weight float8)');
  const random = seeded(17).next;
  const whole = (n: number): number => Math.floor(random() * n);
  const table = new MessageTable();
  const personOfMessage = new Int32Array(MESSAGES);
  const lines = function* (): Iterable<string> {
    let chunk: string[] = [];
    for (let i = 0; i < MESSAGES; i++) {
      // More views than moves, persons of unequal activity, times mostly in order.
      const name = EVENTS[[0, 0, 0, 0, 1, 1, 2, 3][whole(8)]!]!;
      const person = Math.floor(random() ** 2 * PERSONS);
      const at = NOW - DAYS * DAY_MS + Math.floor((i / MESSAGES) * DAYS * DAY_MS) + whole(60_000);
      const hall = HALLS[whole(HALLS.length)]!;
      const weight = whole(400) / 4;
      personOfMessage[i] = person;
      table.append({ seq: i + 1, kind: 'event', name, sourceId: 's', release: '', occurredAt: at, ids: {}, properties: { hall, weight } });
      chunk.push(`${name}\t${person}\t${new Date(at).toISOString()}\t${hall}\t${weight}\n`);
      if (chunk.length === 10_000) {
        yield chunk.join('');
        chunk = [];
      }
    }
    yield chunk.join('');
  };
  await pipeline(Readable.from(lines()), client.query(copyFrom('copy m from stdin')));
  await client.query('create index on m (name, at)');
  await client.query('vacuum analyze m');
  console.log(`${MESSAGES.toLocaleString('en-GB')} messages of ${PERSONS.toLocaleString('en-GB')} persons in columns and in PostgreSQL`);
  const context: FigureContext = {
    people: attributedTo(table, personOfMessage),
    settings: { timeZone: ZONE, weekStartsOn: 1, sessionGapMinutes: 30, clockToleranceSeconds: 0 },
    now: NOW,
  };
  let met = true;
  for (const c of CASES) {
    const bySql = (await client.query<(number | string)[]>({ text: c.sql, rowMode: 'array' })).rows;
    const own = c.rows(figureOf(c.formula, context));
    assert.equal(own.length, bySql.length, c.name);
    own.forEach((row, i) =>
      row.forEach((v, k) => {
        const other = bySql[i]![k]!;
        if (typeof v === 'string') assert.equal(v, other, c.name);
        else assert.ok(Math.abs(v - Number(other)) <= 1e-9 * Math.max(1, Math.abs(v)), `${c.name}: ${v} is not ${String(other)}`);
      }),
    );
    const t = await measure(
      [
        {
          name: 'columns',
          // A server answers again and again; what its collector does between two benches is not what is measured.
          run: () => {
            for (let r = 0; r < REPEATS; r++) figureOf(c.formula, context);
          },
        },
        { name: 'sql', run: async () => void (await client.query(c.sql)) },
      ],
      ROUNDS,
    );
    met =
      goal(
        `${c.name}, times as fast as SQL (${(t.get('columns')! / REPEATS).toFixed(1)} ms against ${t.get('sql')!.toFixed(0)} ms)`,
        (t.get('sql')! * REPEATS) / t.get('columns')!,
        FLOOR,
      ) && met;
  }
  await client.query('drop table m');
  await client.end();
  return met;
};
