/** The definitions of a plan as events of a table: their rows, worked out when they are asked for and carried on as messages come. */
import { canonicalJson } from '../plan/content-hash';
import { entries, type Plan } from '../plan/plan';
import { refKey, type PropertyRef } from '../plan/property-path';
import { userValuesIn } from '../questions/select';
import { Dictionary, rowsBefore } from '../table/column';
import { SparseColumn } from '../table/sparse-column';
import type { Attributed } from '../table/following-persons';
import { MessageTable, type DefinedEvents, type ScalarColumn, type Value } from '../table/message-table';
import type { UserValues } from '../table/matcher';
import { PRODUCTION } from '../table/traffic';
import { EVERYTHING, type Definition } from './definition';
import { comesFrom } from './defined-values';
import { rowsOfDefinition, type MatchContext } from './matching-rows';
import { conditionsIn } from './named';
import { withoutCircles } from './order';
import { valueFrom } from './value-from';

/** What conditions on user properties are judged by. */
export interface Who {
  /** Another one whenever somebody became somebody else, or a message came. */
  readonly state: object;
  readonly userValues: (ref: PropertyRef) => UserValues;
}

const NOBODY: Who = { state: {}, userValues: () => ({ at: () => -1, values: [] }) };

interface Derived {
  readonly column: ScalarColumn;
  rows: number;
}

const columnOf = (): ScalarColumn => ({ column: new SparseColumn(), values: new Dictionary<Value>(), nested: new Map(), inner: new Map() });

/** One definition over one table. */
class Event {
  private rows: Int32Array = new Int32Array(0);
  private upTo = 0;
  private state: object | undefined;
  private generation = 0;
  private readonly columns = new Map<string, Derived>();
  /** Whether its rows depend on who somebody is: those can change among messages that are long there. */
  private readonly byPerson: boolean;

  constructor(
    readonly definition: Definition,
    private readonly own: string,
    /** What it is made of, in its order: other definitions, and names under which messages arrive. */
    private readonly sources: readonly (Event | string)[],
    private readonly context: MatchContext & { readonly who: () => Who },
  ) {
    this.byPerson = conditionsIn(definition.where).some((c) => c.subject.of === 'user property') || this.made.some((s) => s.byPerson);
  }

  private get made(): readonly Event[] {
    return this.sources.filter((s) => typeof s !== 'string');
  }

  get key(): string {
    if (!this.byPerson) return this.own;
    this.refresh();
    return `${this.own}#${this.generation}`;
  }

  /** From when on all that it is made of is measured. */
  get since(): number {
    return Math.max(this.definition.since ?? -Infinity, ...this.made.map((s) => s.since));
  }

  /** Whether its properties are others than those of its messages. */
  get changes(): boolean {
    return this.definition.changes.length > 0 || this.made.some((s) => s.changes);
  }

  /** Names of all that it is made of. */
  get names(): readonly string[] {
    const { source } = this.definition;
    return [...(source.of === 'events' ? source.names : []), ...this.made.flatMap((s) => s.names)];
  }

  private refresh(): void {
    const { state } = this.context.who();
    if (state === this.state) return;
    this.state = state;
    this.generation++;
    this.upTo = 0;
    this.rows = new Int32Array(0);
    this.columns.clear();
  }

  all(): Int32Array {
    if (this.byPerson) this.refresh();
    const { table } = this.context;
    if (this.upTo === table.length) return this.rows;
    const fresh = rowsOfDefinition(this.definition, this.context, this.upTo);
    if (fresh.length > 0) {
      // What was given out before stays as it is.
      const next = new Int32Array(this.rows.length + fresh.length);
      next.set(this.rows);
      next.set(fresh, this.rows.length);
      this.rows = next;
    }
    this.upTo = table.length;
    return this.rows;
  }

  /** Where its values at a path are; a column of its own where they are not those of one column of the table. */
  column(ref: PropertyRef): ScalarColumn | undefined {
    const { table } = this.context;
    const from = comesFrom(ref, this.definition.changes);
    if (this.made.length === 0) {
      // Where nothing arrives under the new name, what is renamed is the column that it was.
      const { what } = from;
      const isAlone = what === 'either' && from.otherwise.what === 'path' && !table.properties.has(from.otherwise.path);
      const direct = isAlone && from.then.what === 'path' && from.has.what === 'path' ? from.then : from;
      if (direct.what === 'nothing') return undefined;
      if (direct.what === 'path') return table.properties.get(direct.path);
    }
    const key = refKey(ref);
    let own = this.columns.get(key);
    if (!own) this.columns.set(key, (own = { column: columnOf(), rows: 0 }));
    const rows = this.all();
    for (; own.rows < rows.length; own.rows++) {
      const row = rows[own.rows]!;
      const v = valueFrom(from, (path) => this.valueAt(row, path));
      if (v === undefined) continue;
      own.column.column.set(row, MessageTable.placeOf(own.column, v));
    }
    return own.column.values.values.length === 0 ? undefined : own.column;
  }

  /** What the message has at a path before the changes: as the definition has it that it came through, the first where there are several. */
  private valueAt(row: number, path: PropertyRef): Value | undefined {
    const { table } = this.context;
    const name = table.names.values[table.name.get(row)];
    const through = this.sources.find((s) => (typeof s === 'string' ? s === name : s.has(row)));
    const of = through === undefined || typeof through === 'string' ? table.properties.get(path) : through.column(path);
    const at = of?.column.get(row) ?? -1;
    return at < 0 ? undefined : of!.values.values[at];
  }

  private has(row: number): boolean {
    const rows = this.all();
    return rows[rowsBefore(rows, row).length] === row;
  }
}

/** Definitions that hold: neither retired nor made of one another. */
export const heldDefinitions = (plan: Plan): readonly Definition[] =>
  withoutCircles(entries(plan, 'definition').flatMap(([, d]): Definition[] => (d.retired || d.name === '' ? [] : [d])));

export class Defined implements DefinedEvents {
  private readonly byName = new Map<string, Event>();
  private readonly own = new Map<string, Event>();
  private readonly unions = new Map<string, Event>();

  constructor(
    definitions: readonly Definition[],
    private readonly context: MatchContext & { readonly who: () => Who },
    private readonly environments: string,
  ) {
    // Those that others are made of come first. Of two under one name the first is meant.
    for (const d of definitions) if (!this.byName.has(d.name)) this.byName.set(d.name, this.made(d));
  }

  private sourcesOf({ name, source }: Definition): (Event | string)[] {
    return source.of === 'events' ? source.names.map((n) => (n === name ? n : (this.byName.get(n) ?? n))) : [];
  }

  private made(d: Definition): Event {
    const { source, where, since, changes } = d;
    const sources = this.sourcesOf(d);
    const from = sources.map((s) => (typeof s === 'string' ? s : s.key));
    const key = `\u0001${canonicalJson([source, where, since, changes, from, this.environments])}`;
    const known = this.own.get(key);
    if (known) return known;
    const event = new Event(d, key, sources, this.contextOf(d));
    this.own.set(key, event);
    return event;
  }

  /** What a definition's conditions are judged by, whether it is among these or only being written: what it is made of is as these say. */
  contextOf(d: Definition): MatchContext & { readonly who: () => Who } {
    const { name, source, where, changes } = d;
    // Conditions look at what the source has, as the source's own definition says it.
    const isChanged = this.sourcesOf(d).some((s) => typeof s !== 'string' && s.changes);
    const offered =
      isChanged && (where !== EVERYTHING || changes.length > 0) ? this.made({ name, source, where: EVERYTHING, changes: [] }) : undefined;
    return {
      ...this.context,
      ...(offered ? { propertyOf: (ref: PropertyRef) => offered.column(ref) } : {}),
      definedRows: (n) => (n === name ? undefined : this.byName.get(n)?.all()),
    };
  }

  private find(key: string): Event | undefined {
    const found = this.own.get(key) ?? this.own.get(key.slice(0, Math.max(0, key.lastIndexOf('#'))));
    return found?.key === key ? found : undefined;
  }

  keyOf(name: string): string | undefined {
    return this.byName.get(name)?.key;
  }

  rowsOf(key: string): Int32Array | undefined {
    return this.find(key)?.all();
  }

  columnOf(key: string, ref: PropertyRef): ScalarColumn | undefined {
    return this.find(key)?.column(ref);
  }

  names(): readonly string[] {
    return [...this.byName.keys()];
  }

  madeOf(key: string): ReadonlySet<string> {
    return new Set(this.find(key)?.names);
  }

  sinceOf(key: string): number {
    return this.find(key)?.since ?? -Infinity;
  }

  unionOf(names: readonly string[]): string {
    const sorted = [...new Set(names)].sort();
    const text = JSON.stringify(sorted);
    let union = this.unions.get(text);
    if (!union)
      this.unions.set(text, (union = this.made({ name: '', source: { of: 'events', names: sorted }, where: EVERYTHING, changes: [] })));
    return union.key;
  }
}

interface Seen {
  readonly table: MessageTable;
  readonly defined: Defined;
  /** The persons of those who asked last: of one state of the columns there are no others under the same rules. */
  who: Who;
}

const seen = new WeakMap<MessageTable, Map<string, Seen>>();
const MAX_SEEN = 8;

/** A table with the events that a plan defines over it; the table itself where it defines none.
 *  Shape: the same one while plan and rules say the same about them. `rules` tells apart by which rules persons are made, and `who` knows them.
 */
export const withDefinitions = (table: MessageTable, plan: Plan, rules = '', who: Who = NOBODY): MessageTable => {
  const definitions = heldDefinitions(plan);
  return definitions.length === 0 ? table : seenAs(table, plan, definitions, rules, who).table;
};

const seenAs = (table: MessageTable, plan: Plan, definitions: readonly Definition[], rules: string, who: Who): Seen => {
  const environments = new Map(entries(plan, 'source').map(([id, s]) => [id, s.environment]));
  const usesPersons = definitions.some((d) => conditionsIn(d.where).some((c) => c.subject.of === 'user property'));
  const environmentText = canonicalJson([...environments].filter(([, e]) => e !== PRODUCTION));
  const key = canonicalJson([definitions, environmentText, usesPersons ? rules : '']);
  let known = seen.get(table);
  if (!known) seen.set(table, (known = new Map<string, Seen>()));
  let own = known.get(key);
  if (!own) {
    if (known.size >= MAX_SEEN) known.delete(known.keys().next().value!);
    const context = {
      table,
      environmentOf: (id: string) => environments.get(id) ?? PRODUCTION,
      userValues: (ref: PropertyRef) => made.who.userValues(ref),
      who: () => made.who,
    };
    const defined = new Defined(definitions, context, environmentText);
    const made: Seen = { table: table.with(defined), defined, who };
    known.set(key, (own = made));
  }
  own.who = who;
  return own;
};

const whoOf = (people: Attributed): Who => ({ state: people.personOfMessage, userValues: (ref) => userValuesIn({ people }, ref) });

/** What the conditions of one definition are judged by, whether it is in the plan or only being written. `rules` as of `withDefinitions`. */
export const matchContext = (people: Attributed, plan: Plan, rules: string, d: Definition): MatchContext =>
  seenAs(people.table.base, plan, heldDefinitions(plan), `${rules} to be written`, whoOf(people)).defined.contextOf(d);

/** Persons under their own rules, with the events that a plan defines over their messages. */
export const personsWith = (persons: Attributed & { readonly rules: object }, plan: Plan): Attributed =>
  peopleWith(persons, plan, canonicalJson(persons.rules));

/** Messages and whose they are, with the events that a plan defines over them. `rules` as of `withDefinitions`. */
export const peopleWith = (people: Attributed, plan: Plan, rules: string): Attributed => {
  const table = withDefinitions(people.table, plan, rules, whoOf(people));
  return table === people.table ? people : { ...people, table };
};
