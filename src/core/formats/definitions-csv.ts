/** Definitions as people keep them in sheets: one row each, conditions and changed properties as JSON with the sentence beside it. */
import { type z } from 'zod';
import { EVERYTHING, type Change, type Condition, type Group, type Operator } from '../definitions/definition';
import { definitionSchema, groupSchema } from '../definitions/definition-schema';
import { changeText, groupText } from '../definitions/text';
import { blank } from '../plan/defaults';
import { setField, type Edit } from '../plan/edit';
import { definitionFields } from '../plan/fields/definition';
import type { Field, Writing } from '../plan/fields/field';
import { entries, type Id, type Plan, type PlanDefinition } from '../plan/plan';
import { readCsv, toCsv, type CsvProblem } from './csv';

/** Fields that a cell says as it does in the ledger. */
const PLAIN = ['description', 'owner', 'source', 'conversion', 'keepReason', 'retired'];
const plainFields: readonly Field[] = definitionFields.filter((f) => PLAIN.includes(f.key));

const HEADING: Readonly<Record<string, string>> = { source: 'made of', keepReason: 'kept because' };
const headingOf = (f: Field): string => HEADING[f.key] ?? f.key;

export const DEFINITION_COLUMNS = ['definition', ...plainFields.map(headingOf), 'from', 'where', 'properties', 'in words'] as const;

/** Operators that compare whole values: what looks into a text looks into the ID. */
const WHOLE: readonly Operator[] = ['is', 'is not', 'is one of', 'is none of'];

const mapped = ({ subject, op, values }: Condition, of: (source: string) => string): Condition =>
  subject.of === 'source' && WHOLE.includes(op) ? { subject, op, values: values.map((v) => of(String(v))) } : { subject, op, values };

/** Conditions with sources called otherwise: an ID says nothing in a sheet. */
const sourcesCalled = (where: Group, of: (source: string) => string): Group => ({
  ...where,
  conditions: where.conditions.map((c) => mapped(c, of)),
  groups: where.groups.map((g) => ({ ...g, conditions: g.conditions.map((c) => mapped(c, of)) })),
});

const inWords = (plan: Plan, { where, changes }: PlanDefinition): string =>
  [groupText(where, (s) => plan.source[s]?.name ?? s), ...changes.map(changeText)]
    .filter((t) => t !== '')
    .join('; ')
    .replaceAll('`', '');

/** All definitions, one row each; a cell is empty where there is nothing to say. */
export const definitionsCsv = (plan: Plan): string =>
  toCsv([
    DEFINITION_COLUMNS,
    ...entries(plan, 'definition').map(([id, d]) => {
      const where = sourcesCalled(d.where, (s) => plan.source[s]?.name ?? s);
      return [
        d.name,
        ...plainFields.map((f) => f.read(plan, id)),
        d.since === undefined ? '' : new Date(d.since).toISOString(),
        where.match === 'all' && where.conditions.length + where.groups.length === 0 ? '' : JSON.stringify(where),
        d.changes.length === 0 ? '' : JSON.stringify(d.changes),
        inWords(plan, d),
      ];
    }),
  ]);

type Read<T> = { readonly value: T } | string;

const readJson = <T>(text: string, schema: z.ZodType<T>, what: string): Read<T> => {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (e) {
    return `The ${what} are not JSON: ${(e as Error).message}`;
  }
  const parsed = schema.safeParse(json);
  if (parsed.success) return { value: parsed.data };
  const [issue] = parsed.error.issues;
  return `The ${what} are not as they are written here: ${issue!.path.join('.')}: ${issue!.message}`;
};

/** Where the text names a source that the plan has not, its name. */
const readWhere = (plan: Plan, text: string): Read<Group> => {
  if (text.trim() === '') return { value: EVERYTHING };
  const read = readJson<Group>(text, groupSchema, 'conditions');
  if (typeof read === 'string') return read;
  const ids = new Map(entries(plan, 'source').map(([id, s]) => [s.name, id]));
  let unknown: string | undefined;
  const value = sourcesCalled(read.value, (name) => {
    const id = ids.get(name) ?? (plan.source[name] ? name : undefined);
    if (id === undefined) unknown ??= name;
    return id ?? name;
  });
  return unknown === undefined ? { value } : `“${unknown}” is not a source of this plan.`;
};

const readFrom = (text: string): Read<number | undefined> => {
  if (text.trim() === '' || text.trim() === 'all history') return { value: undefined };
  const at = Date.parse(text.trim());
  return Number.isNaN(at) ? `“${text}” is not a date such as 2026-11-02T00:00:00.000Z.` : { value: at };
};

const readChanges = (text: string): Read<readonly Change[]> =>
  text.trim() === '' ? { value: [] } : readJson<readonly Change[]>(text, definitionSchema.shape.changes, 'properties');

export interface DefinitionsRead {
  readonly edits: readonly Edit[];
  readonly problems: readonly CsvProblem[];
  readonly added: number;
  readonly changed: number;
}

/** What a sheet means for the plan: definitions are found by name and changed, or begun. A column that is not there leaves its field alone.
 *  Errors: each cell that is refused comes with its record and column; all or nothing is the caller's to keep.
 */
export const readDefinitions = (plan: Plan, text: string, how: Writing): DefinitionsRead => {
  const table = readCsv(text);
  const problems: CsvProblem[] = [...table.problems];
  const header = table.header.map((h) => h.trim().toLowerCase());
  const at = (heading: string): number => header.indexOf(heading);
  const nameAt = at('definition');
  if (nameAt < 0) {
    problems.push({ row: 1, column: undefined, detail: 'No column is headed “definition”, the name of each.' });
    return { edits: [], problems, added: 0, changed: 0 };
  }
  const edits: Edit[] = [];
  const rows = new Map<string, number>();
  let [added, changed] = [0, 0];
  for (const [i, record] of table.rows.entries()) {
    const row = i + 2;
    const name = (record[nameAt] ?? '').trim();
    const no = (column: number, detail: string): void => void problems.push({ row, column: column + 1, detail });
    // eslint-disable-next-line no-control-regex
    if (name === '' || name.length > 1000 || /[\u0000-\u001f\u007f]/.test(name)) {
      no(nameAt, name === '' ? 'A definition needs a name.' : 'A name has at most 1,000 characters and no control characters.');
      continue;
    }
    const before = rows.get(name);
    if (before !== undefined) {
      no(nameAt, `“${name}” is in row ${before} already.`);
      continue;
    }
    rows.set(name, row);
    const known = entries(plan, 'definition').find(([, d]) => d.name === name);
    const id: Id = known?.[0] ?? how.newId();
    /** The plan with this row in it so far. */
    let own: Plan = known ? plan : { ...plan, definition: { ...plan.definition, [id]: blank('definition', { name }) } };
    const put = (body: PlanDefinition): void => void (own = { ...own, definition: { ...own.definition, [id]: body } });
    for (const f of plainFields) {
      const cell = at(headingOf(f));
      const value = record[cell];
      if (cell < 0 || value === undefined || f.read(own, id) === value) continue;
      const written = f.write!(own, id, value, how);
      if (typeof written === 'string') no(cell, written);
      else for (const e of written) if (e.op === 'set') put({ ...own.definition[id]!, [e.field]: e.after });
    }
    const cellOf = <T>(heading: string, read: (cell: string) => Read<T>, take: (value: T) => Partial<PlanDefinition>): void => {
      const cell = at(heading);
      if (cell < 0) return;
      const value = read(record[cell] ?? '');
      if (typeof value === 'string') no(cell, value);
      else put({ ...own.definition[id]!, ...take(value.value) });
    };
    cellOf('from', readFrom, (since) => ({ since }));
    cellOf(
      'where',
      (cell) => readWhere(plan, cell),
      (where) => ({ where }),
    );
    cellOf('properties', readChanges, (changes) => ({ changes }));
    const body = own.definition[id]!;
    if (!known) {
      added++;
      edits.push({ op: 'create', kind: 'definition', id, body });
      continue;
    }
    const sets = (Object.keys(body) as (keyof PlanDefinition)[]).flatMap(
      (field) => setField(plan, 'definition', id, field, body[field]) ?? [],
    );
    if (sets.length > 0) changed++;
    edits.push(...sets);
  }
  return { edits, problems, added, changed };
};
