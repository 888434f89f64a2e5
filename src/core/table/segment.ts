/** A run of rows of a table as bytes, to be kept and read again: each part on its own, so that any table that has the rows before it can take it.
 *  What was found on messages is not among it, since that hangs on the version that judged them.
 */
import { indicesFor, type Column, type Dictionary, type Float64Column, type Indices } from './column';
import type { NumberColumn } from './number-column';
import { refOf, pathOf, type PathMap } from '../plan/property-path';
import { MessageTable, Nested, type ScalarColumn, type Value, type ValueColumns } from './message-table';

/** Another one whenever the same bytes would mean something else. */
export const SEGMENT_FORMAT = 2;

type Width = 1 | 2 | 4;

/** A column as it lies in the bytes: indices into its own values, −1 for none. */
interface Laid {
  readonly at: number;
  readonly width: Width;
}
interface Worded extends Laid {
  readonly values: readonly string[];
}
type Kept = string | number | boolean | { readonly nested: readonly ['list' | 'object', number, string] };
interface Valued extends Laid {
  readonly path: readonly string[];
  readonly values: readonly Kept[];
}
/** Numbers: whole ones as what they are more than the least, where that fits. */
interface Numbers {
  readonly at: number;
  readonly base: number;
  readonly width: 4 | 8;
}

interface Header {
  readonly format: number;
  readonly rows: number;
  readonly seq: Numbers;
  readonly time: Numbers;
  readonly received: Numbers;
  readonly name?: Worded;
  readonly source?: Worded;
  readonly release?: Worded;
  readonly page?: Worded;
  readonly environment?: Worded;
  readonly kind?: Laid;
  readonly marks?: Laid;
  readonly consent?: Laid;
  /** Identifiers of all kinds in the order in which they first came. */
  readonly nodes: { readonly kinds: readonly string[]; readonly kindOf: readonly number[]; readonly values: readonly string[] };
  readonly ids: readonly (Laid & { readonly kind: string })[];
  readonly properties: readonly Valued[];
  readonly userProperties: readonly Valued[];
  readonly crowded: Readonly<Record<ValueColumns, readonly string[]>>;
  readonly reused: readonly number[];
  readonly elsewhere: readonly number[];
}

const ALIGNED = 8;
const WIDE = 2 ** 32;

/** Pieces of memory laid one after the other, each where numbers of any width can be read in place. */
class Pieces {
  private readonly pieces: { readonly at: number; readonly bytes: Uint8Array }[] = [];
  length = 0;

  add(array: Indices | Uint32Array | Float64Array): number {
    const at = this.length;
    this.pieces.push({ at, bytes: new Uint8Array(array.buffer, array.byteOffset, array.byteLength) });
    this.length = Math.ceil((at + array.byteLength) / ALIGNED) * ALIGNED;
    return at;
  }

  writeTo(bytes: Uint8Array, from: number): void {
    for (const p of this.pieces) bytes.set(p.bytes, from + p.at);
  }
}

const widthOf = (array: Indices): Width => array.BYTES_PER_ELEMENT as Width;

/** Which of a column's numbers occur, ascending, and each row's place among them; `undefined` where no row has one. */
const narrowed = (column: Column, from: number, to: number): { readonly used: Int32Array; readonly places: Indices } | undefined => {
  const raw = new Int32Array(to - from);
  const seen = new Set<number>();
  for (let i = 0; i < raw.length; i++) {
    const v = (raw[i] = column.get(from + i));
    if (v >= 0) seen.add(v);
  }
  if (seen.size === 0) return undefined;
  const used = Int32Array.from(seen).sort();
  const places = indicesFor(used.length - 1, to - from).fill(-1);
  const first = used[0]!;
  const last = used.at(-1)!;
  // Mostly they lie close together.
  if (last - first < (to - from) * 8) {
    const place = new Int32Array(last - first + 1);
    used.forEach((v, i) => (place[v - first] = i));
    for (let i = 0; i < raw.length; i++) if (raw[i]! >= 0) places[i] = place[raw[i]! - first]!;
  } else {
    const place = new Map<number, number>();
    used.forEach((v, i) => place.set(v, i));
    for (let i = 0; i < raw.length; i++) if (raw[i]! >= 0) places[i] = place.get(raw[i]!)!;
  }
  return { used, places };
};

const numbersOf = (column: Pick<Float64Column | NumberColumn, 'get'>, from: number, to: number, pieces: Pieces): Numbers => {
  const raw = new Float64Array(to - from);
  let [min, max, isWhole] = [Infinity, -Infinity, true];
  for (let i = 0; i < raw.length; i++) {
    const v = (raw[i] = column.get(from + i));
    if (v < min) min = v;
    if (v > max) max = v;
    if (!Number.isInteger(v)) isWhole = false;
  }
  if (!isWhole || max - min >= WIDE) return { at: pieces.add(raw), base: 0, width: 8 };
  const off = new Uint32Array(to - from);
  for (let i = 0; i < raw.length; i++) off[i] = raw[i]! - min;
  return { at: pieces.add(off), base: min, width: 4 };
};

const keptOf = (v: Value): Kept => (v instanceof Nested ? { nested: [v.kind, v.size, v.hash] } : v);
const valueOf = (v: Kept): Value => (typeof v === 'object' ? new Nested(...v.nested) : v);

/** The rows from one up to another.
 *  Shape: the length of the header as four bytes, little-endian; the header as JSON in UTF-8; the columns, little-endian, from the next multiple
 *  of eight on.
 */
export const writeSegment = (table: MessageTable, from: number, to: number): Uint8Array => {
  const pieces = new Pieces();
  const laid = (column: Column): Laid | undefined => {
    const n = narrowed(column, from, to);
    if (!n) return undefined;
    // These are few and fixed: they are kept as they are.
    const places = n.places.map((i) => (i < 0 ? -1 : n.used[i]!));
    return { at: pieces.add(places), width: widthOf(places) };
  };
  const worded = (column: Column, words: Dictionary<string>): Worded | undefined => {
    const n = narrowed(column, from, to);
    return n && { at: pieces.add(n.places), width: widthOf(n.places), values: [...n.used].map((i) => words.values[i]!) };
  };
  const valued = (columns: PathMap<ScalarColumn>): Valued[] =>
    [...columns].flatMap(([ref, { column, values }]) => {
      const n = narrowed(column, from, to);
      if (!n) return [];
      return [
        {
          path: pathOf(ref),
          at: pieces.add(n.places),
          width: widthOf(n.places),
          values: [...n.used].map((i) => keptOf(values.values[i]!)),
        },
      ];
    });
  const seen = new Set<number>();
  for (const column of table.ids.values()) {
    const raw = column.rawFor(to);
    for (let row = from; row < to; row++) if (raw[row]! >= 0) seen.add(raw[row]!);
  }
  const nodes = Int32Array.from(seen).sort();
  const placeOf = new Map<number, number>();
  nodes.forEach((node, i) => placeOf.set(node, i));
  const kinds = [...table.ids.keys()];
  const kindAt = new Map(kinds.map((k, i) => [k, i] as const));
  const ids = kinds.flatMap((kind) => {
    const raw = table.ids.get(kind)!.rawFor(to);
    const places = indicesFor(nodes.length - 1, to - from).fill(-1);
    let some = false;
    for (let row = from; row < to; row++)
      if (raw[row]! >= 0) {
        places[row - from] = placeOf.get(raw[row]!)!;
        some = true;
      }
    return some ? [{ kind, at: pieces.add(places), width: widthOf(places) }] : [];
  });
  const among = (rows: ReadonlySet<number>): number[] => {
    const own: number[] = [];
    for (let row = from; row < to && rows.size > 0; row++) if (rows.has(row)) own.push(row - from);
    return own;
  };
  const optional = {
    name: worded(table.name, table.names),
    source: worded(table.source, table.sources),
    release: worded(table.release, table.releases),
    page: worded(table.page, table.pages),
    environment: worded(table.environment, table.environments),
    kind: laid(table.otherKind),
    marks: laid(table.marks),
    consent: laid(table.consent),
  };
  const header: Header = {
    format: SEGMENT_FORMAT,
    rows: to - from,
    seq: numbersOf(table.seq, from, to, pieces),
    time: numbersOf(table.time, from, to, pieces),
    received: numbersOf(table.received, from, to, pieces),
    ...(Object.fromEntries(Object.entries(optional).filter(([, v]) => v !== undefined)) as Partial<Header>),
    nodes: {
      kinds,
      kindOf: [...nodes].map((i) => kindAt.get(table.nodes.kindOf(i))!),
      values: [...nodes].map((i) => table.nodes.valueOf(i)),
    },
    ids,
    properties: valued(table.properties),
    userProperties: valued(table.userProperties),
    crowded: { properties: [...table.crowdedNames('properties')], userProperties: [...table.crowdedNames('userProperties')] },
    reused: among(table.reused),
    elsewhere: among(table.elsewhere),
  };
  const text = new TextEncoder().encode(JSON.stringify(header));
  const begin = Math.ceil((4 + text.length) / ALIGNED) * ALIGNED;
  const bytes = new Uint8Array(begin + pieces.length);
  new DataView(bytes.buffer).setUint32(0, text.length, true);
  bytes.set(text, 4);
  pieces.writeTo(bytes, begin);
  return bytes;
};

/** Appends the rows of a segment. The bytes need not lie where numbers can be read in place.
 *  Errors: throws where they are no segment of this format; then nothing was appended.
 */
export const readSegment = (table: MessageTable, given: Uint8Array): void => {
  const bytes = given.byteOffset % ALIGNED === 0 ? given : given.slice();
  const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true);
  const header = JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + length))) as Header;
  if (header.format !== SEGMENT_FORMAT) throw new Error(`a segment of format ${header.format}`);
  const { rows } = header;
  const begin = bytes.byteOffset + Math.ceil((4 + length) / ALIGNED) * ALIGNED;
  const indices = ({ at, width }: Laid): Indices =>
    width === 1
      ? new Int8Array(bytes.buffer, begin + at, rows)
      : width === 2
        ? new Int16Array(bytes.buffer, begin + at, rows)
        : new Int32Array(bytes.buffer, begin + at, rows);
  const numbers = ({ at, base, width }: Numbers, put: (v: number, i: number) => void): void => {
    const raw = width === 8 ? new Float64Array(bytes.buffer, begin + at, rows) : new Uint32Array(bytes.buffer, begin + at, rows);
    for (let i = 0; i < rows; i++) put(base + raw[i]!, i);
  };
  const names = header.name && indices(header.name);
  const nameOf = Int32Array.from(header.name?.values ?? [], (v) => table.names.intern(v));
  const first = table.beginMany(
    rows,
    (i) => (names && names[i]! >= 0 ? nameOf[names[i]!]! : -1),
    (at) => {
      const time = table.time.raw;
      numbers(header.seq, (v) => table.seq.push(v));
      numbers(header.time, (v, i) => (time[at + i] = v));
      numbers(header.received, (v) => table.received.push(v));
    },
  );
  if (names) table.name.put(first, names, nameOf);
  const fill = (column: Column, of: Laid, known?: ArrayLike<number>): void => column.put(first, indices(of), known);
  const worded = (column: Column, of: Worded | undefined, words: Dictionary<string>): void => {
    if (of)
      fill(
        column,
        of,
        Int32Array.from(of.values, (v) => words.intern(v)),
      );
  };
  worded(table.source, header.source, table.sources);
  worded(table.release, header.release, table.releases);
  worded(table.page, header.page, table.pages);
  worded(table.environment, header.environment, table.environments);
  if (header.kind) fill(table.otherKind, header.kind);
  if (header.marks) fill(table.marks, header.marks);
  if (header.consent) fill(table.consent, header.consent);
  const { kinds, kindOf, values } = header.nodes;
  const nodes = Int32Array.from(values, (v, i) => table.nodes.intern(kinds[kindOf[i]!]!, v));
  for (const of of header.ids) fill(table.idColumn(of.kind), of, nodes);
  for (const part of ['properties', 'userProperties'] as const) {
    table.noteCrowded(part, header.crowded[part]);
    for (const of of header[part]) {
      const own = table.valueColumn(part, refOf(of.path));
      const known = Int32Array.from(of.values, (k) => {
        const v = valueOf(k);
        return v instanceof Nested ? MessageTable.internNested(own, v) : own.values.intern(v);
      });
      fill(own.column, of, known);
    }
  }
  for (const row of header.reused) table.reused.add(first + row);
  for (const row of header.elsewhere) table.elsewhere.add(first + row);
};
