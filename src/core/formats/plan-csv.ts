/** The plan as people keep it in sheets: one row for each event and property. */
import { blank } from '../plan/defaults';
import { applyTo, ownTables, setField, type Edit } from '../plan/edit';
import { fieldsOf, flagOf, type Field, type Writing } from '../plan/fields/field';
import { eventFields } from '../plan/fields/event';
import { splitList } from '../plan/fields/list-text';
import { propertyFields } from '../plan/fields/property';
import { entries, type EventProperty, type Id, type Plan } from '../plan/plan';
import { indexOf } from '../plan/plan-index';
import { toCsv, type CsvProblem, type CsvTable } from './csv';
import { named, PathMap, refOf } from '../plan/property-path';

export interface CsvColumn {
  readonly key: string;
  readonly title: string;
  readonly of: 'event' | 'property' | 'pair';
  /** Other headings under which people keep it, in lower case. */
  readonly also: readonly string[];
}

const NOT_IN_CSV = new Set(['questions', 'used', 'properties', 'name']);
const plain = fieldsOf('event');
const extra: readonly Field[] = [plain.text('notes', { title: 'Notes', width: 0, trim: false })];
const eventColumns = [...eventFields.filter((f) => f.write && !NOT_IN_CSV.has(f.key) && f.key !== 'notes'), ...extra];
const propertyColumns = propertyFields.filter((f) => f.write && !NOT_IN_CSV.has(f.key));

const ALSO: Readonly<Record<string, readonly string[]>> = {
  'event name': ['event', 'event_name', 'name'],
  'property name': ['property', 'property_name', 'parameter'],
  'property required': ['required', 'mandatory'],
  'event trigger': ['trigger', 'when', 'fires when'],
  'event description': ['description', 'meaning'],
  'property type': ['type', 'data type', 'datatype'],
  'property samples': ['sample', 'samples', 'example', 'examples'],
  'property allowed': ['values', 'allowed values', 'enum'],
  'event owner': ['owner'],
  'event flow': ['flow', 'journey', 'area'],
};

const column = (of: CsvColumn['of'], key: string): CsvColumn => {
  const title = `${of === 'pair' ? 'property' : of} ${key}`;
  return { key, title, of, also: ALSO[title] ?? [] };
};

/** All columns, in the order in which they are written. */
export const CSV_COLUMNS: readonly CsvColumn[] = [
  column('event', 'name'),
  ...eventColumns.map((f) => column('event', f.key)),
  column('property', 'name'),
  column('pair', 'required'),
  column('pair', 'only'),
  ...propertyColumns.map((f) => column('property', f.key)),
];

const ONLY_SEPARATOR = ' | ';

/** Events and their own properties as CSV; an event without a property has one row, a property without an event too.
 *  What comes with a shared set is written by the set's name alone.
 */
export const planCsv = (plan: Plan): string => {
  const rows: string[][] = [CSV_COLUMNS.map((c) => c.title)];
  const ofEvent = (id: Id | undefined): string[] =>
    id === undefined ? ['', ...eventColumns.map(() => '')] : [plan.event[id]!.name, ...eventColumns.map((f) => f.read(plan, id))];
  const ofProperty = (p: EventProperty | undefined): string[] =>
    p === undefined || !plan.property[p.propertyId]
      ? ['', '', '', ...propertyColumns.map(() => '')]
      : [
          plan.property[p.propertyId]!.name,
          p.required ? 'yes' : 'no',
          (p.allowed ?? []).join(ONLY_SEPARATOR),
          ...propertyColumns.map((f) => f.read(plan, p.propertyId)),
        ];
  const written = new Set<Id>();
  for (const [id, e] of entries(plan, 'event').sort(([, a], [, b]) => a.order - b.order)) {
    for (const p of e.properties) written.add(p.propertyId);
    const list: (EventProperty | undefined)[] = e.properties.length > 0 ? [...e.properties] : [undefined];
    for (const p of list) rows.push([...ofEvent(id), ...ofProperty(p)]);
  }
  for (const [id] of entries(plan, 'property'))
    if (!written.has(id)) rows.push([...ofEvent(undefined), ...ofProperty({ propertyId: id, required: true })]);
  return toCsv(rows);
};

/** Which column of a file is which of ours: file column → our title, or nothing. */
export type CsvMapping = readonly (string | undefined)[];

/** A first mapping, by headings; each of our columns is taken once. */
export const guessMapping = (header: readonly string[]): CsvMapping => {
  const taken = new Set<string>();
  return header.map((h) => {
    const heading = h.trim().toLowerCase();
    const exact = CSV_COLUMNS.find((c) => c.title.toLowerCase() === heading && !taken.has(c.title));
    const found = exact ?? CSV_COLUMNS.find((c) => c.also.includes(heading) && !taken.has(c.title));
    if (found) taken.add(found.title);
    return found?.title;
  });
};

export interface CsvImport {
  readonly edits: readonly Edit[];
  readonly problems: readonly CsvProblem[];
  readonly added: { readonly events: number; readonly properties: number };
  readonly changed: { readonly events: number; readonly properties: number };
}

interface Reading {
  /** The plan as it becomes, changed in place: a file may hold tens of thousands of rows. */
  readonly plan: Plan;
  readonly edits: Edit[];
  readonly problems: CsvProblem[];
}

const apply = (r: Reading, edits: readonly Edit[]): void => {
  for (const e of edits) {
    if (applyTo(r.plan, e)) throw new Error('an edit of the import does not fit the plan that it was made for');
    r.edits.push(e);
  }
};

/** What a file means for the plan: events and properties are found by name and changed, or drafted anew.
 *  Shape: all or nothing is the caller's to keep: with a problem the edits are not to be applied. Cells that are empty leave a field
 *  alone. Rows of one event need not be together.
 *  Errors: each cell that is refused comes back with its record, column and reason; a file without a column for the event's or the
 *  property's name is one problem.
 */
export const importCsv = (plan: Plan, table: CsvTable, mapping: CsvMapping, how: Writing): CsvImport => {
  const r: Reading = { plan: ownTables(plan) as unknown as Plan, edits: [], problems: [...table.problems] };
  const at = (title: string): number => mapping.indexOf(title);
  const eventAt = at('event name');
  const propertyAt = at('property name');
  const nothing = { events: 0, properties: 0 };
  if (eventAt < 0 && propertyAt < 0) {
    r.problems.push({ row: 1, column: undefined, detail: 'No column is the name of an event or of a property; choose which is.' });
    return { edits: [], problems: r.problems, added: nothing, changed: nothing };
  }
  const events = new Map(indexOf(plan).eventByName);
  const known = indexOf(plan).propertyAt;
  const drafted = new PathMap<Id>();
  const withinAt = at('property within');
  const added = { events: new Set<Id>(), properties: new Set<Id>() };
  const touched = { events: new Set<Id>(), properties: new Set<Id>() };
  /** Fields that a row of this file has already set, so that the next row of the event need not do it again. */
  const settled = new Map<string, string>();
  const fieldsAt = (of: 'event' | 'property', fields: readonly Field[]) =>
    fields.flatMap((f) => {
      const i = at(`${of} ${f.key}`);
      return i < 0 ? [] : [{ field: f, at: i }];
    });
  const eventCells = fieldsAt('event', eventColumns);
  const propertyCells = fieldsAt('property', propertyColumns);
  const requiredAt = at('property required');
  const onlyAt = at('property only');
  const wanted = new Map<Id, EventProperty[]>();
  let order = Math.max(0, ...entries(plan, 'event').map(([, e]) => e.order));

  const write = (row: number, kind: 'event' | 'property', id: Id, cells: typeof eventCells, record: readonly string[]) => {
    for (const { field, at: i } of cells) {
      const text = record[i] ?? '';
      if (text === '' || field.read(r.plan, id) === text) continue;
      const key = JSON.stringify([kind, id, field.key]);
      const before = settled.get(key);
      if (before === text) continue;
      if (before !== undefined) {
        r.problems.push({ row, column: i + 1, detail: `Another row of the same ${kind} says “${before.slice(0, 60)}” here.` });
        continue;
      }
      const edits = field.write!(r.plan, id, text, how);
      settled.set(key, text);
      if (typeof edits === 'string') r.problems.push({ row, column: i + 1, detail: edits });
      else if (edits.length > 0) {
        apply(r, edits);
        touched[kind === 'event' ? 'events' : 'properties'].add(id);
      }
    }
  };

  for (const [i, record] of table.rows.entries()) {
    const row = i + 2;
    const eventName = eventAt < 0 ? '' : (record[eventAt] ?? '').trim();
    const propertyName = propertyAt < 0 ? '' : (record[propertyAt] ?? '').trim();
    if (eventName === '' && propertyName === '') {
      r.problems.push({ row, column: undefined, detail: 'Neither an event nor a property is named.' });
      continue;
    }
    // eslint-disable-next-line no-control-regex
    const control = [eventName, propertyName].findIndex((n) => /[\u0000-\u001f\u007f]/.test(n) || n.length > 1000);
    if (control >= 0) {
      r.problems.push({
        row,
        column: (control === 0 ? eventAt : propertyAt) + 1,
        detail: 'A name has at most 1,000 characters and no control characters.',
      });
      continue;
    }
    let eventId: Id | undefined;
    if (eventName !== '') {
      eventId = events.get(eventName);
      if (eventId === undefined) {
        eventId = how.newId();
        events.set(eventName, eventId);
        added.events.add(eventId);
        apply(r, [{ op: 'create', kind: 'event', id: eventId, body: blank('event', { name: eventName, order: ++order }) }]);
      }
      write(row, 'event', eventId, eventCells, record);
    }
    if (propertyName === '') continue;
    const within = splitList(withinAt < 0 ? '' : (record[withinAt] ?? ''));
    const ref = refOf([...within, propertyName]);
    let propertyId = known.get(ref) ?? drafted.get(ref);
    if (propertyId === undefined) {
      propertyId = how.newId();
      drafted.add(ref, propertyId);
      added.properties.add(propertyId);
      apply(r, [{ op: 'create', kind: 'property', id: propertyId, body: blank('property', named(ref)) }]);
    }
    write(row, 'property', propertyId, propertyCells, record);
    if (eventId === undefined) continue;
    const requiredText = requiredAt < 0 ? '' : (record[requiredAt] ?? '');
    const required = requiredText === '' ? true : flagOf(requiredText);
    if (required === undefined) {
      r.problems.push({ row, column: requiredAt + 1, detail: `“${requiredText}” is neither yes nor no.` });
      continue;
    }
    const only = onlyAt < 0 || !record[onlyAt] ? undefined : record[onlyAt].split('|').map((v) => v.trim());
    const list = wanted.get(eventId) ?? [];
    list.push({ propertyId, required, ...(only ? { allowed: only } : {}) });
    wanted.set(eventId, list);
  }
  for (const [id, list] of wanted) {
    const before = r.plan.event[id]!.properties;
    const own = new Map(before.map((p) => [p.propertyId, p]));
    for (const p of list) own.set(p.propertyId, p);
    const edit = setField(r.plan, 'event', id, 'properties', [...own.values()]);
    if (edit) {
      apply(r, [edit]);
      touched.events.add(id);
    }
  }
  const without = (all: ReadonlySet<Id>, fresh: ReadonlySet<Id>): number => [...all].filter((id) => !fresh.has(id)).length;
  return {
    edits: r.edits,
    problems: r.problems,
    added: { events: added.events.size, properties: added.properties.size },
    changed: { events: without(touched.events, added.events), properties: without(touched.properties, added.properties) },
  };
};
