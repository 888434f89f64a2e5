/** Every field of every sheet over HTTP: set, cleared, undone, redone and imported, as a browser does it. The list is that of the field
 *  definitions, so a new field is tried without being named here.
 */
import { writtenTo } from '../../src/core/plan/sheet-writes';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { objectAction } from '../../src/core/naming/object-action';
import { readCsv } from '../../src/core/formats/csv';
import { guessMapping, importCsv, planCsv } from '../../src/core/formats/plan-csv';
import { importPlan, planYaml, readPlanDocument } from '../../src/core/formats/plan-document';
import { blank, DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { editsBetween } from '../../src/core/plan/diff';
import { applyEdits, invertAll, sameValue, type Edit } from '../../src/core/plan/edit';
import { SHEETS } from '../../src/core/plan/fields/index';
import type { Field, Writing } from '../../src/core/plan/fields/field';
import { emptyPlan, type Id, type Plan } from '../../src/core/plan/plan';
import { create, event, planWith, property } from '../build/plan';
import { testDatabase } from '../build/database';
import { endProcess, startProcess, type Running } from '../build/server';

let server: Running;
beforeAll(async () => {
  const url = await testDatabase('fields_test', 'empty');
  server = await startProcess(url);
});
afterAll(() => endProcess(server, 'SIGTERM'));

const start = planWith([
  create('source', 'src', { name: 'Shop', kind: 'web', mark: 'S' }),
  create('identifierKind', 'kind', { name: 'visitor' }),
  property('weight', { type: 'number', unit: 'kg' }),
  property('parcel_no', { type: 'string' }),
  create('sharedSet', 'set', { name: 'Parcel', properties: [] }),
  event('posted', { name: 'Parcel Posted', properties: [{ propertyId: 'weight', required: true }] }),
  event('taken', { name: 'Parcel Taken' }),
  create('userProperty', 'plan', { name: 'postal_plan', type: 'string' }),
  create('definition', 'heavy', { name: 'Heavy Parcel Posted', source: { of: 'events', names: ['Parcel Posted'] } }),
]);
const how: Writing = { newId: () => crypto.randomUUID(), keepsFormer: () => true, now: 1_780_000_000_000, partsOf: objectAction };

const onServer = async (): Promise<Plan> => ((await (await fetch(`${server.url}/api/workplace`)).json()) as { plan: Plan }).plan;
const send = async (edits: readonly Edit[]): Promise<void> => {
  const r = await fetch(`${server.url}/api/edits`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ edits, label: 'A field', author: 'Ines' }),
  });
  expect([r.status, r.ok ? '' : await r.text()]).toEqual([200, '']);
};
/** The server's plan becomes this one. */
const putBack = async (plan: Plan): Promise<void> => {
  const edits = editsBetween(await onServer(), plan);
  if (edits.length > 0) await send(edits);
};
const expectPlan = async (plan: Plan): Promise<void> => {
  const there = await onServer();
  expect([sameValue(there, plan), sameValue(there, plan) ? [] : editsBetween(plan, there)]).toEqual([true, []]);
};
const applied = (plan: Plan, edits: readonly Edit[]): Plan => {
  const r = applyEdits(plan, edits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};

/** Texts of which one or the other says something in any field. */
const TEXTS = [
  '0', '1', '7', '2', 'yes', 'no', 'X', 'weight', 'visitor', 'Parcel', 'Shop (agreed; since 2.0)', 'Parcel Taken by parcel_no within 90 s', 'weight: 1, 2, 3',
  '2026-03-01', 'Europe/Lisbon', 'EUR', '1, 2, 5', 'Some Words', 'stop', 'note', 'tolerance 7',
]; // prettier-ignore

/** Edits that set the field to something that it is not, by what it offers or by one of the texts. */
const settings = (plan: Plan, field: Field, id: Id): readonly Edit[] | undefined => {
  for (const text of [...(field.options?.(plan) ?? []), ...TEXTS]) {
    const edits = writtenTo(plan, field, id, text, how);
    if (typeof edits !== 'string' && edits.length > 0) return edits;
  }
  return undefined;
};

/** What cannot be taken back has a test of its own, at the end. */
const FIELDS = SHEETS.flatMap((s) => s.fields.filter((f) => f.write && f.key !== 'registered').map((f) => [s.id, f.key, f, s] as const));

describe('each field', () => {
  test.each(FIELDS)('%s: %s', async (_, __, field, sheet) => {
    const id = sheet.rows(start).find((row) => settings(start, field, row) !== undefined);
    expect(id).toBeDefined();
    await putBack(start);
    const set = settings(start, field, id!)!;
    const after = applied(start, set);
    await send(set);
    await expectPlan(after);
    await send(invertAll(set));
    await expectPlan(start);
    await send(set);
    await expectPlan(after);
    const clear = field.write!(after, id!, '', how);
    if (typeof clear !== 'string' && clear.length > 0) {
      await send(clear);
      await expectPlan(applied(after, clear));
      await send(invertAll(clear));
      await expectPlan(after);
    }
  });
});

/** Everything set that can be set. */
const full = FIELDS.reduce((plan, [, , field, sheet]) => {
  for (const id of sheet.rows(plan)) {
    const edits = settings(plan, field, id);
    const r = edits && applyEdits(plan, edits);
    // Retired, an entity would be left out of what is exported.
    if (r?.ok && field.key !== 'retired' && field.key !== 'temporary') plan = r.plan;
  }
  return plan;
}, start);

test('a plan document with all of it is imported', async () => {
  await putBack(emptyPlan(DEFAULT_SETTINGS));
  const read = readPlanDocument(planYaml(full, 1, '0'.repeat(64)));
  if (!read.ok) throw new Error(read.detail);
  await send(importPlan(await onServer(), read.value, 'replace all'));
  await expectPlan(full);
});

test('a sheet with all of it is imported: every number, zero too, is there', async () => {
  const sheet = planCsv(applied(start, [{ op: 'set', kind: 'property', id: 'weight', field: 'min', before: undefined, after: 0 }]));
  await putBack(planWith([create('source', 'src', { name: 'Shop', kind: 'web', mark: 'S' })]));
  const table = readCsv(sheet);
  const r = importCsv(await onServer(), table, guessMapping(table.header), how);
  expect(r.problems).toEqual([]);
  await send(r.edits);
  expect(Object.values((await onServer()).property).find((p) => p.name === 'weight')?.min).toBe(0);
});

test('a field that must have a value is not cleared, and nothing is changed', async () => {
  await putBack(start);
  const r = await fetch(`${server.url}/api/edits`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      edits: [{ op: 'set', kind: 'property', id: 'weight', field: 'type', before: 'number' }],
      label: '',
      author: 'Ines',
    }),
  });
  expect(r.status).toBe(400);
  expect(((await r.json()) as { detail: string }).detail).toContain('type');
  await expectPlan(start);
  expect(blank('property').min).toBeUndefined();
});

test('what is registered is taken, from a document too, and never taken back', async () => {
  await putBack(start);
  const field = SHEETS.flatMap((s) => s.fields).find((f) => f.key === 'registered')!;
  const set = field.write!(start, 'plan', 'yes', how);
  if (typeof set === 'string') throw new Error(set);
  const registered = applied(start, set);
  const read = readPlanDocument(planYaml(registered, 1, '0'.repeat(64)));
  if (!read.ok) throw new Error(read.detail);
  await send(importPlan(await onServer(), read.value, 'replace all'));
  await expectPlan(registered);
  const back = await fetch(`${server.url}/api/edits`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ edits: invertAll(set), label: 'Undo', author: 'Ines' }),
  });
  expect([back.status, ((await back.json()) as { detail: string }).detail]).toEqual([422, '“postal_plan” is registered, which cannot be taken back: retire it instead.']); // prettier-ignore
  await expectPlan(registered);
});
