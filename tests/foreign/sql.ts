/** Persons and figures by PostgreSQL alone, over the rows of a workspace: joins, its own calendar, its own quantiles. */
import type pg from 'pg';
import type { Condition, Formula, Period, Step } from '../../src/core/questions/formula';
import type { Foreign } from './workspace';
import { pathOf, type PropertyRef } from '../../src/core/plan/property-path';

const text = (s: string): string => `'${s.replaceAll("'", "''")}'`;
const moment = (ms: number): string => `timestamptz '${new Date(ms).toISOString()}'`;

/** Brings the messages in, each ID once, and joins identifiers to persons: the least label among those that hang together. */
export const storeWorkspace = async (client: pg.Client, w: Foreign): Promise<void> => {
  const { links } = Object.values(w.plan.settings)[0]!.identity;
  await client.query(`drop table if exists m, node, link;
    create table m (row int, id text, name text, kind text, at timestamptz, received timestamptz, source text, ids jsonb, properties jsonb, person int)`);
  const rows = w.messages.map((s, row) => ({
    row,
    id: s.value.id,
    name: s.value.name ?? '',
    kind: s.value.kind ?? 'event',
    at: s.value.time,
    received: new Date(s.receivedAt).toISOString(),
    source: s.sourceId,
    ids: s.value.ids,
    properties: s.value.properties,
  }));
  await client.query(
    `insert into m select * from json_to_recordset($1) as t(row int, id text, name text, kind text, at timestamptz, received timestamptz, source text, ids jsonb, properties jsonb)`,
    [JSON.stringify(rows)],
  );
  await client.query(`delete from m using m earlier where earlier.id = m.id and earlier.row < m.row`);
  await client.query(`create table node as select kind, value, row_number() over ()::int as label
      from (select distinct i.key as kind, i.value from m, jsonb_each_text(ids) i) d;
    create table link (a int, b int)`);
  for (const [a, b] of links)
    await client.query(`insert into link select distinct x.label, y.label from m
        join node x on x.kind = ${text(a)} and x.value = ids ->> ${text(a)} join node y on y.kind = ${text(b)} and y.value = ids ->> ${text(b)}`);
  await client.query(`alter table node add person int; update node set person = label; insert into link select b, a from link`);
  for (let changed = 1; changed > 0;)
    changed = (
      await client.query(`update node n set person = least.person from (select l.a, min(o.person) as person from link l join node o on o.label = l.b group by l.a) least
        where least.a = n.label and least.person < n.person`)
    ).rowCount!;
  // The user ID says whose a message is; else the first identifier by name.
  await client.query(`update m set person = (select n.person from jsonb_each_text(m.ids) i join node n on n.kind = i.key and n.value = i.value
      order by i.key <> ${text(w.person)}, i.key collate "C" limit 1)`);
};

/** The value at a path, by PostgreSQL's own way of taking one. */
const at = (ref: PropertyRef, of = 'm'): string => `(${of}.properties #> array[${pathOf(ref).map(text).join(', ')}])`;

const holds = ({ property, op = 'is', is }: Condition, of: string): string => {
  const value = at(property, of);
  const has = `(${value} is not null)`;
  const json = `${text(JSON.stringify(is))}::jsonb`;
  const sign = { 'at least': '>=', 'at most': '<=', 'more than': '>', 'less than': '<' } as const;
  switch (op) {
    case 'is present':
      return has;
    case 'is absent':
      return `not ${has}`;
    case 'is':
      return `coalesce(${value} = ${json}, false)`;
    case 'is not':
      return `(${has} and ${value} <> ${json})`;
    case 'contains':
      throw new Error('not drawn');
    default:
      return `(case when jsonb_typeof(${value}) = 'number' then (${value})::text::numeric ${sign[op]} ${Number(is)} else false end)`;
  }
};
const fits = (s: Step, of = 'm'): string =>
  `(${of}.kind = 'event' and ${of}.name = ${text(s.eventName)}${s.where.map((c) => ` and ${holds(c, of)}`).join('')})`;

/** The figure in the shape that is compared. */
export const sqlFigure = async (client: pg.Client, w: Foreign, f: Formula): Promise<unknown> => {
  const { timeZone, weekStartsOn, clockToleranceSeconds } = Object.values(w.plan.settings)[0]!;
  const zone = text(timeZone);
  const now = moment(w.now);
  const ask = async (sql: string): Promise<Record<string, unknown>[]> => (await client.query<Record<string, unknown>>(sql)).rows;
  const until = `m.at <= ${now}`;
  const over = (days: number, of = 'm'): string => `(${of}.at between ${now} - interval '${days * 24} hours' and ${now})`;
  const local = (p: Period): string =>
    p === 'week'
      ? `((m.at at time zone ${zone})::date - (extract(isodow from m.at at time zone ${zone})::int - ${weekStartsOn} + 7) % 7)::timestamp`
      : `date_trunc('${p}', m.at at time zone ${zone})`;
  // Of a midnight that comes twice (Havana) PostgreSQL takes the second; the day begins with the first.
  const begin = (p: Period): string => {
    const at = `${local(p)} at time zone ${zone}`;
    return `case when (${at} - interval '1 hour') at time zone ${zone} = ${local(p)} then ${at} - interval '1 hour' else ${at} end`;
  };
  // What is dated more than a year before its receipt begins no series.
  const believed = `m.received - m.at <= interval '8784 hours'`;
  const byPeriod = async (p: Period, where: string, columns: string): Promise<[string, Record<string, unknown>][]> =>
    (await ask(`select ${begin(p)} as start, ${columns} from m where ${until} and ${believed} and ${where} group by 1`)).map((r) => [
      String((r['start'] as Date).getTime()),
      r,
    ]);
  switch (f.type) {
    case 'active persons': {
      const rows = await byPeriod(f.period, `(${f.events.map((s) => fits(s)).join(' or ')})`, 'count(distinct person) as a, count(*) as b');
      return Object.fromEntries(rows.map(([k, r]) => [k, [Number(r['a']), Number(r['b'])]]));
    }
    case 'average per person': {
      const rows = await byPeriod(f.period, `person is not null and ${fits(f.event)}`, 'count(*)::float8 / count(distinct person) as a');
      return Object.fromEntries(rows.map(([k, r]) => [k, r['a']]));
    }
    case 'total of a property': {
      const v = `(${at(f.property)} #>> '{}')::float8`;
      const rows = await byPeriod(
        f.period,
        `${fits(f.event)} and jsonb_typeof(${at(f.property)}) = 'number'`,
        `count(*) as n, sum(${v}) as sum, percentile_cont(0.5) within group (order by ${v}) as median, percentile_cont(0.95) within group (order by ${v}) as p95`,
      );
      return Object.fromEntries(rows.map(([k, r]) => [k, [Number(r['n']), r['sum'], r['median'], r['p95']]]));
    }
    case 'conversion': {
      const after = (a: string, b: string): string =>
        `(case when ${a}.source = ${b}.source then (${b}.at, ${b}.row) > (${a}.at, ${a}.row) else ${b}.at >= ${a}.at - interval '${clockToleranceSeconds} seconds' and ${a}.row <> ${b}.row end)`;
      const counts: number[] = [];
      for (let n = 1; n <= f.steps.length; n++) {
        const parts = f.steps.slice(0, n).map((s, i) => {
          const earlier = Array.from({ length: i }, (_, k) => after(`s${k}`, `s${i}`));
          const own = `${fits(s, `s${i}`)} and ${over(f.overDays, `s${i}`)} and s${i}.person is not null`;
          return i === 0
            ? { from: 'm s0', where: own }
            : {
                from: `join m s${i} on s${i}.person = s0.person and s${i}.at - s0.at <= interval '${f.windowMs} milliseconds' and ${earlier.join(' and ')}`,
                where: own,
              };
        });
        const [row] = await ask(
          `select count(distinct s0.person) as n from ${parts.map((p) => p.from).join(' ')} where ${parts.map((p) => p.where).join(' and ')}`,
        );
        counts.push(Number(row!['n']));
      }
      return counts;
    }
    case 'retention': {
      const day = (at: string): string => `(${at} at time zone ${zone})::date`;
      const [row] =
        await ask(`with first as (select person, min(at) as at from m where ${until} and person is not null and ${fits(f.start)} group by person),
          cohort as (select person, ${day('at')} as d from first where ${day('at')} >= ${day(`(${now} - interval '${f.overDays * 24} hours')`)}),
          judged as (select d + ${f.day} >= ${day(now)} as young, exists (select 1 from m where m.person = c.person and ${until} and ${fits(f.returning)}
            and ${day('m.at')} ${f.mode === 'on day' ? '=' : '>='} c.d + ${f.day}) as back from cohort c)
        select count(*) filter (where not young) as size, count(*) filter (where not young and back) as returned, count(*) filter (where young) as young from judged`);
      return [row!['size'], row!['returned'], row!['young']].map(Number);
    }
    case 'top values': {
      const v = at(f.property);
      const rows = await ask(`select ${v} #>> '{}' as v, count(*) as n from m where ${over(f.overDays)} and ${fits(f.event)}
          and jsonb_typeof(${v}) in ('string', 'number', 'boolean') group by 1`);
      return Object.fromEntries(rows.map((r) => [r['v'], Number(r['n'])]));
    }
    case 'share who also did': {
      const who = (s: Step): string => `select distinct person from m where person is not null and ${over(f.overDays)} and ${fits(s)}`;
      const [row] = await ask(`with a as (${who(f.first)}), b as (${who(f.also)})
        select (select count(*) from a) as a, (select count(*) from a join b using (person)) as both`);
      return [Number(row!['a']), Number(row!['both'])];
    }
    default: {
      const what = f.of === 'messages' ? '*' : 'distinct person';
      const [row] = await ask(`select count(${what}) as of, count(${what}) filter (where ${holds(f.condition, 'm')}) as hits
          from m where ${over(f.overDays)} and ${fits(f.event)}`);
      return [Number(row!['of']), Number(row!['hits'])];
    }
  }
};
