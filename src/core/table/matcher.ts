/** A step of a formula, compiled against a table. */
import type { Step } from '../questions/formula';
import type { MessageTable } from './message-table';

/** A test of rows; a name or value that never arrived compiles to "no row". */
export const compileStep = (table: MessageTable, step: Step): ((row: number) => boolean) => {
  const name = table.names.find(step.eventName);
  if (name < 0) return () => false;
  const tests: { column: { get(i: number): number }; value: number }[] = [];
  for (const c of step.where) {
    const p = table.properties.get(c.property);
    const value = p?.values.find(c.is) ?? -1;
    if (!p || value < 0) return () => false;
    tests.push({ column: p.column, value });
  }
  const names = table.name;
  if (tests.length === 0) return (row) => names.get(row) === name;
  return (row) => names.get(row) === name && tests.every((t) => t.column.get(row) === t.value);
};
