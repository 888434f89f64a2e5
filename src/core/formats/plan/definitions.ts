import { objectAction } from '../../naming/object-action';
import { definitionsCsv, readDefinitions } from '../definitions-csv';
import { defineFormat, outcomeOf, plural } from '../format';

export const definitions = defineFormat({
  id: 'definitions',
  title: 'Definitions as CSV',
  note: 'One row per definition; conditions as JSON, with the sentence beside them.',
  reads: 'a sheet of definitions (CSV)',
  file: { ending: 'csv', type: 'text/csv; charset=utf-8' },
  recognise: (_, text) => /^\ufeff?"?definition"?[,\t;]/i.test(text),
  write: ({ plan }) => definitionsCsv(plan),
  read(plan, text, { newId, now }) {
    const r = readDefinitions(plan, text, { newId, keepsFormer: () => false, now, partsOf: objectAction });
    const problems = r.problems.map((p) => ({
      where: `row ${p.row}${p.column === undefined ? '' : `, column ${p.column}`}`,
      detail: p.detail,
    }));
    return outcomeOf(r.edits, problems, `${plural(r.added, 'definition')} new; ${r.changed} changed.`);
  },
});
