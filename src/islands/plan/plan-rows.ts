/** Rows of the plan's ledgers, and the edits that writing into them means. */
import { applyEdits, type Edit } from '../../core/plan/edit';
import { entries, type Id, type Plan } from '../../core/plan/plan';
import type { CellWrite, Column } from '../../ui/Ledger';
import { writeEvent, writeProperty, writeSource, type EventRow, type PropertyRow, type SourceRow, type Written } from './ledger-columns';

export type Sheet = 'event' | 'property' | 'source';

export const rowsOf = (plan: Plan): { event: EventRow[]; property: PropertyRow[]; source: SourceRow[] } => ({
  event: entries(plan, 'event')
    .map(([id, event]) => ({ id, event }))
    .sort((a, b) => a.event.order - b.event.order || (a.id < b.id ? -1 : 1)),
  property: entries(plan, 'property').map(([id, property]) => ({ id, property })),
  source: entries(plan, 'source').map(([id, source]) => ({ id, source })),
});

/** Writes turned into edits one after the other, each on the plan that the ones before it made. */
export const editsFor = (
  plan: Plan,
  sheet: Sheet,
  ids: readonly Id[],
  columns: readonly Column<never>[],
  writes: readonly CellWrite[],
  published: ReadonlySet<string>,
): Written => {
  let current = plan;
  const all: Edit[] = [];
  for (const w of writes) {
    const id = ids[w.row];
    const field = columns[w.column]?.key;
    if (id === undefined || field === undefined) continue;
    const edits =
      sheet === 'event'
        ? writeEvent(current, id, field, w.text, published)
        : sheet === 'property'
          ? writeProperty(current, id, field, w.text)
          : writeSource(current, id, field, w.text);
    if (typeof edits === 'string') return writes.length > 1 ? `Row ${w.row + 1}: ${edits} Nothing was changed.` : edits;
    const r = applyEdits(current, edits);
    if (!r.ok) return 'The plan changed meanwhile; look again.';
    current = r.plan;
    all.push(...edits);
  }
  return all;
};

/** The edits that take an entity out of the events that refer to it. */
export const detachEdits = (plan: Plan, kind: Sheet, id: Id): Edit[] =>
  entries(plan, 'event').flatMap(([eid, e]): Edit[] => {
    const properties = e.properties.filter((p) => p.propertyId !== id);
    const sources = e.sources.filter((s) => s.sourceId !== id);
    if (kind === 'property' && properties.length < e.properties.length)
      return [{ op: 'set', kind: 'event', id: eid, field: 'properties', before: e.properties, after: properties }];
    if (kind === 'source' && sources.length < e.sources.length)
      return [{ op: 'set', kind: 'event', id: eid, field: 'sources', before: e.sources, after: sources }];
    return [];
  });
