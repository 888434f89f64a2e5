/** What is removed and brought in again is the same, whatever stands in it. */
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { objectAction } from '../../../src/core/naming/object-action';
import { readCsv } from '../../../src/core/formats/csv';
import { guessMapping, importCsv, planCsv } from '../../../src/core/formats/plan-csv';
import { importPlan, planSchema, planYaml, readPlanDocument } from '../../../src/core/formats/plan-document';
import { planJson } from '../../../src/core/formats/plan-json';
import { importThreeLevel, readThreeLevel, threeLevelNames, writeThreeLevel } from '../../../src/core/formats/three-level';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { contentHash } from '../../../src/core/plan/content-hash';
import { DEFAULT_SETTINGS } from '../../../src/core/plan/defaults';
import { applyEdits } from '../../../src/core/plan/edit';
import { emptyPlan, type Plan } from '../../../src/core/plan/plan';
import * as arbitrary from '../../build/arbitrary-plan';
import { event, planWith, property } from '../../build/plan';

const applied = (plan: Plan, edits: Parameters<typeof applyEdits>[1]): Plan => {
  const r = applyEdits(plan, edits);
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};
const ids = () => {
  let n = 0;
  return () => `n${n++}`;
};
const how = () => ({ newId: ids(), keepsFormer: () => false, now: 0, partsOf: objectAction });

describe('whole documents', () => {
  test('JSON and YAML: the same plan, and a document that its own schema lets pass', () => {
    const validate = new Ajv2020({ strict: false, validateFormats: false }).compile(planSchema());
    fc.assert(
      fc.property(arbitrary.plan, (plan) => {
        const hash = contentHash(plan);
        for (const text of [planJson(plan, 3, hash), planYaml(plan, 3, hash)]) {
          const read = readPlanDocument(text);
          if (!read.ok) throw new Error(read.detail);
          expect(read.value).toEqual(plan);
          expect(contentHash(read.value)).toBe(hash);
        }
        expect(validate(JSON.parse(planJson(plan, 3, hash))), JSON.stringify(validate.errors)).toBe(true);
        expect(applied(emptyPlan(DEFAULT_SETTINGS), importPlan(emptyPlan(DEFAULT_SETTINGS), plan, 'replace all'))).toEqual(plan);
        const kept = applied(emptyPlan(DEFAULT_SETTINGS), importPlan(emptyPlan(DEFAULT_SETTINGS), plan, 'replace'));
        expect(kept).toEqual({ ...plan, settings: emptyPlan(DEFAULT_SETTINGS).settings });
      }),
      { seed: 21, numRuns: 60 },
    );
  });
  test.each([
    ['neither JSON nor YAML', '{"a": [', 'This is neither JSON nor YAML'],
    ['another format', '{"format":"x/1","plan":{}}', 'The format is “x/1”'],
    ['no plan', 'format: signal-post-plan/1', 'has the fields format'],
    ['a wrong field', '{"format":"signal-post-plan/1","plan":{"event":{"e":{"name":5}}}}', 'event.e.name'],
    ['control characters in a name', '{"format":"signal-post-plan/1","plan":{"event":{"e":{"name":"a\\u0007"}}}}', 'control characters'],
  ])('%s is told', (_, text, detail) => {
    const read = readPlanDocument(text);
    expect(read.ok ? '' : read.detail).toContain(detail);
  });
});

describe('CSV, one row for each event and property', () => {
  /** Events with what they carry, by name: ids are not written. */
  const said = (p: Plan) => ({
    events: Object.values(p.event).map((e) => ({
      ...e,
      sources: e.sources.map((s) => ({ ...s, sourceId: p.source[s.sourceId]?.name })),
      properties: e.properties.map((x) => ({ ...x, propertyId: p.property[x.propertyId]?.name })),
    })),
    properties: Object.values(p.property)
      .map((x) => x)
      .sort((a, b) => (a.name < b.name ? -1 : 1)),
  });
  test('events, properties and which carries which come back as they were', () => {
    fc.assert(
      fc.property(arbitrary.plan, (plan) => {
        const table = readCsv(planCsv(plan));
        expect(table.problems).toEqual([]);
        const into: Plan = { ...emptyPlan(DEFAULT_SETTINGS), source: plan.source };
        const r = importCsv(into, table, guessMapping(table.header), how());
        expect(r.problems).toEqual([]);
        expect(said(applied(into, r.edits))).toEqual(said(plan));
        // Brought in over itself it changes nothing.
        expect(importCsv(plan, table, guessMapping(table.header), how()).edits).toEqual([]);
      }),
      { seed: 22, numRuns: 150 },
    );
  });
  test('headings as people write them are recognised; each problem has its row and column; nothing half done is meant', () => {
    const table = readCsv(
      'Event,Property,Type,Required,Owner\nShelf Stocked,shelf_code,strng,yes,Ines\nShelf Stocked,stock,integer,perhaps,Ravi\n,,,,\n',
    );
    expect(guessMapping(table.header)).toEqual(['event name', 'property name', 'property type', 'property required', 'event owner']);
    const r = importCsv(planWith([]), table, guessMapping(table.header), how());
    expect(r.problems.map((p) => [p.row, p.column])).toEqual([
      [2, 3],
      [3, 5],
      [3, 4],
    ]);
    expect(r.problems[1]!.detail).toContain('Another row of the same event says “Ines” here');
  });
  test('a file without names, and names that cannot be', () => {
    expect(importCsv(planWith([]), readCsv('colour\nred\n'), [undefined], how()).problems[0]?.detail).toContain('choose which is');
    const long = importCsv(planWith([]), readCsv(`event\n${'x'.repeat(10_000)}\na\u0007b\n`), ['event name'], how());
    expect(long.problems.map((p) => p.row)).toEqual([2, 3]);
  });
  test('twenty thousand rows in one go', () => {
    const rows = Array.from({ length: 20_000 }, (_, i) => `Stage ${i % 2000} Reached,stage_${i % 3000}`);
    const table = readCsv(`event,property\n${rows.join('\n')}\n`);
    const r = importCsv(planWith([]), table, guessMapping(table.header), how());
    expect([r.problems, r.added]).toEqual([[], { events: 2000, properties: 3000 }]);
  });
});

describe('three-level names', () => {
  const level = fc.stringMatching(/^[A-Za-z][a-z]{2,6}$/);
  test('in and out again: the same names, and details only where they were', () => {
    const list = fc.uniqueArray(fc.record({ group: level, action: level, detail: fc.oneof(fc.constant(''), level, fc.constant('a/b')) }), {
      selector: (n) => `${n.group}/${n.action}`.toLowerCase(),
      minLength: 1,
      maxLength: 6,
    });
    fc.assert(
      fc.property(list, (names) => {
        const text = writeThreeLevel(names);
        const read = readThreeLevel(text);
        expect(read).toEqual({ names, problems: [] });
        const plan = applied(planWith([]), importThreeLevel(planWith([]), read.names, ids()));
        // Two that would get the same name are one event; all others come back.
        if (Object.keys(plan.event).length === names.length)
          expect(new Set(writeThreeLevel(threeLevelNames(plan)).split('\n'))).toEqual(new Set(text.split('\n')));
      }),
      { seed: 23, numRuns: 200 },
    );
  });
  test('levels become object, action and the listed values of a property', () => {
    const plan = applied(
      planWith([]),
      importThreeLevel(planWith([]), readThreeLevel('Guide / open / saws\nGuide / open / drills\nGuide / print\n').names, ids()),
    );
    expect(Object.values(plan.event).map((e) => [e.name, e.object, e.properties.length])).toEqual([
      ['Guide Opened', 'guide', 1],
      ['Guide Printed', 'guide', 0],
    ]);
    expect(Object.values(plan.property)[0]).toMatchObject({ name: 'guide_detail', allowed: ['saws', 'drills'] });
  });
  test('an event that never was three-level gives object, action and each listed value', () => {
    const plan = planWith([
      property('p', { name: 'tool_category', allowed: ['drills', 'saws'] }),
      event('e', { name: 'Tool Viewed', object: 'tool', action: 'viewed', properties: [{ propertyId: 'p', required: true }] }),
    ]);
    expect(writeThreeLevel(threeLevelNames(plan))).toBe('tool / viewed / drills\ntool / viewed / saws\n');
  });
  test('a line without levels is told', () => expect(readThreeLevel('just this\n').problems[0]).toMatchObject({ row: 1 }));
});
