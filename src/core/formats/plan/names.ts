import { defineFormat, outcomeOf, plural } from '../format';
import { importThreeLevel, readThreeLevel, threeLevelNames, writeThreeLevel } from '../three-level';

export const names = defineFormat({
  id: 'names',
  title: 'Three-level names',
  note: 'group / action / detail, one line each.',
  reads: 'three-level names',
  file: { ending: 'txt', type: 'text/plain; charset=utf-8' },
  recognise(_, text) {
    const [first = ''] = text.split('\n', 1);
    return !first.startsWith('{') && first.includes('/') && !/[,\t;]/.test(first);
  },
  write: ({ plan }) => writeThreeLevel(threeLevelNames(plan)),
  read(plan, text, { newId }) {
    const read = readThreeLevel(text);
    const edits = importThreeLevel(plan, read.names, newId);
    const events = edits.filter((e) => e.kind === 'event').length;
    return outcomeOf(
      edits,
      read.problems.map((p) => ({ where: `row ${p.row}`, detail: p.detail })),
      `${plural(events, 'event')} out of ${plural(read.names.length, 'name')}.`,
    );
  },
});
