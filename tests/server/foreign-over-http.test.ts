/** Foreign workspaces through the whole application: an empty workspace gets a plan and a history over HTTP; what it then says of them is held against
 *  what was planted, and against PostgreSQL on rows of the test's own.
 */
import pg from 'pg';
import { afterAll, afterEach, beforeAll, expect, test } from 'vitest';
import type { SeenPair } from '../../src/core/arrival/seen';
import type { TriagedFinding } from '../../src/core/arrival/triage';
import type { FigureAnswer } from '../../src/core/questions/compute-figure';
import { typedFormula } from '../../src/core/questions/typed-conditions';
import { asOfNow, bringIn, post } from '../foreign/bring';
import { MANY_FAULTS, MESSAGE_FAULTS, type Plant } from '../foreign/faults';
import { formulasFor, rounded, told } from '../foreign/formulas';
import { nestedTwin } from '../foreign/nested';
import { sqlFigure, storeWorkspace } from '../foreign/sql';
import { foreignWorkspace } from '../foreign/workspace';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running, requestsTo } from '../build/server';
import { until } from '../build/wait';
import { draws } from '../build/draws';

interface Answer {
  readonly groups: readonly TriagedFinding[];
  readonly messages: number;
  readonly manyAt: number | null;
}

let client: pg.Client;
let server: Running | undefined;

beforeAll(async () => {
  client = new pg.Client({ connectionString: await testDatabase('foreign_rows', 'bare') });
  await client.connect();
});
afterEach(async () => {
  if (server) await endProcess(server, 'SIGTERM');
  server = undefined;
});
afterAll(() => client.end());

const cases: readonly (readonly [string, number, Plant])[] = [
  ['clean', 4101, (w) => ({ w, expected: undefined })],
  ['double-fire', 4102, MANY_FAULTS['double-fire']],
  ['premature-trigger', 4103, MANY_FAULTS['premature-trigger']],
  ['properties in objects', 4106, (w) => ({ w: nestedTwin(w), expected: undefined })],
  ['users-never-linked', 4104, MANY_FAULTS['users-never-linked']],
  ['user property off its list', 4105, MESSAGE_FAULTS['user property off its list']],
];

test.each(cases.filter((_, i) => i % 2 === 1 || draws(0, 1) === 1))('%s', async (_, seed, plant) => {
  const { w: planted, expected } = plant(foreignWorkspace(seed, 250), 1);
  const w = asOfNow(planted);
  const url = await testDatabase('foreign_app', 'empty');
  server = await startProcess(url);
  const base = server.url;
  const { get } = requestsTo(() => ({ url: base }));

  const ids = new Set(w.messages.map((m) => m.value.id)).size;
  expect(await bringIn(base, w)).toBe(ids);
  const sentAt = Date.now();
  let answer = await get<Answer>('/api/findings');
  await until('findings of all', async () => {
    answer = await get<Answer>('/api/findings');
    return answer.messages >= ids && (answer.manyAt ?? 0) >= sentAt;
  });
  expect(answer.messages).toBe(ids);

  // What is found is what was planted, at its source, and nothing that it does not explain.
  const grave = answer.groups.filter((g) => g.severity !== 'note');
  if (expected) expect(grave.map((g) => [g.code, g.sourceId])).toContainEqual([expected.code, expected.sourceId]);
  const explained = new Set(expected ? [expected.code, ...(expected.also ?? [])] : []);
  expect(grave.filter((g) => !explained.has(g.code)).map((g) => g.sentence)).toEqual([]);
  for (const g of grave) expect([g.cause, g.fix, g.expected].map((text) => text.length > 0)).toEqual([true, true, true]);

  // Each event of each source that sent it is seen, with as many messages as were sent.
  const sent = new Map<string, Set<string>>();
  for (const m of w.messages.filter((x) => x.value.name !== undefined)) {
    const pair = `${m.value.name!} ${m.sourceId}`;
    sent.set(pair, (sent.get(pair) ?? new Set()).add(m.value.id));
  }
  const seen = await get<SeenPair[]>('/api/seen');
  const nameOf = (id: string): string => w.plan.event[id]!.name;
  expect(new Map(seen.map((s) => [`${nameOf(s.eventId)} ${s.sourceId}`, s.messages]))).toEqual(
    new Map([...sent].map(([pair, messages]) => [pair, messages.size])),
  );

  await storeWorkspace(client, w);
  for (const formula of formulasFor(w)) {
    const typed = typedFormula(w.plan, formula).formula;
    let [byApplication, bySql]: unknown[] = [undefined, undefined];
    // Both go by the clock; where a message falls between their two moments they are asked again.
    for (let i = 0; i < 3; i++) {
      bySql = rounded(await sqlFigure(client, { ...w, now: Date.now() }, typed));
      const lines = (await (await post(base, '/api/figure', { formula })).text()).trim().split('\n');
      byApplication = rounded(told((JSON.parse(lines.at(-1)!) as { answer: FigureAnswer }).answer.figure));
      if (JSON.stringify(byApplication) === JSON.stringify(bySql)) break;
    }
    expect([formula.type, byApplication]).toEqual([formula.type, bySql]);
  }
});
