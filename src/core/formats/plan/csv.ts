import { objectAction } from '../../naming/object-action';
import { readCsv } from '../csv';
import { defineFormat, outcomeOf, plural } from '../format';
import { guessMapping, importCsv, planCsv } from '../plan-csv';

export const csv = defineFormat({
  id: 'csv',
  title: 'CSV',
  note: 'One row per event and property, for spreadsheets. Cells that a spreadsheet would read as a formula start with an apostrophe.',
  reads: 'a sheet (CSV, or rows pasted from one)',
  hasColumns: true,
  file: { ending: 'csv', type: 'text/csv; charset=utf-8' },
  recognise: (fileName) => /\.(csv|tsv)$/i.test(fileName),
  write: ({ plan }) => planCsv(plan),
  read(plan, text, { mapping, newId, now }) {
    const table = readCsv(text);
    const r = importCsv(plan, table, mapping ?? guessMapping(table.header), {
      newId,
      keepsFormer: () => false,
      now,
      partsOf: objectAction,
    });
    const problems = r.problems.map((p) => ({
      where: `row ${p.row}${p.column === undefined ? '' : `, column ${p.column}`}`,
      detail: p.detail,
    }));
    const of = (n: { readonly events: number; readonly properties: number }): string =>
      `${plural(n.events, 'event')} and ${plural(n.properties, 'property', 'properties')}`;
    return outcomeOf(r.edits, problems, `${of(r.added)} new; ${of(r.changed)} changed.`);
  },
});
