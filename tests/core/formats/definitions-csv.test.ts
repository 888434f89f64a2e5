/** Definitions in a sheet: out and in again, changed rows, and what is refused with its cell. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Condition } from '../../../src/core/definitions/definition';
import { conditionsIn } from '../../../src/core/definitions/named';
import { definitionSchema } from '../../../src/core/definitions/definition-schema';
import { DEFINITION_COLUMNS, definitionsCsv, readDefinitions } from '../../../src/core/formats/definitions-csv';
import { toCsv } from '../../../src/core/formats/csv';
import { blank } from '../../../src/core/plan/defaults';
import { applyEdits, type Edit } from '../../../src/core/plan/edit';
import { entries, type Plan, type PlanDefinition } from '../../../src/core/plan/plan';
import { create, event, planWith } from '../../build/plan';
import { definition } from '../definitions/naive';

const how = () => {
  let n = 0;
  return { newId: () => `n${n++}`, keepsFormer: () => false, now: 0 };
};
const applied = (plan: Plan, edits: readonly Edit[]): Plan => {
  const r = applyEdits(plan, edits);
  if (!r.ok) throw new Error(JSON.stringify(r));
  return r.plan;
};
const bare = planWith([
  create('source', 'web', { name: 'Web catalogue', kind: 'web', mark: 'W' }),
  create('source', 'app', { name: 'app', kind: 'mobile', mark: 'A' }),
  event('e', { name: 'Tool Viewed' }),
]);
const withDefinitions = (bodies: readonly PlanDefinition[]): Plan => ({
  ...bare,
  definition: Object.fromEntries(bodies.map((b, i) => [`d${i}`, b])),
});
const bodies = (plan: Plan): PlanDefinition[] => entries(plan, 'definition').map(([, d]) => d);

const isOfSources = (c: Condition): boolean =>
  c.subject.of !== 'source' ||
  !['is', 'is not', 'is one of', 'is none of'].includes(c.op) ||
  c.values.every((v) => v === 'web' || v === 'app');

const body = fc
  .record({
    sentence: definition,
    description: fc.string({ unit: 'grapheme', maxLength: 30 }),
    owner: fc.constantFrom('', 'Ana, Li', '=SUM(A1)'),
    conversion: fc.boolean(),
    retired: fc.boolean(),
    changes: fc.constantFrom<PlanDefinition['changes']>(
      [],
      [{ what: 'set', name: 'hall', value: true }],
      [{ what: 'rename', name: ['loan', 'days'], to: 'nights' }, { what: 'drop', name: 'b, "c"' }],
    ), // prettier-ignore
  })
  .filter(
    ({ sentence }) => definitionSchema.safeParse({ ...sentence, changes: [] }).success && conditionsIn(sentence.where).every(isOfSources),
  )
  .map(({ sentence, ...more }) => blank('definition', { ...sentence, ...more }));

test('written and read into a workspace without them, they are the same; read again, nothing changes', () => {
  fc.assert(
    fc.property(fc.array(body, { maxLength: 4 }), (list) => {
      const plan = withDefinitions(list.map((d, i) => ({ ...d, name: `D ${i}` })));
      const text = definitionsCsv(plan);
      const read = readDefinitions(bare, text, how());
      expect(read.problems).toEqual([]);
      expect(bodies(applied(bare, read.edits))).toEqual(bodies(plan));
      expect([read.added, read.changed]).toEqual([list.length, 0]);
      expect(readDefinitions(plan, text, how())).toEqual({ edits: [], problems: [], added: 0, changed: 0 });
    }),
    { seed: 81, numRuns: 300 },
  );
});

test('a source is called by its name, and the sentence stands beside', () => {
  const plan = withDefinitions([
    blank('definition', {
      name: 'D',
      source: { of: 'events', names: ['Tool Viewed'] },
      where: { match: 'all', conditions: [{ subject: { of: 'source' }, op: 'is', values: ['web'] }], groups: [] },
    }),
  ]);
  const text = definitionsCsv(plan);
  expect(text).toContain('Web catalogue');
  expect(text).toContain('the source is “Web catalogue”');
  expect(bodies(applied(bare, readDefinitions(bare, text, how()).edits))[0]!.where).toEqual(bodies(plan)[0]!.where);
});

test('a sheet with few columns changes those alone', () => {
  const plan = withDefinitions([blank('definition', { name: 'D', owner: 'Ana', source: { of: 'views' }, description: 'Kept.' })]);
  const read = readDefinitions(plan, 'Definition;Owner;Conversion\r\nD;Bo;yes\r\nE;;\r\n', how());
  expect(read).toMatchObject({ problems: [], added: 1, changed: 1 });
  expect(bodies(applied(plan, read.edits))).toEqual([
    blank('definition', { name: 'D', owner: 'Bo', source: { of: 'views' }, description: 'Kept.', conversion: true }),
    blank('definition', { name: 'E' }),
  ]);
});

const row = (cells: Partial<Record<(typeof DEFINITION_COLUMNS)[number], string>>): string =>
  toCsv([DEFINITION_COLUMNS, DEFINITION_COLUMNS.map((c) => cells[c] ?? '')]);
const column = (heading: (typeof DEFINITION_COLUMNS)[number]): number => DEFINITION_COLUMNS.indexOf(heading) + 1;

test.each([
  ['no name', row({ owner: 'Ana' }), 'definition', 'needs a name'],
  ['conditions that are no JSON', row({ definition: 'D', where: '{"match"' }), 'where', 'are not JSON'],
  ['an operator of no kind', row({ definition: 'D', where: '{"match":"all","conditions":[{"subject":{"of":"release"},"op":"like","values":["8"]}],"groups":[]}' }), 'where', 'conditions.0.op'],
  ['a source that is not there', row({ definition: 'D', where: '{"match":"all","conditions":[{"subject":{"of":"source"},"op":"is","values":["Kiosk"]}],"groups":[]}' }), 'where', '“Kiosk” is not a source'],
  ['a change of no kind', row({ definition: 'D', properties: '[{"what":"double","name":"a"}]' }), 'properties', 'are not as they are written here'],
  ['a day of no calendar', row({ definition: 'D', from: 'last week' }), 'from', 'is not a date'],
  ['neither yes nor no', row({ definition: 'D', conversion: 'perhaps' }), 'conversion', 'neither yes nor no'],
  ['interactions and events', row({ definition: 'D', 'made of': 'interactions, Tool Viewed' }), 'made of', 'cannot be joined'],
] as const)('%s: the cell is named', (_, text, heading, detail) => {
  const { problems } = readDefinitions(bare, text, how());
  expect(problems).toEqual([{ row: 2, column: column(heading), detail: expect.stringContaining(detail) as string }]);
}); // prettier-ignore

test('a name that comes twice, and a sheet without names', () => {
  expect(readDefinitions(bare, 'definition\nD\nD\n', how()).problems).toEqual([{ row: 3, column: 1, detail: '“D” is in row 2 already.' }]);
  expect(readDefinitions(bare, 'event,owner\nD,Ana\n', how()).problems[0]?.detail).toContain('No column is headed “definition”');
});
