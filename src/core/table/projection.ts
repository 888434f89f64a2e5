/** A table as a plan and a choice of traffic see it: rows that do not count are left out, and what came under a former name has the present
 *  one. Where neither makes a difference, it is the table itself.
 */
import { userKindOf } from '../plan/user-kind';
import { entries, type Plan } from '../plan/plan';
import { pathOf, refOf, type PropertyPath, type PropertyRef } from '../plan/property-path';
import type { Dictionary } from './column';
import { MessageTable, type ScalarColumn, type ValueColumns } from './message-table';
import { COUNTED, PRODUCTION, trafficTest, trafficText, type Traffic } from './traffic';

/** Former name → present name, of the same place in a message. */
type Renames = ReadonlyMap<string, string>;

/** Former names of properties, by where they are: those of the message itself, and those inside of an object, by its present name. */
interface Nest {
  readonly own: Renames;
  readonly inner: ReadonlyMap<string, Nest>;
}

/** Where two entities claim a former name, the first has it; a name that is a present one is nobody's former one. */
const renamesOf = (bodies: readonly { readonly name: string; readonly formerNames: readonly string[] }[]): Renames => {
  const present = new Set(bodies.map((b) => b.name));
  const out = new Map<string, string>();
  for (const b of bodies) for (const n of b.formerNames) if (b.name !== '' && !present.has(n) && !out.has(n)) out.set(n, b.name);
  return out;
};

type Named = Parameters<typeof renamesOf>[0][number] & { readonly within?: PropertyPath };

const nestOf = (bodies: readonly Named[], depth = 0): Nest => {
  const inner = new Map<string, Named[]>();
  for (const b of bodies) {
    const outer = b.within?.[depth];
    if (outer !== undefined) inner.set(outer, [...(inner.get(outer) ?? []), b]);
  }
  return {
    own: renamesOf(bodies.filter((b) => (b.within?.length ?? 0) === depth)),
    inner: new Map([...inner].map(([name, own]) => [name, nestOf(own, depth + 1)])),
  };
};

const hasNames = (n: Nest): boolean => n.own.size > 0 || [...n.inner.values()].some(hasNames);

/** A nest as plain values, to be compared. */
const nestKey = (n: Nest): unknown => [[...n.own], [...n.inner].filter(([, i]) => hasNames(i)).map(([name, i]) => [name, nestKey(i)])];

/** Where a path is now; and where, under a former name at any level, a message would carry the present name besides. */
interface Place {
  readonly ref: PropertyRef;
  readonly rivals: readonly PropertyRef[];
}

const placeOf = (ref: PropertyRef, nest: Nest): Place => {
  const sent = pathOf(ref);
  const rivals: PropertyRef[] = [];
  let level: Nest | undefined = nest;
  const path = sent.map((name, i) => {
    const present = level?.own.get(name);
    if (present !== undefined) rivals.push(refOf([...sent.slice(0, i), present]));
    level = level?.inner.get(present ?? name);
    return present ?? name;
  });
  return { ref: refOf(path), rivals };
};

interface Names {
  readonly events: Renames;
  readonly properties: Nest;
  readonly userProperties: Nest;
  readonly userKind: string;
}

const known = new WeakMap<Plan, Names>();

/** The names of a plan that messages may come under, and the identifier kind of who is signed in. */
export const namesOf = (plan: Plan): Names => {
  let names = known.get(plan);
  if (!names) {
    const bodies = (kind: 'event' | 'property' | 'userProperty') => entries(plan, kind).map(([, b]) => b);
    names = {
      events: renamesOf(bodies('event')),
      properties: nestOf(bodies('property')),
      userProperties: nestOf(bodies('userProperty')),
      userKind: userKindOf(plan),
    };
    known.set(plan, names);
  }
  return names;
};

interface Held {
  /** Rows looked at so far. */
  rows: number;
  /** Undefined while nothing makes a difference. */
  copy: Copy | undefined;
  /** What was found on the messages when they were copied. */
  readonly verdicts: MessageTable['verdicts'];
}

const held = new WeakMap<MessageTable, Map<string, Held>>();

/** Index of a dictionary → index of another one with the same values, made as they are met. */
const mapped = <V>(from: Dictionary<V>, to: Dictionary<V>, name: (v: V) => V = (v) => v): ((i: number) => number) => {
  const places: number[] = [];
  return (i) => (i < 0 ? -1 : (places[i] ??= to.intern(name(from.values[i]!))));
};

/** Copies rows to a table of its own, name by name. */
class Copy {
  readonly table: MessageTable;
  private readonly name: (i: number) => number;
  private readonly source: (i: number) => number;
  private readonly release: (i: number) => number;
  private readonly page: (i: number) => number;
  private readonly environment: (i: number) => number;
  private readonly nodes: number[] = [];
  private readonly columns = new Map<ScalarColumn, { readonly place: Place; to: ScalarColumn | undefined; readonly places: number[] }>();

  constructor(
    private readonly from: MessageTable,
    private readonly names: Names,
  ) {
    const to = (this.table = new MessageTable(names.userKind));
    this.name = mapped(from.names, to.names, (n) => names.events.get(n) ?? n);
    this.source = mapped(from.sources, to.sources);
    this.release = mapped(from.releases, to.releases);
    this.page = mapped(from.pages, to.pages);
    this.environment = mapped(from.environments, to.environments);
  }

  add(row: number): void {
    const { from, table: to, names } = this;
    const sent = from.name.get(row);
    const at = to.begin(
      from.seq.get(row),
      from.time.get(row),
      from.received.get(row),
      this.name(sent),
      this.source(from.source.get(row)),
      this.release(from.release.get(row)),
    );
    const kind = from.kindOf(row);
    if (kind !== 'event') to.setKind(at, kind);
    to.page.set(at, this.page(from.page.get(row)));
    to.environment.set(at, this.environment(from.environment.get(row)));
    to.marks.set(at, from.marks.get(row));
    to.consent.set(at, from.consent.get(row));
    for (const [idKind, column] of from.ids) {
      const node = column.get(row);
      if (node < 0) continue;
      to.idColumn(idKind).set(at, (this.nodes[node] ??= to.nodes.intern(idKind, from.nodes.valueOf(node))));
    }
    this.values('properties', names.properties, row, at);
    this.values('userProperties', names.userProperties, row, at);
    const verdicts = from.verdictsOf(row);
    if (verdicts) to.setVerdicts(at, verdicts);
    if (from.reused.has(row)) to.reused.add(at);
    if (from.elsewhere.has(row)) to.elsewhere.add(at);
    const former = sent < 0 ? undefined : from.names.values[sent]!;
    const present = former === undefined ? undefined : names.events.get(former);
    if (former === undefined || present === undefined) return;
    let counts = to.formerNames.get(present);
    if (!counts) to.formerNames.set(present, (counts = new Map<string, number>()));
    counts.set(former, (counts.get(former) ?? 0) + 1);
  }

  private values(of: ValueColumns, nest: Nest, row: number, at: number): void {
    for (const [ref, p] of this.from[of]) {
      const i = p.column.get(row);
      if (i < 0) continue;
      let own = this.columns.get(p);
      if (!own) this.columns.set(p, (own = { place: placeOf(ref, nest), to: undefined, places: [] }));
      // Where a message carries both, the present name speaks.
      if (own.place.rivals.some((r) => (this.from[of].get(r)?.column.get(row) ?? -1) >= 0)) continue;
      const to = (own.to ??= this.table.valueColumn(of, own.place.ref));
      to.column.set(at, (own.places[i] ??= MessageTable.placeOf(to, p.values.values[i]!)));
    }
  }

  /** Says of the table whatever is not said row by row. */
  close(): void {
    const { from, table: to, names } = this;
    for (const of of ['properties', 'userProperties'] as const)
      to.noteCrowded(
        of,
        [...from.crowdedNames(of)].map((n) => names[of].own.get(n) ?? n),
      );
  }
}

/** Whether a table has anything under a former name. */
const hasFormer = (table: MessageTable, { events, properties, userProperties }: Names): boolean =>
  [...events.keys()].some((n) => table.names.find(n) >= 0) ||
  (hasNames(properties) && hasOld(table.properties.keys(), properties)) ||
  (hasNames(userProperties) && hasOld(table.userProperties.keys(), userProperties));

const hasOld = (refs: Iterable<PropertyRef>, nest: Nest): boolean => {
  for (const ref of refs) if (placeOf(ref, nest).rivals.length > 0) return true;
  return false;
};

/** The table as this plan names what is in it, with the rows of this traffic alone.
 *  Shape: the same table each time while the rows come; it is not to be changed. Rows keep their order and their sequence numbers, not
 *  their places.
 */
export const projected = (table: MessageTable, plan: Plan, traffic: Traffic = COUNTED): MessageTable => {
  const names = namesOf(plan);
  const environments = entries(plan, 'source').flatMap(([id, s]) => (s.environment === PRODUCTION ? [] : [[id, s.environment] as const]));
  const key = JSON.stringify([
    trafficText(traffic),
    names.userKind,
    [...names.events],
    nestKey(names.properties),
    nestKey(names.userProperties),
    environments,
  ]);
  let byKey = held.get(table);
  if (!byKey) held.set(table, (byKey = new Map<string, Held>()));
  let own = byKey.get(key);
  if (!own || own.verdicts !== table.verdicts) {
    // What is no longer asked for makes room.
    if (byKey.size >= MAX_HELD) byKey.delete(byKey.keys().next().value!);
    byKey.set(key, (own = { rows: 0, copy: undefined, verdicts: table.verdicts }));
  }
  const environmentOf = new Map(environments);
  const counts = trafficTest(table, traffic, (id) => environmentOf.get(id) ?? PRODUCTION);
  if (!own.copy) {
    let differs = names.userKind !== table.userKind || hasFormer(table, names);
    for (let row = own.rows; row < table.length && !differs; row++) differs = !counts(row);
    own.rows = table.length;
    if (!differs) return table;
    own.copy = new Copy(table, names);
    own.rows = 0;
  }
  for (let row = own.rows; row < table.length; row++) if (counts(row)) own.copy.add(row);
  own.copy.close();
  own.rows = table.length;
  return own.copy.table;
};

/** The table as a plan and a choice of traffic see it, of a stretch of time alone: UTC epoch ms, `to` left out. */
export const projectedWithin = (
  table: MessageTable,
  plan: Plan,
  traffic: Traffic,
  { from, to }: { readonly from: number; readonly to: number },
): MessageTable => {
  const environmentOf = new Map(entries(plan, 'source').map(([id, s]) => [id, s.environment]));
  const counts = trafficTest(table, traffic, (id) => environmentOf.get(id) ?? PRODUCTION);
  const copy = new Copy(table, namesOf(plan));
  for (let row = 0; row < table.length; row++) if (table.time.get(row) >= from && table.time.get(row) < to && counts(row)) copy.add(row);
  copy.close();
  return copy.table;
};

const MAX_HELD = 4;
