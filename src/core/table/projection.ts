/** A table as a plan and a choice of traffic see it: rows that do not count are left out, and what came under a former name has the present
 *  one. Where neither makes a difference, it is the table itself.
 */
import { entries, type Plan } from '../plan/plan';
import type { Dictionary } from './column';
import { isScalar, MessageTable, type ScalarColumn, type ValueColumns } from './message-table';
import { COUNTED, PRODUCTION, trafficTest, trafficText, type Traffic } from './traffic';

/** Former name → present name. */
type Renames = ReadonlyMap<string, string>;

/** Where two entities claim a former name, the first has it; a name that is a present one is nobody's former one. */
const renamesOf = (bodies: readonly { readonly name: string; readonly formerNames: readonly string[] }[]): Renames => {
  const present = new Set(bodies.map((b) => b.name));
  const out = new Map<string, string>();
  for (const b of bodies) for (const n of b.formerNames) if (b.name !== '' && !present.has(n) && !out.has(n)) out.set(n, b.name);
  return out;
};

interface Names {
  readonly events: Renames;
  readonly properties: Renames;
  readonly userProperties: Renames;
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
      properties: renamesOf(bodies('property')),
      userProperties: renamesOf(bodies('userProperty')),
      userKind: userKindOf(plan),
    };
    known.set(plan, names);
  }
  return names;
};

/** The identifier kind of who is signed in: `user` where the plan has it, else its first kind that identifies a person. */
export const userKindOf = (plan: Plan): string => {
  const kinds = entries(plan, 'identifierKind').map(([, k]) => k);
  return kinds.some((k) => k.name === 'user') ? 'user' : (kinds.find((k) => k.identifies === 'person')?.name ?? 'user');
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
  private readonly columns = new Map<ScalarColumn, { readonly to: ScalarColumn; readonly places: number[] }>();

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
      to.idColumn(idKind).set(at, (this.nodes[node] ??= to.node(idKind, from.nodes[node]!.value)));
    }
    this.values('properties', names.properties, row, at);
    this.values('userProperties', names.userProperties, row, at);
    const verdicts = from.verdicts.get(row);
    if (verdicts) to.setVerdicts(at, verdicts);
    if (from.reused.has(row)) to.reused.add(at);
    if (from.elsewhere.has(row)) to.elsewhere.add(at);
    const former = sent < 0 ? undefined : from.names.values[sent]!;
    const present = former === undefined ? undefined : names.events.get(former);
    if (former === undefined || present === undefined) return;
    let counts = to.formerNames.get(present);
    if (!counts) to.formerNames.set(present, (counts = new Map()));
    counts.set(former, (counts.get(former) ?? 0) + 1);
  }

  private values(of: ValueColumns, renames: Renames, row: number, at: number): void {
    for (const [name, p] of this.from[of]) {
      const i = p.column.get(row);
      if (i < 0) continue;
      const present = renames.get(name);
      // Where a message carries both, the present name speaks.
      if (present !== undefined && (this.from[of].get(present)?.column.get(row) ?? -1) >= 0) continue;
      let own = this.columns.get(p);
      if (!own) this.columns.set(p, (own = { to: this.table.valueColumn(of, present ?? name), places: [] }));
      const value = p.values.values[i]!;
      own.to.column.set(at, (own.places[i] ??= isScalar(value) ? own.to.values.intern(value) : this.table.internNested(own.to, value)));
    }
  }
}

/** Whether a table has anything under a former name. */
const hasFormer = (table: MessageTable, { events, properties, userProperties }: Names): boolean =>
  [...events.keys()].some((n) => table.names.find(n) >= 0) ||
  [...properties.keys()].some((n) => table.properties.has(n)) ||
  [...userProperties.keys()].some((n) => table.userProperties.has(n));

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
    [...names.properties],
    [...names.userProperties],
    environments,
  ]);
  let byKey = held.get(table);
  if (!byKey) held.set(table, (byKey = new Map()));
  let own = byKey.get(key);
  if (!own || own.verdicts !== table.verdicts) {
    // What is not asked for any more makes room.
    if (byKey.size >= MOST_HELD) byKey.delete(byKey.keys().next().value!);
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
  own.rows = table.length;
  return own.copy.table;
};

const MOST_HELD = 4;
