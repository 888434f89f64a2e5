/** What is written into several cells at once: all of it or nothing; what is replaced is what was looked for. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { applyEdits } from '../../../src/core/plan/edit';
import { SHEETS } from '../../../src/core/plan/fields/index';
import { editsFor, replacements, wasHandedOut } from '../../../src/core/plan/sheet-writes';
import * as arbitrary from '../../build/arbitrary-plan';
import { create, deepFreeze, event, planWith, property } from '../../build/plan';

const how = { newId: () => 'new', keepsFormer: () => false, now: 7 };
const EVENTS = SHEETS.find((s) => s.id === 'event')!;
const column = (key: string) => EVENTS.fields.findIndex((f) => f.key === key);

test('what every cell reads, written into all of them at once, changes nothing', () => {
  fc.assert(
    fc.property(arbitrary.plan, (plan) => {
      for (const sheet of SHEETS) {
        const ids = sheet.rows(plan);
        const writes = ids.flatMap((id, row) =>
          sheet.fields.flatMap((f, at) => (f.write ? [{ row, column: at, text: f.read(plan, id) }] : [])),
        );
        expect([sheet.id, editsFor(deepFreeze(plan), sheet.fields, ids, writes, how)]).toEqual([sheet.id, []]);
      }
    }),
    { seed: 51, numRuns: 40 },
  );
});

test('of several writes one that is refused says its row and column, and that nothing was changed', () => {
  const plan = planWith([event('a', { name: 'Tool Viewed' }), event('b', { name: 'Loan Started' })]);
  const writes = [
    { row: 0, column: column('trigger'), text: 'The page is shown.' },
    { row: 1, column: 0, text: '' },
  ];
  const said = editsFor(plan, EVENTS.fields, ['a', 'b'], writes, how);
  expect(said).toBe(`Row 2, ${EVENTS.fields[0]!.title}: Enter a name for the event. Nothing was changed.`);
  // Alone it needs no place.
  expect(editsFor(plan, EVENTS.fields, ['a', 'b'], [{ row: 1, column: 0, text: '' }], how)).toBe('Enter a name for the event.');
});

test('later writes see what earlier ones made, and cells beyond the rows are left out', () => {
  const plan = planWith([event('a', { name: 'Tool Viewed' })]);
  const writes = [
    { row: 0, column: 0, text: 'Tool Opened' },
    { row: 0, column: 0, text: 'Tool Closed' },
    { row: 9, column: 0, text: 'Nobody' },
  ];
  const edits = editsFor(plan, EVENTS.fields, ['a'], writes, how);
  const after = applyEdits(plan, edits as readonly never[]);
  expect(after.ok && after.plan.event['a']!.name).toBe('Tool Closed');
  expect(after.ok && Object.keys(after.plan.event)).toEqual(['a']);
});

test('find and replace takes every cell that holds the text as it stands, once for each row, and no pattern', () => {
  fc.assert(
    fc.property(
      arbitrary.plan,
      fc.constantFrom('a', '.', 'A', '$&', '(', '1'),
      fc.constantFrom('', '$&', 'x'),
      fc.boolean(),
      (plan, find, by, matchCase) => {
        for (const sheet of SHEETS) {
          const ids = sheet.rows(plan);
          const same = (s: string): string => (matchCase ? s : s.toLowerCase());
          const expected = ids.flatMap((id, row) =>
            sheet.fields.flatMap((f, at) => {
              if (!f.write || f.editor === 'flag' || f.editor === 'choice') return [];
              const text = f.read(plan, id);
              // By hand, character by character: letters of the two cases are of one length here.
              let [out, i] = ['', 0];
              while (i < text.length)
                if (same(text.slice(i, i + find.length)) === same(find)) {
                  out += by;
                  i += find.length;
                } else out += text[i++]!;
              return out === text ? [] : [{ row, column: at, text: out }];
            }),
          );
          // A row that stands in two groups is written once.
          expect(replacements(plan, sheet.fields, [...ids, ...ids], find, by, matchCase)).toEqual(expected);
          expect(replacements(plan, sheet.fields, ids, '', by, matchCase)).toEqual([]);
        }
      },
    ),
    { seed: 52, numRuns: 40 },
  );
});

test('a name was handed out where it has arrived, or a published plan has it past proposed', () => {
  const sources = (build: 'proposed' | 'built') => [{ sourceId: 's', required: true, build }];
  const plan = planWith([
    create('source', 's', { name: 'Web', kind: 'web' }),
    event('a', { sources: sources('proposed'), properties: [{ propertyId: 'p', required: true }] }),
    event('b', { sources: sources('built') }),
    property('p', {}),
  ]);
  const none = new Set<string>();
  expect(wasHandedOut(plan, 'event', 'a', true, none)).toBe(false);
  expect(wasHandedOut(plan, 'event', 'a', false, new Set(['a']))).toBe(true);
  expect([true, false].map((published) => wasHandedOut(plan, 'event', 'b', published, none))).toEqual([true, false]);
  expect(wasHandedOut(plan, 'property', 'p', true, none)).toBe(false);
  expect(wasHandedOut(plan, 'property', 'p', true, new Set(['a']))).toBe(true);
});
