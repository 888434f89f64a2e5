/** Stored messages into a table straight from their bytes: what was met before is known again without making text of it.
 *  Long because the short way and the long one must say the same of a row.
 */
import { ByteDictionary, hashOf, sameBytes, wordsOf } from './byte-dictionary';
import type { Column } from './column';
import { CLOSE, closingQuote, COLON, COMMA, isNested, OPEN, pastValue, QUOTE } from './json-scan';
import { isObject } from '../plan/property-path';
import { consentOf, type MessageTable, type ValueColumns } from './message-table';
import { verdictOf, type Verdict } from './row-verdicts';
import { marksOf, type MessageKind } from './message-kinds';

/** Makes text of the bytes that are read now, from one place up to another. */
type Decode = (from: number, to: number) => string;

/** A name in an object: as it is in the text up to behind its colon, and what was met under it. */
interface Key {
  readonly name: string;
  readonly words: Int32Array;
  readonly bytes: number;
  readonly known: ByteDictionary;
  column: Column | undefined;
  /** Bytes of its last value: mostly as many as of the next one. */
  width: number;
  /** Of a part of the body: what it is read by. */
  readonly section: Section | undefined;
  /** Of a field of the body that has a column of its own: how it is kept there. */
  readonly plain: Plain | undefined;
}

/** A field of the body that is kept on its own. */
interface Plain {
  readonly column: Column;
  /** Index of a value; −1 for what is not kept. */
  readonly intern: (value: unknown) => number;
}

/** The names of one object, such as the properties; those of the body itself are one too. */
class Keys {
  private readonly keys: Key[] = [];
  private readonly byBytes = new ByteDictionary();
  /** For each event name the keys in the order of its last message: mostly that of the next one too. */
  private readonly orders: (Key[] | undefined)[] = [];
  constructor(
    private readonly sectionOf?: (name: string) => Section | undefined,
    private readonly plainOf?: (name: string) => Plain | undefined,
  ) {}

  orderOf(eventName: number): Key[] {
    return (this.orders[eventName + 1] ??= []);
  }

  /** The key whose first letter is at `at`: the expected one, or the one that is there; `undefined` without a colon at once. */
  at(from: DataView, at: number, order: Key[], place: number, decode: Decode): Key | undefined {
    const expected = order[place];
    if (expected && sameBytes(from, at, expected.words, 0, expected.bytes)) return expected;
    const to = closingQuote(from, at) + 2;
    if (from.getUint8(to - 1) !== COLON) return undefined;
    const hash = hashOf(from, at, to);
    const found = this.byBytes.find(from, at, to, hash);
    const key = found >= 0 ? this.keys[found]! : this.add(from, at, to, hash, decode);
    order[place] = key;
    return key;
  }

  private add(from: DataView, at: number, to: number, hash: number, decode: Decode): Key {
    const name = JSON.parse(decode(at - 1, to - 1)) as string;
    this.byBytes.add(from, at, to, hash, this.keys.length);
    const section = this.sectionOf?.(name);
    const key: Key = {
      name,
      words: wordsOf(from, at, to),
      bytes: to - at,
      known: new ByteDictionary(),
      column: undefined,
      width: 0,
      section,
      plain: this.plainOf?.(name),
    };
    this.keys.push(key);
    return key;
  }
}

interface Section {
  /** Its bit among those of the sections. */
  readonly bit: number;
  readonly keys: Keys;
  /** Index of a scalar in the column of a name; −1 for what is not kept. */
  readonly intern: (name: string, value: unknown) => number;
  readonly columnOf: (name: string) => Column;
  /** Keeps a list or an object, with what is inside of it. */
  readonly keepNested: ((row: number, name: string, value: unknown) => void) | undefined;
}

const NOT_KEPT = 0;
const KEPT_ALREADY = -2;

/** What is before the body of a message. */
interface Head {
  readonly source: number;
  readonly kind: MessageKind;
  /** −1 for what is no event. */
  readonly name: number;
  readonly release: number;
}

/** Appends stored messages to a table from their bytes, with the same result as `MessageTable.append` has of the parsed body.
 *  The bytes are valid UTF-8 and the body valid JSON, as a database gives them. A body that is not laid out compactly, or that names a
 *  part twice, is given to `JSON.parse`.
 */
export class RowReader {
  private readonly sections: ReadonlyMap<string, Section>;
  private readonly plain: ReadonlyMap<string, Plain>;
  private readonly body = new Keys(
    (name) => this.sections.get(name),
    (name) => this.plain.get(name),
  );
  private readonly knownHeads = new ByteDictionary();
  private readonly heads: Head[] = [];
  private readonly knownVerdicts = new ByteDictionary();
  private readonly verdicts: (readonly Verdict[])[] = [];

  constructor(
    private readonly table: MessageTable,
    private readonly decode: Decode,
  ) {
    const values = (bit: number, of: ValueColumns): Section => ({
      bit,
      keys: new Keys(),
      intern: (name, v) => table.internScalar(of, name, v),
      columnOf: (name) => table.valueColumn(of, name).column,
      keepNested: (row, name, v) => table.keepValue(of, row, name, v),
    });
    const ids: Section = {
      bit: 1,
      keys: new Keys(),
      intern: (kind, v) => table.internId(kind, v),
      columnOf: (kind) => table.idColumn(kind),
      keepNested: undefined,
    };
    this.plain = new Map<string, Plain>([
      ['page', { column: table.page, intern: (v) => (typeof v === 'string' && v !== '' ? table.pages.intern(v) : -1) }],
      ['environment', { column: table.environment, intern: (v) => table.internEnvironment(v) }],
      ['marks', { column: table.marks, intern: marksOf }],
      ['consent', { column: table.consent, intern: consentOf }],
    ]);
    this.sections = new Map([
      ['ids', ids],
      ['properties', values(2, 'properties')],
      ['user_properties', values(4, 'userProperties')],
    ]);
  }

  /** Appends a row. `at` has begin and end of each of `ROW_FIELDS`; findings of no bytes are none. Before each field is its length.
   *  All fields must be followed by at least three bytes more, whatever they are.
   */
  read(from: DataView, at: Int32Array, seq: number, occurredAt: number, receivedAt: number): void {
    const { source, kind, name, release } = this.headOf(from, at);
    const row = this.table.begin(seq, occurredAt, receivedAt, name, source, release);
    if (name < 0) this.table.setKind(row, kind);
    if (!this.readBody(from, at[8]!, at[9]!, name, row)) this.parseBody(this.decode(at[8]!, at[9]!), row);
    if (at[11]! > at[10]!) this.readVerdicts(from, at[10]!, at[11]!, row);
  }

  /** Source, kind, name and release are seldom new together: one look for all four. */
  private headOf(from: DataView, at: Int32Array): Head {
    const start = at[0]!;
    const end = at[7]!;
    const hash = hashOf(from, start, end);
    let found = this.knownHeads.find(from, start, end, hash);
    if (found < 0) {
      const { sources, names, releases } = this.table;
      const kind = this.decode(at[2]!, at[3]!) as MessageKind;
      found = this.heads.length;
      this.heads.push({
        source: sources.intern(this.decode(start, at[1]!)),
        kind,
        name: kind === 'event' ? names.intern(this.decode(at[4]!, at[5]!)) : -1,
        release: releases.intern(this.decode(at[6]!, end)),
      });
      this.knownHeads.add(from, start, end, hash, found);
    }
    return this.heads[found]!;
  }

  /** Reads a compact body; false where it is not one. */
  private readBody(from: DataView, start: number, end: number, eventName: number, row: number): boolean {
    const order = this.body.orderOf(eventName);
    let i = start;
    let seen = 0;
    if (from.getUint8(i++) !== OPEN) return false;
    for (let place = 0; ; place++) {
      if (from.getUint8(i++) !== QUOTE) return false;
      const key = this.body.at(from, i, order, place, this.decode);
      if (!key) return false;
      i += key.bytes;
      const { section } = key;
      if (!section) {
        const begin = i;
        i = pastValue(from, i);
        if (key.plain) this.readPlain(from, key, key.plain, begin, i, row);
      } else {
        if (seen & section.bit) return false;
        seen |= section.bit;
        i = from.getUint8(i) === OPEN ? this.readSection(from, i + 1, end, section, eventName, row) : pastValue(from, i);
        if (i < 0) return false;
      }
      const c = from.getUint8(i++);
      if (c === CLOSE) return true;
      if (c !== COMMA) return false;
    }
  }

  /** Reads the names and values of a section from behind its brace; the place behind it, or −1 where it is not compact. */
  private readSection(
    from: DataView,
    start: number,
    end: number,
    { keys, intern, columnOf, keepNested }: Section,
    eventName: number,
    row: number,
  ): number {
    const order = keys.orderOf(eventName);
    let i = start;
    if (from.getUint8(i) === CLOSE) return i + 1;
    for (let place = 0; ; place++) {
      if (from.getUint8(i++) !== QUOTE) return -1;
      const key = keys.at(from, i, order, place, this.decode);
      if (!key) return -1;
      const begin = i + key.bytes;
      let kept = -1;
      // A known value ends where it ended before, if a comma or a brace follows: no text is the beginning of another.
      i = begin + key.width;
      if (key.width > 0 && i < end) {
        const next = from.getUint8(i);
        if (next === COMMA || next === CLOSE) kept = key.known.find(from, begin, i, hashOf(from, begin, i));
      }
      if (kept < 0) {
        i = pastValue(from, begin);
        if (i === begin) return -1;
        key.width = i - begin;
        if (isNested(from.getUint8(begin))) {
          key.width = 0;
          if (keepNested) {
            if ((key.column ??= columnOf(key.name)).length > row) return -1;
            keepNested(row, key.name, JSON.parse(this.decode(begin, i)));
            kept = KEPT_ALREADY;
          } else kept = NOT_KEPT;
        } else {
          const hash = hashOf(from, begin, i);
          kept = key.known.find(from, begin, i, hash);
          if (kept < 0) {
            kept = intern(key.name, JSON.parse(this.decode(begin, i))) + 1;
            key.known.add(from, begin, i, hash, kept);
          }
        }
      }
      // A name may come twice: then the last one counts, and the whole is read the long way. Rows are appended, so a column ends with the last one that has
      // a value.
      if (kept > NOT_KEPT) {
        const column = (key.column ??= columnOf(key.name));
        if (column.length > row) return -1;
        column.set(row, kept - 1);
      } else if (kept === NOT_KEPT && key.column && key.column.length > row) return -1;
      const c = from.getUint8(i++);
      if (c === CLOSE) return i;
      if (c !== COMMA) return -1;
    }
  }

  private readPlain(from: DataView, key: Key, { column, intern }: Plain, begin: number, end: number, row: number): void {
    const hash = hashOf(from, begin, end);
    let found = key.known.find(from, begin, end, hash);
    if (found < 0) {
      found = intern(JSON.parse(this.decode(begin, end))) + 1;
      key.known.add(from, begin, end, hash, found);
    }
    column.set(row, found - 1);
  }

  private parseBody(text: string, row: number): void {
    this.table.clear(row);
    const body = JSON.parse(text) as Record<string, unknown>;
    for (const [name, { column, intern }] of this.plain) if (Object.hasOwn(body, name)) column.set(row, intern(body[name]));
    for (const [part, { intern, columnOf, keepNested }] of this.sections) {
      const given = body[part];
      if (!isObject(given)) continue;
      for (const [name, v] of Object.entries(given)) {
        const value = intern(name, v);
        if (value >= 0) columnOf(name).set(row, value);
        else if (keepNested && typeof v === 'object' && v !== null) keepNested(row, name, v);
      }
    }
  }

  private readVerdicts(from: DataView, start: number, end: number, row: number): void {
    const hash = hashOf(from, start, end);
    let found = this.knownVerdicts.find(from, start, end, hash);
    if (found < 0) {
      found = this.verdicts.length;
      const given = JSON.parse(this.decode(start, end)) as Verdict[];
      this.verdicts.push(given.map(verdictOf));
      this.knownVerdicts.add(from, start, end, hash, found);
    }
    this.table.setVerdicts(row, this.verdicts[found]!);
  }
}
