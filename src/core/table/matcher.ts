/** A step of a formula, compiled against a table. */
import type { Condition, Step } from '../questions/formula';
import type { MessageTable, ScalarColumn, Value } from './message-table';
import type { PropertyRef } from '../plan/property-path';

export type RowTest = (row: number) => boolean;

/** Index of a user property's value in force for a row, −1 for none; and the values. */
export interface UserValues {
  readonly at: (row: number) => number;
  readonly values: readonly Value[];
}

const holds = (v: Value, c: Condition): boolean => {
  switch (c.op ?? 'is') {
    case 'is':
      return v === c.is;
    case 'is not':
      return v !== c.is;
    case 'contains':
      return typeof v === 'string' && v.includes(String(c.is));
    case 'is present':
      return true;
    case 'is absent':
      return false;
    default: {
      if (typeof v !== 'number' || typeof c.is !== 'number') return false;
      return c.op === 'at least' ? v >= c.is : c.op === 'at most' ? v <= c.is : c.op === 'more than' ? v > c.is : v < c.is;
    }
  }
};

const NEVER: RowTest = () => false;

/** Whether an absent value fulfils the condition: only "is absent" does; "is not" asks for a value. */
const absentHolds = (c: Condition): boolean => c.op === 'is absent';

/** Whether a condition holds for each index of a list of values, one place further on: the first place is for "absent". Each distinct
 *  value is judged once; a row is then one look-up.
 */
export const truthOf = (values: readonly Value[], c: Condition): Uint8Array => {
  const truth = new Uint8Array(values.length + 1);
  truth[0] = absentHolds(c) ? 1 : 0;
  values.forEach((v, i) => (truth[i + 1] = holds(v, c) ? 1 : 0));
  return truth;
};

const onColumn = (p: ScalarColumn | undefined, c: Condition): RowTest => {
  if (!p) return absentHolds(c) ? () => true : NEVER;
  const truth = truthOf(p.values.values, c);
  const { column } = p;
  return (row) => truth[column.get(row) + 1] === 1;
};

/** The conditions as one test of an event's rows; `undefined` when there is none.
 *  Values are compared with their type: text is never a number. A value that is absent fulfils "is absent" alone.
 */
export const compileConditions = (
  table: MessageTable,
  eventName: string,
  where: readonly Condition[],
  userValues?: (ref: PropertyRef) => UserValues,
): RowTest | undefined => {
  const tests = where.map((c): RowTest => {
    if (c.of !== 'user property') return onColumn(table.propertyOf(eventName, c.property), c);
    const user = userValues?.(c.property);
    if (!user) return absentHolds(c) ? () => true : NEVER;
    const truth = truthOf(user.values, c);
    return (row) => truth[user.at(row) + 1] === 1;
  });
  const [a, b] = tests;
  if (!a) return undefined;
  if (!b) return a;
  return tests.length === 2 ? (row) => a(row) && b(row) : (row) => tests.every((t) => t(row));
};

/** A test of rows; a name that never arrived compiles to "no row". */
export const compileStep = (table: MessageTable, step: Step): RowTest => {
  const name = table.names.find(step.eventName);
  if (name < 0) return NEVER;
  const names = table.name.rawFor(table.length);
  const where = compileConditions(table, step.eventName, step.where);
  return where ? (row) => names[row] === name && where(row) : (row) => names[row] === name;
};
