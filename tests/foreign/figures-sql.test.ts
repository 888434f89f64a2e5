/** Figures of foreign workspaces against the same by PostgreSQL on the same rows, persons joined by SQL too. */
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { judgeHistory } from '../../src/core/arrival/history';
import { settingsOf } from '../../src/core/plan/plan';
import { figureOf } from '../../src/core/questions/compute-figure';
import { typedFormula } from '../../src/core/questions/typed-conditions';
import { testDatabase } from '../build/database';
import { formulasFor, rounded, told, withAbsurdDates } from './formulas';
import { nestedTwin } from './nested';
import { sqlFigure, storeWorkspace } from './sql';
import { foreignWorkspace } from './workspace';
import { draws } from '../build/draws';

let client: pg.Client;
beforeAll(async () => {
  client = new pg.Client({ connectionString: await testDatabase('foreign_figures', 'bare') });
  await client.connect();
});
afterAll(() => client.end());

test.each(Array.from({ length: draws(8, 24) }, (_, i) => 3500 + i))('workspace %i', async (seed) => {
  const flat = withAbsurdDates(foreignWorkspace(seed, 80));
  // A third with their properties in objects.
  const w = seed % 3 === 0 ? nestedTwin(flat) : flat;
  const { persons } = judgeHistory(w.plan, w.messages, w.now, w.from);
  await storeWorkspace(client, w);
  const { rows } = await client.query<{ n: string }>('select count(distinct person) as n from m');
  expect(new Set(persons.personOfMessage.filter((p) => p >= 0)).size).toBe(Number(rows[0]!.n));
  const c = { people: persons, settings: settingsOf(w.plan), now: w.now };
  for (const formula of formulasFor(w)) {
    const typed = typedFormula(w.plan, formula).formula;
    expect([seed, typed.type, rounded(told(figureOf(typed, c)))]).toEqual([seed, typed.type, rounded(await sqlFigure(client, w, typed))]);
  }
});
