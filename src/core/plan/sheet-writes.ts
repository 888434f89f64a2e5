/** What is written into the cells of a sheet, as edits of the plan. */
import { applyEdits, type Edit } from './edit';
import type { Field, Writing, Written } from './fields/field';
import { refusedBy } from './kept-rules';
import type { Id, Plan } from './plan';
import { carriersOf } from './plan-index';

/** A text for a cell. Units: places among the shown rows and columns. */
export interface CellWrite {
  readonly row: number;
  readonly column: number;
  readonly text: string;
}

/** Writes turned into edits one after the other, each on the plan that the ones before it made; all or none. */
export const editsFor = (plan: Plan, fields: readonly Field[], ids: readonly Id[], writes: readonly CellWrite[], how: Writing): Written => {
  let current = plan;
  const all: Edit[] = [];
  for (const w of writes) {
    const id = ids[w.row];
    const field = fields[w.column];
    if (id === undefined || !field) continue;
    const edits = field.write?.(current, id, w.text, how) ?? 'This cell is read-only.';
    if (typeof edits === 'string') return writes.length > 1 ? `Row ${w.row + 1}, ${field.title}: ${edits} Nothing was changed.` : edits;
    const r = applyEdits(current, edits);
    if (!r.ok) return 'The plan changed in the meantime; check again.';
    const refusal = refusedBy(current, r.plan, edits);
    if (refusal) return writes.length > 1 ? `Row ${w.row + 1}, ${field.title}: ${refusal.says} Nothing was changed.` : refusal.says;
    current = r.plan;
    all.push(...edits);
  }
  return all;
};

/** What is written into one field; what the plan must not become is a sentence, as what cannot be read is. */
export const writtenTo = (plan: Plan, field: Field, id: Id, text: string, how: Writing): Written =>
  editsFor(plan, [field], [id], [{ row: 0, column: 0, text }], how);

/** Whether an entity was handed out, or has arrived, so that a rename keeps its former name. */
export const wasHandedOut = (plan: Plan, kind: string, id: Id, isPublished: boolean, arrived: ReadonlySet<Id>): boolean => {
  // What has arrived is out in the world, whatever the plan says of it.
  const built = (eventId: Id): boolean =>
    arrived.has(eventId) || (isPublished && (plan.event[eventId]?.sources.some((s) => s.build !== 'proposed') ?? false));
  return kind === 'event' ? built(id) : kind === 'property' ? carriersOf(plan, id).some(built) : false;
};

/** Every cell that holds a text, with the text replaced. Regular expressions are not understood: what is there is looked for. */
export const replacements = (
  plan: Plan,
  fields: readonly Field[],
  ids: readonly Id[],
  find: string,
  by: string,
  matchCase: boolean,
): CellWrite[] => {
  if (find === '') return [];
  const pattern = new RegExp(find.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'), matchCase ? 'g' : 'gi');
  const writes: CellWrite[] = [];
  const seen = new Set<Id>();
  ids.forEach((id, row) => {
    if (seen.has(id)) return;
    seen.add(id);
    fields.forEach((f, column) => {
      if (!f.write || f.editor === 'flag' || f.editor === 'choice') return;
      const text = f.read(plan, id);
      const next = text.replace(pattern, () => by);
      if (next !== text) writes.push({ row, column, text: next });
    });
  });
  return writes;
};
