/** Definitions over foreign workspaces: what the columns take, against PostgreSQL on the messages as they were sent. */
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { judgeHistory } from '../../src/core/arrival/history';
import type { Condition, Definition, Group, Operand, Operator, Subject } from '../../src/core/definitions/definition';
import { rowsOfDefinition } from '../../src/core/definitions/matching-rows';
import { entries } from '../../src/core/plan/plan';
import { pathOf } from '../../src/core/plan/property-path';
import { isScalar, type MessageTable } from '../../src/core/table/message-table';
import { seeded, type Rng } from '../../src/demo/random';
import { testDatabase } from '../build/database';
import { nestedTwin } from './nested';
import { foreignWorkspace, type Foreign } from './workspace';
import { draws } from '../build/draws';

let client: pg.Client;
beforeAll(async () => {
  client = new pg.Client({ connectionString: await testDatabase('foreign_definitions', 'bare') });
  await client.connect();
});
afterAll(() => client.end());

const text = (s: string): string => `'${s.replaceAll("'", "''")}'`;

/** A subject as JSON, so that text and number stay apart; null where it is absent. */
const sqlSubject = (s: Subject): string => {
  const told = (sql: string): string => `to_jsonb(nullif(${sql}, ''))`;
  const address = `(body ->> 'page')`;
  switch (s.of) {
    case 'event name':
      return `case when coalesce(body ->> 'kind', 'event') = 'event' then body -> 'name' end`;
    case 'source':
      return 'to_jsonb(source)';
    case 'environment':
      return told(`coalesce(body ->> 'environment', 'production')`);
    case 'release':
      return told(`body ->> 'release'`);
    case 'page query':
      return told(`split_part(split_part(${address}, '#', 1), '?', 2)`);
    case 'page path':
      return `case when nullif(${address}, '') is not null then to_jsonb('/' || trim(both '/' from split_part(split_part(${address}, '#', 1), '?', 1))) end`;
    case 'page address':
      return told(address);
    default:
      return `nullif(body -> ${text(s.of === 'property' ? 'properties' : 'user_properties')} #> array[${pathOf(s.name).map(text).join(', ')}], 'null')`;
  }
};

const sqlCondition = ({ subject, op, values }: Condition): string => {
  const v = `(${sqlSubject(subject)})`;
  const [first] = values;
  const json = (x: Operand | undefined): string => `${text(JSON.stringify(x))}::jsonb`;
  const asText = `(case when jsonb_typeof(${v}) = 'string' then ${v} #>> '{}' end)`;
  const among = `${v} in (${values.map(json).join(', ')})`;
  const signs = { 'at least': '>=', 'at most': '<=', 'more than': '>', 'less than': '<' } as const;
  const on = ((): string => {
    switch (op) {
      case 'is':
        return `${v} = ${json(first)}`;
      case 'is not':
        return `${v} <> ${json(first)}`;
      case 'is one of':
        return among;
      case 'is none of':
        return `not (${among})`;
      case 'contains':
        return `strpos(${asText}, ${text(String(first))}) > 0`;
      case 'starts with':
        return `starts_with(${asText}, ${text(String(first))})`;
      case 'matches':
        return `${asText} ~ ${text(String(first))}`;
      case 'is present':
        return `${v} is not null`;
      case 'is absent':
        return `${v} is null`;
      case 'is empty':
        return `${v} in ('""', '[]', '{}')`;
      default:
        return `(case when jsonb_typeof(${v}) = 'number' then (${v} #>> '{}')::numeric ${signs[op]} ${Number(first)} end)`;
    }
  })();
  return `coalesce(${on}, false)`;
};

const sqlGroup = (g: Pick<Group, 'match' | 'conditions'> & Partial<Group>): string => {
  const parts = [...g.conditions.map(sqlCondition), ...(g.groups ?? []).map(sqlGroup)];
  return parts.length === 0 ? String(g.match === 'all') : `(${parts.join(g.match === 'all' ? ' and ' : ' or ')})`;
};

const store = async (w: Foreign): Promise<void> => {
  await client.query('drop table if exists raw; create table raw (row int, source text, at timestamptz, body jsonb)');
  await client.query('insert into raw select * from json_to_recordset($1) as t(row int, source text, at timestamptz, body jsonb)', [
    JSON.stringify(w.messages.map((s, row) => ({ row, source: s.sourceId, at: s.value.time, body: s.value }))),
  ]);
  await client.query(
    `delete from raw using raw earlier where earlier.source = raw.source and earlier.body ->> 'id' = raw.body ->> 'id' and earlier.row < raw.row`,
  );
};

/** A condition on what the workspace really sends, so that a good part of them holds for some and fails for others. */
const drawn = (rng: Rng, table: MessageTable): Condition => {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(rng.next() * list.length)]!;
  const refs = [...table.properties].map(([ref]) => ref);
  const of = pick([
    'event name',
    'source',
    'environment',
    'release',
    'page path',
    'page query',
    'page address',
    'property',
    'property',
    'property',
  ] as const);
  const subject: Subject = of === 'property' ? { of, name: pick(refs) } : { of };
  const sent: Operand[] =
    subject.of === 'property'
      ? table.properties.get(subject.name)!.values.values.filter(isScalar).slice(0, 50)
      : of === 'event name'
        ? [...table.names.values]
        : of === 'source'
          ? [...table.sources.values]
          : of === 'release'
            ? [...table.releases.values]
            : of === 'environment'
              ? ['production', 'staging']
              : [...table.pages.values].map((p) => (of === 'page path' ? p.replace(/[?#].*$/, '') : p));
  const operands = sent.length > 0 ? sent : ['x'];
  const some = pick(operands);
  const ofText = String(some).slice(0, 6);
  const op = pick<Operator>([
    'is', 'is not', 'is one of', 'is none of', 'contains', 'starts with', 'matches', 'is present', 'is absent', 'is empty',
    ...(typeof some === 'number' ? (['at least', 'at most', 'more than', 'less than', 'at least', 'less than'] as const) : []),
  ]); // prettier-ignore
  switch (op) {
    case 'contains':
    case 'starts with':
      return { subject, op, values: [ofText] };
    case 'matches':
      return { subject, op, values: [`^${ofText.replace(/[^a-z0-9]/gi, '.')}`] };
    case 'is one of':
    case 'is none of':
      return { subject, op, values: [some, pick(operands)] };
    case 'is present':
    case 'is absent':
    case 'is empty':
      return { subject, op, values: [] };
    default:
      return { subject, op, values: [some] };
  }
};

const definitionsFor = (rng: Rng, w: Foreign, table: MessageTable): Definition[] =>
  Array.from({ length: 25 }, (): Definition => {
    const match = (): Group['match'] => (rng.next() < 0.6 ? 'all' : 'any');
    const conditions = (n: number): Condition[] => Array.from({ length: Math.floor(rng.next() * n) + 1 }, () => drawn(rng, table));
    const names = entries(w.plan, 'event').map(([, e]) => e.name);
    return {
      name: 'Narrow',
      source: { of: 'events', names: names.filter(() => rng.next() < 0.5) },
      where: { match: match(), conditions: conditions(3), groups: rng.next() < 0.4 ? [{ match: match(), conditions: conditions(2) }] : [] },
      changes: [],
      since: rng.next() < 0.3 ? w.from + (w.now - w.from) / 3 : undefined,
    };
  });

test.each(Array.from({ length: draws(4, 9) }, (_, i) => 5100 + i))('workspace %i', async (seed) => {
  const flat = foreignWorkspace(seed, 60);
  const w = seed % 3 === 0 ? nestedTwin(flat) : flat;
  const { table } = judgeHistory(w.plan, w.messages, w.now, w.from);
  await store(w);
  const rng = seeded(seed);
  let some = 0;
  for (const d of definitionsFor(rng, w, table)) {
    const rows = rowsOfDefinition(d, {
      table,
      environmentOf: (id) => w.plan.source[id]?.environment ?? '',
      userValues: () => ({ at: () => -1, values: [] }),
    });
    const names = d.source.of === 'events' ? d.source.names : [];
    const { rows: found } = await client.query<{ n: string }>(
      `select count(*) as n from raw where coalesce(body ->> 'kind', 'event') = 'event' and body ->> 'name' = any($1)
          and coalesce(body ->> 'environment', 'production') = 'production' and ($2::timestamptz is null or at >= $2) and ${sqlGroup(d.where)}`,
      [names, d.since === undefined ? null : new Date(d.since).toISOString()],
    );
    expect([seed, d, rows.length]).toEqual([seed, d, Number(found[0]!.n)]);
    if (rows.length > 0) some++;
  }
  // The proof is empty where nothing ever matches.
  expect(some).toBeGreaterThan(5);
});
