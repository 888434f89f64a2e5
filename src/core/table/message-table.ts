/** Messages as columns: what questions, identity and the checks over many run on. A cache, never the truth. */
import { Dictionary, Float64Column, IndexColumn, RowList } from './column';

export type Scalar = string | number | boolean;

export interface TableMessage {
  readonly seq: number;
  readonly kind: 'event' | 'identify';
  readonly name: string;
  readonly sourceId: string;
  readonly release: string;
  /** UTC epoch ms. */
  readonly occurredAt: number;
  readonly ids: { readonly [kind: string]: string };
  readonly properties: { readonly [name: string]: unknown };
  /** User properties that the message sets. */
  readonly userProperties?: { readonly [name: string]: unknown };
}

export interface ScalarColumn {
  readonly column: IndexColumn;
  readonly values: Dictionary<Scalar>;
}

export interface IdentifierNode {
  readonly kind: string;
  readonly value: string;
}

/** A finding on one message, as the table keeps it. */
export interface Verdict {
  readonly code: string;
  readonly path: readonly (string | number)[];
}

const NO_ROWS = new Int32Array(0);

export class MessageTable {
  readonly seq = new Float64Column();
  readonly time = new Float64Column();
  readonly name = new IndexColumn();
  readonly source = new IndexColumn();
  readonly release = new IndexColumn();
  readonly names = new Dictionary<string>();
  readonly sources = new Dictionary<string>();
  readonly releases = new Dictionary<string>();
  /** Identifier nodes: kind → value → node. */
  private readonly nodeIndex = new Map<string, Map<string, number>>();
  readonly nodes: IdentifierNode[] = [];
  /** For each identifier kind, the node that a message carries. */
  readonly ids = new Map<string, IndexColumn>();
  readonly properties = new Map<string, ScalarColumn>();
  readonly userProperties = new Map<string, ScalarColumn>();
  /** Rows of each event name, by its index in `names`. */
  private readonly rowsByName: RowList[] = [];
  readonly verdicts = new Map<number, Verdict[]>();
  length = 0;
  lastSeq = 0;

  node(kind: string, value: string): number {
    let byValue = this.nodeIndex.get(kind);
    if (!byValue) this.nodeIndex.set(kind, (byValue = new Map()));
    let i = byValue.get(value);
    if (i === undefined) {
      i = this.nodes.length;
      byValue.set(value, i);
      this.nodes.push({ kind, value });
    }
    return i;
  }

  findNode(kind: string, value: string): number {
    return this.nodeIndex.get(kind)?.get(value) ?? -1;
  }

  /** Appends a message; its row. Property values other than text, number and boolean are not kept in columns. */
  append(m: TableMessage, verdicts?: readonly Verdict[]): number {
    const row = this.length++;
    this.seq.push(m.seq);
    this.time.push(m.occurredAt);
    const name = m.kind === 'identify' ? -1 : this.names.intern(m.name);
    this.name.set(row, name);
    if (name >= 0) (this.rowsByName[name] ??= new RowList()).push(row);
    this.source.set(row, this.sources.intern(m.sourceId));
    this.release.set(row, this.releases.intern(m.release));
    for (const kind of Object.keys(m.ids)) {
      let column = this.ids.get(kind);
      if (!column) this.ids.set(kind, (column = new IndexColumn()));
      column.set(row, this.node(kind, m.ids[kind]!));
    }
    MessageTable.keep(this.properties, row, m.properties);
    if (m.userProperties) MessageTable.keep(this.userProperties, row, m.userProperties);
    if (verdicts && verdicts.length > 0)
      this.verdicts.set(
        row,
        verdicts.map(({ code, path }) => ({ code, path })),
      );
    if (m.seq > this.lastSeq) this.lastSeq = m.seq;
    return row;
  }

  private static keep(columns: Map<string, ScalarColumn>, row: number, given: { readonly [name: string]: unknown }): void {
    for (const name in given) {
      const v = given[name];
      if ((typeof v !== 'string' && typeof v !== 'number' && typeof v !== 'boolean') || !Object.hasOwn(given, name)) continue;
      let p = columns.get(name);
      if (!p) columns.set(name, (p = { column: new IndexColumn(), values: new Dictionary<Scalar>() }));
      p.column.set(row, p.values.intern(v));
    }
  }

  /** Rows of an event, in order of arrival; a view that later messages do not change. */
  rowsOf(eventName: string): Int32Array {
    const name = this.names.find(eventName);
    return name < 0 ? NO_ROWS : this.rowsByName[name]!.rows;
  }

  valueOf(row: number, property: string): Scalar | undefined {
    const p = this.properties.get(property);
    const i = p?.column.get(row) ?? -1;
    return i < 0 ? undefined : p!.values.values[i];
  }
}
