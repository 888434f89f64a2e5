/** Rows of a sheet as they are looked at: filtered, sorted, grouped. */
import { questionsServedBy } from '../questions/coverage';
import type { Field } from './fields/field';
import type { Sheet } from './fields/sheets';
import type { Id, Plan } from './plan';
import { carriersOf } from './plan-index';
import { refOfProperty } from './property-path';

export interface View {
  readonly filter: string;
  readonly onlyFound: boolean;
  readonly sort: { readonly key: string; readonly down: boolean } | undefined;
  readonly group: string;
  /** Keys of the shown columns; the sheet's own choice when left out. */
  readonly columns: readonly string[] | undefined;
}

export const FIRST_VIEW: View = { filter: '', onlyFound: false, sort: undefined, group: '', columns: undefined };

/** What rows can be grouped by: for each row the groups that it belongs to. */
const GROUPINGS: Readonly<Record<string, Readonly<Record<string, (plan: Plan, id: Id) => readonly string[]>>>> = {
  event: {
    flow: (plan, id) => [plan.event[id]!.flow],
    object: (plan, id) => [plan.event[id]!.object],
    question: (plan, id) => questionsServedBy(plan, plan.event[id]!.name).map(([, q]) => q.text),
    source: (plan, id) => plan.event[id]!.sources.map((s) => plan.source[s.sourceId]?.name ?? ''),
    owner: (plan, id) => [plan.event[id]!.owner],
  },
  property: {
    object: (plan, id) => [plan.property[id]!.describes],
    event: (plan, id) => carriersOf(plan, id).map((e) => plan.event[e]!.name),
    question: (plan, id) => {
      const ref = refOfProperty(plan.property[id]!);
      return [...new Set(carriersOf(plan, id).flatMap((e) => questionsServedBy(plan, plan.event[e]!.name, ref).map(([, q]) => q.text)))];
    },
    type: (plan, id) => [plan.property[id]!.type],
    'shared set': (plan, id) =>
      Object.values(plan.sharedSet)
        .filter((s) => s.properties.some((p) => p.propertyId === id))
        .map((s) => s.name),
  },
  userProperty: { source: (plan, id) => plan.userProperty[id]!.sources.map((s) => plan.source[s]?.name ?? '') },
};

export const groupingsOf = (sheet: Sheet): string[] => Object.keys(GROUPINGS[sheet.id] ?? {});

const asNumber = (text: string): number => (text.trim() === '' ? NaN : Number(text));
const compare = (a: string, b: string): number => {
  const x = asNumber(a);
  const y = asNumber(b);
  if (!Number.isNaN(x) && !Number.isNaN(y)) return x - y;
  // What is empty comes last, whichever way.
  if (a === '' || b === '') return a === b ? 0 : a === '' ? 1 : -1;
  return a.localeCompare(b, 'en');
};

export interface Rows {
  readonly ids: readonly Id[];
  /** Group titles, by the index of the row that begins them. */
  readonly groups: ReadonlyMap<number, string> | undefined;
  readonly of: number;
}

/** The rows of a sheet under a view. A row that belongs to several groups is in each. */
export const rowsOf = (plan: Plan, sheet: Sheet, fields: readonly Field[], view: View, found: ReadonlySet<Id>): Rows => {
  const all = sheet.rows(plan);
  const needle = view.filter.trim().toLowerCase();
  let ids = all.filter(
    (id) => (!view.onlyFound || found.has(id)) && (needle === '' || fields.some((f) => f.read(plan, id).toLowerCase().includes(needle))),
  );
  const by = sheet.fields.find((f) => f.key === view.sort?.key);
  if (by && view.sort) {
    const { down } = view.sort;
    const texts = new Map(ids.map((id) => [id, by.read(plan, id)]));
    ids = [...ids].sort((a, b) => {
      const x = texts.get(a)!;
      const y = texts.get(b)!;
      return down && x !== '' && y !== '' ? compare(y, x) : compare(x, y);
    });
  }
  const grouping = GROUPINGS[sheet.id]?.[view.group];
  if (!grouping) return { ids, groups: undefined, of: all.length };
  const members = new Map<string, Id[]>();
  for (const id of ids) {
    const titles = [...new Set(grouping(plan, id))];
    for (const t of titles.length === 0 ? [''] : titles) members.set(t, [...(members.get(t) ?? []), id]);
  }
  const out: Id[] = [];
  const groups = new Map<number, string>();
  const named = [...members].sort(([a], [b]) => (a === '' ? 1 : b === '' ? -1 : 0));
  for (const [title, list] of named) {
    groups.set(out.length, `${title || `no ${view.group}`} (${list.length})`);
    out.push(...list);
  }
  return { ids: out, groups, of: all.length };
};

export const shownFields = (plan: Plan, sheet: Sheet, view: View): readonly Field[] => {
  const chosen = view.columns;
  const shown = sheet.fields.filter((f, i) => i === 0 || (chosen ? chosen.includes(f.key) : !f.hidden || (f.shownWhen?.(plan) ?? false)));
  return shown;
};
