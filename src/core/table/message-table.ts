/** Messages as columns: what questions, identity and the checks over many run on. A cache, never the truth.
 *  Long because a row goes into all columns at once.
 */
import { isObject, MAX_WITHIN, PathMap, pathOf, refOf, type PropertyRef } from '../plan/property-path';
import { textHash } from './text-hash';
import { CONSENTS, marksOf, MESSAGE_KINDS, type Consent, type Mark, type MessageKind } from './message-kinds';
import { Dictionary, Float64Column, IndexColumn, RowList, type Room } from './column';
import { Nodes } from './nodes';
import { NumberColumn } from './number-column';
import { RowVerdicts, type Verdict } from './row-verdicts';
import { SparseColumn } from './sparse-column';

export type Scalar = string | number | boolean;

/** A list or an object as the columns keep it: that it is there, how large it is, and what tells it from another one. */
export class Nested {
  constructor(
    readonly kind: 'list' | 'object',
    /** Elements or keys. */
    readonly size: number,
    readonly hash: string,
  ) {}

  toString(): string {
    return `${this.kind} of ${this.size}`;
  }
}

export type Value = Scalar | Nested;
export const isScalar = (v: Value | undefined): v is Scalar => v !== undefined && typeof v !== 'object';

/** A value as it is shown: of a list or an object, what it is and how large. */
export const shownValue = (v: Value): Scalar => (isScalar(v) ? v : String(v));

/** The word for what a value is. */
export const typeWord = (v: Value): 'text' | 'number' | 'boolean' | 'list' | 'object' =>
  typeof v === 'string' ? 'text' : typeof v === 'number' ? 'number' : typeof v === 'boolean' ? 'boolean' : v.kind;

export interface TableMessage {
  readonly seq: number;
  readonly kind: MessageKind;
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  /** UTC epoch ms. */
  readonly occurredAt: number;
  /** When it came in, UTC epoch ms; as it occurred where that is not said. */
  readonly receivedAt?: number;
  /** Page or screen; empty for none. */
  readonly page?: string;
  readonly ids: { readonly [kind: string]: string };
  readonly properties: { readonly [name: string]: unknown };
  /** User properties that the message sets. */
  readonly userProperties?: { readonly [name: string]: unknown };
  /** As the message says; its source's where it says nothing. */
  readonly environment?: string | undefined;
  readonly marks?: readonly Mark[] | undefined;
  readonly consent?: Consent | undefined;
  /** Its ID was taken before by a message that says something else. */
  readonly reusedId?: boolean | undefined;
  /** Another source had sent a message under its ID before. */
  readonly idElsewhere?: boolean | undefined;
}

export interface ScalarColumn {
  readonly column: SparseColumn;
  readonly values: Dictionary<Value>;
  /** The nested values among them, by what tells them apart. */
  readonly nested: Map<string, number>;
  /** What the objects among them hold, by its own name: columns of the table like all others. */
  readonly inner: Map<string, ScalarColumn>;
}

/** So many paths inside the objects of one property have columns. Objects with names of their own for each message, such as an ID, would make
 *  columns without end.
 */
const MAX_INNER = 100;

/** The two kinds of values that a message carries. */
export type ValueColumns = 'properties' | 'userProperties';

export const USUAL_USER_KIND = 'user';

const NO_ROWS = new Int32Array(0);
const NO_NAMES: ReadonlySet<string> = new Set();

/** Events that are made of what arrived, beside those that arrive under their own name. */
export interface DefinedEvents {
  /** What tells the event that is defined under a name from all others, of other definitions too; `undefined` where none is. */
  readonly keyOf: (name: string) => string | undefined;
  /** Its rows, ascending; `undefined` for what is no key. */
  readonly rowsOf: (key: string) => Int32Array | undefined;
  /** Its values at a path; `undefined` where it has none. */
  readonly columnOf: (key: string, ref: PropertyRef) => ScalarColumn | undefined;
  /** From when it is measured, UTC epoch ms; −∞ for all history. */
  readonly sinceOf: (key: string) => number;
  /** The key of the messages of any of these events, each once. */
  readonly unionOf: (names: readonly string[]) => string;
  readonly names: () => readonly string[];
  /** Names of what it is made of, and what that is made of. */
  readonly madeOf: (key: string) => ReadonlySet<string>;
}

export class MessageTable {
  /** The table itself; of one that is seen with definitions, the one that holds the columns. */
  readonly base: MessageTable = this;
  private defined: DefinedEvents | undefined;
  private readonly room: Room = { rows: 0 };
  readonly seq = new NumberColumn();
  readonly time = new Float64Column(this.room);
  readonly received = new NumberColumn();
  readonly name = new IndexColumn(this.room);
  readonly source = new IndexColumn(this.room);
  readonly release = new IndexColumn(this.room);
  readonly page = new IndexColumn(this.room);
  /** What the message says of itself, by the index in `environments`; −1 where it leaves that to its source. */
  readonly environment = new IndexColumn(this.room);
  /** Bits of `MARKS` in their order; −1 without one. */
  readonly marks = new IndexColumn(this.room);
  /** Place among `CONSENTS`; −1 where nothing is said. */
  readonly consent = new IndexColumn(this.room);
  /** Place among `MESSAGE_KINDS`, −1 for events, which most are. */
  readonly otherKind = new IndexColumn(this.room);
  readonly names = new Dictionary<string>();
  readonly sources = new Dictionary<string>();
  readonly releases = new Dictionary<string>();
  readonly pages = new Dictionary<string>();
  readonly environments = new Dictionary<string>();
  readonly nodes = new Nodes();
  /** For each identifier kind, the node that a message carries. */
  readonly ids = new Map<string, IndexColumn>();
  readonly properties = new PathMap<ScalarColumn>();
  readonly userProperties = new PathMap<ScalarColumn>();
  /** How many paths inside of a property have columns, by its name; and those whose objects held more. */
  private readonly innerPaths: Readonly<Record<ValueColumns, Map<string, number>>> = { properties: new Map(), userProperties: new Map() };
  private readonly crowded: Readonly<Record<ValueColumns, Set<string>>> = { properties: new Set(), userProperties: new Set() };
  /** Rows of each event name, by its index in `names`. */
  private readonly rowsByName: RowList[] = [];
  /** What was found on rows; another one as soon as another version judges them. */
  verdicts = new RowVerdicts();
  /** Rows whose message ID had come before with other content. */
  readonly reused = new Set<number>();
  /** Rows under an ID that another source had sent before. */
  readonly elsewhere = new Set<number>();
  /** Messages that came under a former name: present name → former name → how many. Empty where names are as they were sent. */
  readonly formerNames = new Map<string, Map<string, number>>();
  length = 0;
  lastSeq = 0;

  /** `userKind`: the identifier kind that means a person who is signed in. */
  constructor(readonly userKind = USUAL_USER_KIND) {}

  /** Says about how many rows the table will have. */
  expect(rows: number): void {
    this.room.rows = rows;
  }

  /** Appends a message; its row. Of lists and objects it is kept that they are there, and what tells them apart. */
  append(m: TableMessage, verdicts?: readonly Verdict[]): number {
    const name = m.kind === 'event' ? this.names.intern(m.name) : -1;
    const source = this.sources.intern(m.sourceId);
    const row = this.begin(m.seq, m.occurredAt, m.receivedAt ?? m.occurredAt, name, source, this.releases.intern(m.release));
    if (m.page) this.setPage(row, m.page);
    this.setKind(row, m.kind);
    for (const kind of Object.keys(m.ids)) this.idColumn(kind).set(row, this.nodes.intern(kind, m.ids[kind]!));
    this.keep('properties', row, m.properties);
    if (m.userProperties) this.keep('userProperties', row, m.userProperties);
    if (m.environment !== undefined) this.environment.set(row, this.internEnvironment(m.environment));
    if (m.marks !== undefined) this.marks.set(row, marksOf(m.marks));
    if (m.consent !== undefined) this.consent.set(row, consentOf(m.consent));
    if (m.reusedId) this.reused.add(row);
    if (m.idElsewhere) this.elsewhere.add(row);
    if (verdicts && verdicts.length > 0) this.setVerdicts(row, verdicts);
    return row;
  }

  /** Appends a row without identifiers and values; which row. `name` is −1 for what is no event. */
  begin(seq: number, occurredAt: number, receivedAt: number, name: number, source: number, release: number): number {
    const row = this.length++;
    this.seq.push(seq);
    this.time.push(occurredAt);
    this.received.push(receivedAt);
    this.name.set(row, name);
    if (name >= 0) (this.rowsByName[name] ??= new RowList()).push(row);
    this.source.set(row, source);
    this.release.set(row, release);
    if (seq > this.lastSeq) this.lastSeq = seq;
    return row;
  }

  /** The first row, from one on, whose sequence number is not before one; the length where there is none. Rows are in the order of their numbers. */
  rowOf(seq: number, from = 0): number {
    let lo = from;
    // Those that are asked for one after the other lie close together.
    let step = 1;
    while (lo + step < this.length && this.seq.get(lo + step) < seq) {
      lo += step;
      step *= 2;
    }
    let hi = Math.min(this.length, lo + step + 1);
    while (lo < hi) {
      const mid = (lo + hi) >> 1;
      if (this.seq.get(mid) < seq) lo = mid + 1;
      else hi = mid;
    }
    return lo;
  }

  /** Appends so many rows, whose sequence numbers and arrivals `written` pushes and whose times it writes to the column, with an event name each, −1 for what is no event; the first of them.
   *  `written` is called in between.
   */
  beginMany(rows: number, names: (row: number) => number, written: (first: number) => void): number {
    const first = this.length;
    this.time.extend(rows);
    written(first);
    this.length += rows;
    for (let row = first; row < this.length; row++) {
      const name = names(row - first);
      if (name >= 0) (this.rowsByName[name] ??= new RowList()).push(row);
    }
    if (rows > 0) this.lastSeq = Math.max(this.lastSeq, this.seq.get(this.length - 1));
    return first;
  }

  /** Notes what was found on a row; rows are given in their order. */
  setVerdicts(row: number, verdicts: readonly Verdict[]): void {
    this.verdicts.set(row, verdicts);
  }

  /** What was found on a row; `undefined` for nothing. */
  verdictsOf(row: number): readonly Verdict[] | undefined {
    return this.verdicts.get(row);
  }

  /** Forgets what was found on all rows: another version judges them. What follows verdicts begins anew, since `verdicts` is another one. */
  forgetVerdicts(): void {
    this.verdicts = new RowVerdicts();
  }

  /** Rows with verdicts from a row on, in order of arrival. */
  judgedRows(from = 0): Int32Array {
    return this.verdicts.rowsFrom(from);
  }

  /** Index of an environment; −1 for what is none. */
  internEnvironment(v: unknown): number {
    return typeof v === 'string' && v !== '' ? this.environments.intern(v) : -1;
  }

  setKind(row: number, kind: MessageKind): void {
    if (kind !== 'event') this.otherKind.set(row, MESSAGE_KINDS.indexOf(kind));
  }

  kindOf(row: number): MessageKind {
    const at = this.otherKind.get(row);
    return at < 0 ? 'event' : MESSAGE_KINDS[at]!;
  }

  /** Notes the page of a row; an empty one is none. */
  setPage(row: number, page: string): void {
    this.page.set(row, page === '' ? -1 : this.pages.intern(page));
  }

  /** Takes the identifiers, the values and the page of a row away. */
  clear(row: number): void {
    for (const column of [this.page, this.environment, this.marks, this.consent]) column.set(row, -1);
    for (const column of this.ids.values()) column.set(row, -1);
    for (const columns of [this.properties, this.userProperties])
      for (const { column } of columns.values()) if (column.get(row) >= 0) column.set(row, -1);
  }

  idColumn(kind: string): IndexColumn {
    let column = this.ids.get(kind);
    if (!column) this.ids.set(kind, (column = new IndexColumn(this.room)));
    return column;
  }

  /** Node of an identifier as it was sent: text, or a number as text; −1 for what is neither. */
  internId(kind: string, v: unknown): number {
    return typeof v === 'string' || typeof v === 'number' ? this.nodes.intern(kind, String(v)) : -1;
  }

  valueColumn(of: ValueColumns, ref: PropertyRef): ScalarColumn {
    const known = this[of].get(ref);
    if (known) return known;
    const made: ScalarColumn = { column: new SparseColumn(), values: new Dictionary<Value>(), nested: new Map(), inner: new Map() };
    this[of].add(ref, made);
    const path = pathOf(ref);
    if (path.length > 1) {
      this.valueColumn(of, refOf(path.slice(0, -1))).inner.set(path.at(-1)!, made);
      this.innerPaths[of].set(path[0]!, (this.innerPaths[of].get(path[0]!) ?? 0) + 1);
    }
    return made;
  }

  /** Properties whose objects held more than was kept, by their names. */
  crowdedNames(of: ValueColumns): ReadonlySet<string> {
    return this.crowded[of];
  }

  noteCrowded(of: ValueColumns, names: Iterable<string>): void {
    for (const name of names) this.crowded[of].add(name);
  }

  /** Whether a value may have come at this path without being kept: objects of its property hold too much, or it lies too deep. */
  mayLack(of: ValueColumns, ref: PropertyRef): boolean {
    return typeof ref !== 'string' && this.crowded[of].has(ref[0]!) && !this[of].has(ref);
  }

  /** Index of a value in a column; −1 for what is not kept. */
  private static indexIn(column: ScalarColumn, v: unknown): number {
    if (isScalarValue(v)) return column.values.intern(v);
    return typeof v === 'object' && v !== null ? MessageTable.internNested(column, nestedOf(v)) : -1;
  }

  /** Index of a value, as columns keep it, in a column. */
  static placeOf(column: ScalarColumn, v: Value): number {
    return isScalar(v) ? column.values.intern(v) : MessageTable.internNested(column, v);
  }

  /** Keeps a value of a row, and what is inside of it; one that the row had at this path is forgotten. */
  keepValue(of: ValueColumns, row: number, name: string, v: unknown): void {
    const known = this[of].get(name);
    if (known && known.inner.size > 0 && known.column.get(row) >= 0) forgetInner(known, row);
    if (!isKept(v)) {
      if (known) known.column.set(row, -1);
      return;
    }
    const column = known ?? this.valueColumn(of, name);
    column.column.set(row, MessageTable.indexIn(column, v));
    if (isObject(v)) this.keepInner(of, [name], column, row, v);
  }

  private keepInner(
    of: ValueColumns,
    path: readonly string[],
    outer: ScalarColumn,
    row: number,
    given: { readonly [name: string]: unknown },
  ): void {
    const [top] = path;
    if (path.length > MAX_WITHIN) {
      this.crowded[of].add(top!);
      return;
    }
    for (const name in given) {
      const v = given[name];
      if (!Object.hasOwn(given, name) || !isKept(v)) continue;
      let column = outer.inner.get(name);
      if (!column) {
        if ((this.innerPaths[of].get(top!) ?? 0) >= MAX_INNER) {
          this.crowded[of].add(top!);
          continue;
        }
        column = this.valueColumn(of, [...path, name]);
      }
      column.column.set(row, MessageTable.indexIn(column, v));
      if (isObject(v)) this.keepInner(of, [...path, name], column, row, v);
    }
  }

  /** Index of a scalar among those of a property; −1 for all else. */
  internScalar(of: ValueColumns, name: string, v: unknown): number {
    return isScalarValue(v) ? this.valueColumn(of, name).values.intern(v) : -1;
  }

  /** Index of a list or an object in a column. */
  static internNested({ values, nested }: ScalarColumn, v: Nested): number {
    const key = `${v.kind} ${v.size} ${v.hash}`;
    let at = nested.get(key);
    if (at === undefined) nested.set(key, (at = values.intern(v)));
    return at;
  }

  private keep(of: ValueColumns, row: number, given: { readonly [name: string]: unknown }): void {
    for (const name in given) {
      if (Object.hasOwn(given, name) && isKept(given[name])) this.keepValue(of, row, name, given[name]);
    }
  }

  /** Rows of an event, in order of arrival; a view that later messages do not change. */
  rowsOf(eventName: string): Int32Array {
    const defined = this.defined?.rowsOf(this.keyOf(eventName));
    if (defined) return defined;
    const name = this.names.find(eventName);
    return name < 0 ? NO_ROWS : this.rowsByName[name]!.rows;
  }

  /** The table seen with events that are defined over it: the same columns, which are not to be written to through it. */
  with(defined: DefinedEvents): MessageTable {
    const seen = Object.create(this) as MessageTable;
    seen.defined = defined;
    return seen;
  }

  /** The same messages with some columns in place of others, and other rows of some events; a table of its own for whatever follows tables. It has the rows
   *  that there are now, and is not to be written to.
   */
  over(
    columns: Partial<Pick<MessageTable, 'time' | 'names' | 'name' | 'ids' | 'properties'>>,
    rows: ReadonlyMap<string, Int32Array>,
  ): MessageTable {
    const rowsByName = [...this.rowsByName];
    for (const [name, own] of rows) rowsByName[(columns.names ?? this.names).find(name)] = RowList.of(own);
    const seen = Object.create(this) as MessageTable;
    return Object.assign(seen, { base: seen, defined: undefined, length: this.length, rowsByName, ...columns });
  }

  /** The same columns with other findings on their rows, as another plan judges them; `verdicts` in the order of the rows. */
  judgedAs(verdicts: ReadonlyMap<number, readonly Verdict[]>): MessageTable {
    const seen = Object.create(this) as MessageTable;
    seen.verdicts = new RowVerdicts();
    for (const [row, own] of verdicts) seen.verdicts.set(row, own);
    return seen;
  }

  /** What an event's name stands for: itself where it arrives under it, else what tells its definition from all others. */
  keyOf(eventName: string): string {
    return this.defined?.keyOf(eventName) ?? eventName;
  }

  /** The key of all that any of these events has; `undefined` where no message can be of two of them. */
  unionOf(eventNames: readonly string[]): string | undefined {
    return eventNames.length > 1 && eventNames.some((n) => this.isDefined(n)) ? this.defined!.unionOf(eventNames) : undefined;
  }

  /** Names of the events that are defined. */
  definedNames(): readonly string[] {
    return this.defined?.names() ?? [];
  }

  /** Names of the events that a defined one is made of, however far down. */
  madeOf(eventName: string): ReadonlySet<string> {
    return this.defined?.madeOf(this.keyOf(eventName)) ?? NO_NAMES;
  }

  isDefined(eventName: string): boolean {
    return this.defined?.keyOf(eventName) !== undefined;
  }

  /** From when on an event is measured, UTC epoch ms; −∞ where it is for as long as anything arrives. */
  measuredFrom(eventName: string): number {
    return this.defined?.sinceOf(this.keyOf(eventName)) ?? -Infinity;
  }

  /** What an event has at a path; `undefined` where it has nothing there. */
  propertyOf(eventName: string, ref: PropertyRef): ScalarColumn | undefined {
    const key = this.keyOf(eventName);
    return this.defined?.rowsOf(key) ? this.defined.columnOf(key, ref) : this.properties.get(ref);
  }

  valueOf(row: number, property: PropertyRef): Value | undefined {
    const p = this.properties.get(property);
    const i = p?.column.get(row) ?? -1;
    return i < 0 ? undefined : p!.values.values[i];
  }
}

const isScalarValue = (v: unknown): v is Scalar => typeof v === 'string' || typeof v === 'number' || typeof v === 'boolean';
const isKept = (v: unknown): boolean => isScalarValue(v) || (typeof v === 'object' && v !== null);

const forgetInner = (of: ScalarColumn, row: number): void => {
  for (const inner of of.inner.values()) {
    if (inner.column.get(row) < 0) continue;
    inner.column.set(row, -1);
    forgetInner(inner, row);
  }
};

const nestedOf = (v: object): Nested =>
  Array.isArray(v)
    ? new Nested('list', v.length, textHash(JSON.stringify(v)))
    : new Nested('object', Object.keys(v).length, textHash(JSON.stringify(v)));

export const consentOf = (v: unknown): number => CONSENTS.findIndex((c) => c === v);
