/** Columns of the plan's ledgers: how a cell reads, and which edits a text in it means. */
import type { Edit } from '../../core/plan/edit';
import { setField } from '../../core/plan/edit';
import {
  entries,
  PROPERTY_TYPES,
  SOURCE_KINDS,
  propertiesOf,
  TRIGGER_KINDS,
  type Id,
  type Plan,
  type PlanEvent,
  type Property,
  type Source,
} from '../../core/plan/plan';
import { renameEvent } from '../../core/plan/rename';
import { UNITS } from '../../core/plan/unit';
import type { Column } from '../../ui/Ledger';

export interface EventRow {
  readonly id: Id;
  readonly event: PlanEvent;
}

export interface PropertyRow {
  readonly id: Id;
  readonly property: Property;
}

export interface SourceRow {
  readonly id: Id;
  readonly source: Source;
}

/** Edits, or why the text is refused. */
export type Written = Edit[] | string;

const splitList = (text: string): string[] =>
  text
    .split(',')
    .map((s) => s.trim())
    .filter((s) => s !== '');
const some = (edit: Edit | undefined): Edit[] => (edit ? [edit] : []);

/** Ids for a list of names; the first name that none has comes back as the reason. */
const idsByName = (names: readonly string[], known: ReadonlyMap<string, Id>, what: string): Id[] | string => {
  const ids: Id[] = [];
  for (const n of names) {
    const id = known.get(n) ?? known.get(n.toLowerCase());
    if (id === undefined)
      return `“${n}” is not ${what} of the plan. There are: ${[...new Set(known.values())].length > 8 ? `${[...known.keys()].slice(0, 8).join(', ')} …` : [...known.keys()].join(', ')}.`;
    ids.push(id);
  }
  return ids;
};

export const eventColumns = (plan: Plan): Column<EventRow>[] => [
  { key: 'name', title: 'Event', width: 196, wire: true, editable: true, read: (r) => r.event.name },
  { key: 'trigger', title: 'Fires when', width: 250, editable: true, read: (r) => r.event.trigger },
  { key: 'triggerKind', title: 'Trigger', width: 100, editable: true, options: TRIGGER_KINDS, read: (r) => r.event.triggerKind },
  {
    key: 'sources',
    title: 'Sent by',
    width: 90,
    editable: true,
    read: (r) => r.event.sources.map((s) => plan.source[s.sourceId]?.name ?? s.sourceId).join(', '),
  },
  {
    key: 'properties',
    title: 'Properties',
    width: 230,
    wire: true,
    editable: true,
    read: (r) => r.event.properties.map((p) => plan.property[p.propertyId]?.name ?? '').join(', '),
  },
  {
    key: 'sharedSets',
    title: 'Shared sets',
    width: 100,
    wire: true,
    editable: true,
    read: (r) => r.event.sharedSets.map((s) => plan.sharedSet[s]?.name ?? '').join(', '),
  },
  { key: 'flow', title: 'Flow', width: 90, editable: true, read: (r) => r.event.flow },
  { key: 'owner', title: 'Owner', width: 150, editable: true, read: (r) => r.event.owner },
  { key: 'description', title: 'Description', width: 280, editable: true, read: (r) => r.event.description },
];

/** The edits that a text in an event's cell means. `published`: names that went out, whose former form is kept. */
export const writeEvent = (plan: Plan, id: Id, field: string, text: string, published: ReadonlySet<string>): Written => {
  const event = plan.event[id];
  if (!event) return 'This event is not there any more.';
  switch (field) {
    case 'name':
      return text.trim() === '' ? 'An event has a name.' : renameEvent(plan, id, text.trim(), published.has(event.name));
    case 'triggerKind': {
      const kind = TRIGGER_KINDS.find((k) => k === text.trim().toLowerCase());
      return kind
        ? some(setField(plan, 'event', id, 'triggerKind', kind))
        : `“${text}” is not a kind of trigger; choose ${TRIGGER_KINDS.join(', ')}.`;
    }
    case 'sources': {
      const ids = idsByName(splitList(text), new Map(entries(plan, 'source').map(([sid, s]) => [s.name, sid])), 'a source');
      if (typeof ids === 'string') return ids;
      const known = new Map(event.sources.map((s) => [s.sourceId, s]));
      return some(
        setField(
          plan,
          'event',
          id,
          'sources',
          ids.map((sourceId) => known.get(sourceId) ?? { sourceId, required: true, build: 'proposed' }),
        ),
      );
    }
    case 'properties': {
      const ids = idsByName(splitList(text), new Map(entries(plan, 'property').map(([pid, p]) => [p.name, pid])), 'a property');
      if (typeof ids === 'string') return ids;
      const known = new Map(event.properties.map((p) => [p.propertyId, p]));
      return some(
        setField(
          plan,
          'event',
          id,
          'properties',
          ids.map((propertyId) => known.get(propertyId) ?? { propertyId, required: true }),
        ),
      );
    }
    case 'sharedSets': {
      const ids = idsByName(splitList(text), new Map(entries(plan, 'sharedSet').map(([sid, s]) => [s.name, sid])), 'a shared set');
      return typeof ids === 'string' ? ids : some(setField(plan, 'event', id, 'sharedSets', ids));
    }
    case 'trigger':
    case 'flow':
    case 'owner':
    case 'description':
      return some(setField(plan, 'event', id, field, text));
    default:
      return 'This cell is only read.';
  }
};

const numberText = (n: number | undefined): string => (n === undefined ? '' : String(n));

export const propertyColumns = (plan: Plan): Column<PropertyRow>[] => {
  const used = new Map<Id, number>();
  for (const [, e] of entries(plan, 'event')) for (const p of propertiesOf(plan, e)) used.set(p.id, (used.get(p.id) ?? 0) + 1);
  return [
    { key: 'name', title: 'Property', width: 178, wire: true, editable: true, read: (r) => r.property.name },
    { key: 'type', title: 'Type', width: 96, editable: true, options: PROPERTY_TYPES, read: (r) => r.property.type },
    { key: 'unit', title: 'Unit', width: 98, editable: true, options: [...UNITS.keys()], read: (r) => r.property.unit },
    { key: 'min', title: 'Least', width: 64, editable: true, read: (r) => numberText(r.property.min) },
    { key: 'max', title: 'Most', width: 76, editable: true, read: (r) => numberText(r.property.max) },
    { key: 'allowed', title: 'Allowed values', width: 210, wire: true, editable: true, read: (r) => r.property.allowed.join(', ') },
    { key: 'samples', title: 'Samples', width: 190, wire: true, editable: true, read: (r) => r.property.samples.join(', ') },
    { key: 'description', title: 'Description', width: 250, editable: true, read: (r) => r.property.description },
    { key: 'used', title: 'Events', width: 64, editable: false, read: (r) => String(used.get(r.id) ?? 0) },
  ];
};

export const writeProperty = (plan: Plan, id: Id, field: string, text: string): Written => {
  const property = plan.property[id];
  if (!property) return 'This property is not there any more.';
  const trimmed = text.trim();
  switch (field) {
    case 'name':
      if (trimmed === '') return 'A property has a name.';
      return [
        ...some(setField(plan, 'property', id, 'name', trimmed)),
        ...(property.name !== '' && property.name !== trimmed && !property.formerNames.includes(property.name)
          ? some(setField(plan, 'property', id, 'formerNames', [...property.formerNames, property.name]))
          : []),
      ];
    case 'type': {
      const type = PROPERTY_TYPES.find((t) => t === trimmed.toLowerCase());
      return type ? some(setField(plan, 'property', id, 'type', type)) : `“${text}” is not a type; choose ${PROPERTY_TYPES.join(', ')}.`;
    }
    case 'unit':
      return trimmed === '' || UNITS.has(trimmed)
        ? some(setField(plan, 'property', id, 'unit', trimmed))
        : `“${text}” is not a unit; choose ${[...UNITS.keys()].join(', ')}.`;
    case 'min':
    case 'max': {
      if (trimmed === '') return some(setField(plan, 'property', id, field, undefined));
      const n = Number(trimmed.replaceAll(' ', ''));
      return Number.isFinite(n) ? some(setField(plan, 'property', id, field, n)) : `“${text}” is not a number.`;
    }
    case 'allowed':
    case 'samples':
      return some(setField(plan, 'property', id, field, splitList(text)));
    case 'description':
      return some(setField(plan, 'property', id, 'description', text));
    default:
      return 'This cell is only read.';
  }
};

const list = (names: readonly string[]): string => names.join(', ');

export const sourceColumns: Column<SourceRow>[] = [
  { key: 'name', title: 'Source', width: 170, editable: true, read: (r) => r.source.name },
  { key: 'kind', title: 'Kind', width: 84, editable: true, options: SOURCE_KINDS, read: (r) => r.source.kind },
  { key: 'mark', title: 'Mark', width: 60, editable: true, read: (r) => r.source.mark },
  { key: 'owner', title: 'Owner', width: 170, editable: true, read: (r) => r.source.owner },
  {
    key: 'beforeSignIn',
    title: 'IDs before sign-in',
    width: 170,
    wire: true,
    editable: true,
    read: (r) => list(r.source.idKinds.beforeSignIn),
  },
  {
    key: 'afterSignIn',
    title: 'IDs after sign-in',
    width: 200,
    wire: true,
    editable: true,
    read: (r) => list(r.source.idKinds.afterSignIn),
  },
  { key: 'environment', title: 'Environment', width: 110, editable: true, read: (r) => r.source.environment },
];

export const writeSource = (plan: Plan, id: Id, field: string, text: string): Written => {
  const source = plan.source[id];
  if (!source) return 'This source is not there any more.';
  const trimmed = text.trim();
  switch (field) {
    case 'name':
      return trimmed === '' ? 'A source has a name.' : some(setField(plan, 'source', id, 'name', trimmed));
    case 'kind': {
      const kind = SOURCE_KINDS.find((k) => k === trimmed.toLowerCase());
      return kind
        ? some(setField(plan, 'source', id, 'kind', kind))
        : `“${text}” is not a kind of source; choose ${SOURCE_KINDS.join(', ')}.`;
    }
    case 'mark':
      return [...trimmed].length === 1 ? some(setField(plan, 'source', id, 'mark', trimmed.toUpperCase())) : 'A mark is one letter.';
    case 'owner':
    case 'environment':
      return some(setField(plan, 'source', id, field, trimmed));
    case 'beforeSignIn':
    case 'afterSignIn':
      return some(setField(plan, 'source', id, 'idKinds', { ...source.idKinds, [field]: splitList(text) }));
    default:
      return 'This cell is only read.';
  }
};
