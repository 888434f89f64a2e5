/** Rows of a sheet under a filter, a sort and a grouping, against a recomputation from what the cells read. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { SHEETS } from '../../../src/core/plan/fields/index';
import { FIRST_VIEW, groupingsOf, rowsOf, shownFields } from '../../../src/core/plan/sheet-view';
import * as arbitrary from '../../build/arbitrary-plan';
import { event, planWith, property, question } from '../../build/plan';

const EVENTS = SHEETS.find((s) => s.id === 'event')!;
const PROPERTIES = SHEETS.find((s) => s.id === 'property')!;

test('a filter keeps those rows of which a shown cell holds the text, in their order; nothing else', () => {
  fc.assert(
    fc.property(arbitrary.plan, fc.string({ maxLength: 2 }), fc.boolean(), (plan, filter, onlyFound) => {
      for (const sheet of SHEETS) {
        const fields = shownFields(plan, sheet, FIRST_VIEW);
        const all = sheet.rows(plan);
        const found = new Set(all.filter((_, i) => i % 2 === 0));
        const rows = rowsOf(plan, sheet, fields, { ...FIRST_VIEW, filter, onlyFound }, found);
        const holds = (id: string): boolean =>
          filter.trim() === '' || fields.map((f) => f.read(plan, id).toLowerCase()).some((t) => t.includes(filter.trim().toLowerCase()));
        expect(rows.ids).toEqual(all.filter((id) => holds(id) && (!onlyFound || found.has(id))));
        expect(rows.of).toBe(all.length);
        expect(rows.groups).toBeUndefined();
      }
    }),
    { seed: 41, numRuns: 60 },
  );
});

test('sorting by any field, up or down, keeps every row once, the empty ones last, numbers by their size', () => {
  fc.assert(
    fc.property(arbitrary.plan, fc.boolean(), (plan, down) => {
      for (const sheet of SHEETS)
        for (const f of sheet.fields) {
          const { ids } = rowsOf(plan, sheet, sheet.fields, { ...FIRST_VIEW, sort: { key: f.key, down } }, new Set());
          expect([...ids].sort()).toEqual([...sheet.rows(plan)].sort());
          const texts = ids.map((id) => f.read(plan, id));
          const firstEmpty = texts.indexOf('');
          if (firstEmpty >= 0) expect(texts.slice(firstEmpty).every((t) => t === '')).toBe(true);
          const filled = firstEmpty < 0 ? texts : texts.slice(0, firstEmpty);
          if (filled.length > 0 && filled.every((t) => t.trim() !== '' && !Number.isNaN(Number(t)))) {
            const numbers = filled.map(Number);
            expect(numbers).toEqual([...numbers].sort((a, b) => (down ? b - a : a - b)));
          }
        }
    }),
    { seed: 42, numRuns: 40 },
  );
});

test('every grouping of every sheet shows each row at least once, and says how many it has', () => {
  fc.assert(
    fc.property(arbitrary.plan, (plan) => {
      for (const sheet of SHEETS)
        for (const group of groupingsOf(sheet)) {
          const { ids, groups } = rowsOf(plan, sheet, sheet.fields, { ...FIRST_VIEW, group }, new Set());
          expect(new Set(ids)).toEqual(new Set(sheet.rows(plan)));
          const starts = [...groups!.keys(), ids.length];
          [...groups!.values()].forEach((title, i) => {
            const members = ids.slice(starts[i], starts[i + 1]);
            expect(title.endsWith(` (${members.length})`)).toBe(true);
            expect(new Set(members).size).toBe(members.length);
          });
        }
    }),
    { seed: 43, numRuns: 60 },
  );
});

test('an event stands under each question that it serves, and what serves none stands last', () => {
  const asks = (id: string, text: string, name: string) =>
    question(id, { text, formula: { type: 'active persons', events: [{ eventName: name, where: [] }], period: 'week' } });
  const plan = planWith([
    event('a', { name: 'Tool Viewed' }),
    event('b', { name: 'Loan Started' }),
    asks('q', 'Who looks?', 'Tool Viewed'),
    asks('r', 'Who comes back?', 'Tool Viewed'),
  ]);
  const { ids, groups } = rowsOf(plan, EVENTS, EVENTS.fields, { ...FIRST_VIEW, group: 'question' }, new Set());
  expect(ids).toEqual(['a', 'a', 'b']);
  expect([...groups!]).toEqual([
    [0, 'Who looks? (1)'],
    [1, 'Who comes back? (1)'],
    [2, 'no question (1)'],
  ]);
});

test('a choice of columns is kept to; the first always stays', () => {
  const plan = planWith([property('p', {})]);
  expect(shownFields(plan, PROPERTIES, { ...FIRST_VIEW, columns: [] }).map((f) => f.key)).toEqual([PROPERTIES.fields[0]!.key]);
  expect(shownFields(plan, PROPERTIES, { ...FIRST_VIEW, columns: ['unit'] }).map((f) => f.key)).toEqual([
    PROPERTIES.fields[0]!.key,
    'unit',
  ]);
});
