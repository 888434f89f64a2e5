/** What a definition would take, before it is saved. */
import { DAY_MS } from '../time';
import type { Dictionary, IndexColumn } from '../table/column';
import type { MessageTable } from '../table/message-table';
import { ELEMENT_TEXT } from './interactions';
import { EVERYTHING, type Definition, type Group } from './definition';
import { lookAlikes, type LookAlike } from './look-alikes';
import { partsOf, rowsOfDefinition, rowsWhere, type MatchContext } from './matching-rows';

export interface Counted {
  readonly value: string;
  readonly messages: number;
}

export interface NearMiss {
  /** Which part of the sentence alone keeps it out: its place among the conditions, then the groups. */
  readonly part: number;
  readonly messages: number;
  /** Sequence numbers, newest first. */
  readonly examples: readonly number[];
}

export interface Preview {
  readonly messages: number;
  /** Messages of the source, from the definition's start on. */
  readonly ofSource: number;
  /** Messages by day, as `dayOf` numbers them, ascending; days without one are left out. */
  readonly perDay: readonly (readonly [day: number, messages: number])[];
  readonly bySource: readonly Counted[];
  readonly byRelease: readonly Counted[];
  /** Most messages first. */
  readonly byPage: readonly Counted[];
  /** Texts of the elements, most messages first; empty where no message is of an element. */
  readonly byText: readonly Counted[];
  /** Pages that match, those least like the bulk first. */
  readonly lookAlikes: readonly LookAlike[];
  /** Sequence numbers of messages that match, newest first. */
  readonly examples: readonly number[];
  readonly nearMisses: readonly NearMiss[];
}

const MAX_EXAMPLES = 20;
const MAX_PAGES = 200;

const countsOf = (rows: Int32Array, column: IndexColumn, names: Dictionary<string>, length: number): Map<string, number> => {
  const counts = new Float64Array(names.values.length + 1);
  const index = column.rawFor(length);
  for (let i = 0; i < rows.length; i++) counts[index[rows[i]!]! + 1]!++;
  const out = new Map<string, number>();
  names.values.forEach((v, i) => {
    if (counts[i + 1]! > 0) out.set(v, counts[i + 1]!);
  });
  if (counts[0]! > 0) out.set('', (out.get('') ?? 0) + counts[0]!);
  return out;
};

const textsIn = (rows: Int32Array, table: MessageTable): Counted[] => {
  const column = table.properties.get(ELEMENT_TEXT);
  if (!column) return [];
  const index = column.column.rawFor(table.length);
  const counts = new Map<number, number>();
  for (let i = 0; i < rows.length; i++) {
    const v = index[rows[i]!]!;
    if (v >= 0) counts.set(v, (counts.get(v) ?? 0) + 1);
  }
  return mostFirst(new Map([...counts].map(([v, n]) => [String(column.values.values[v]), n])));
};

const mostFirst = (counts: ReadonlyMap<string, number>): Counted[] =>
  [...counts].map(([value, messages]) => ({ value, messages })).sort((a, b) => b.messages - a.messages || (a.value < b.value ? -1 : 1));

/** Messages that one part of the sentence alone keeps out. Only where all parts must hold can one alone do so. */
const nearMissesOf = (where: Group, rows: Int32Array, c: MatchContext): NearMiss[] => {
  if (where.match === 'any') return [];
  const parts = partsOf(where, c);
  if (parts.length < 2) return [];
  const found = parts.map((): number[] => []);
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i]!;
    let failed = -1;
    let more = false;
    for (let p = 0; p < parts.length && !more; p++)
      if (!parts[p]!(row)) {
        more = failed >= 0;
        failed = p;
      }
    if (failed >= 0 && !more) found[failed]!.push(row);
  }
  return found.flatMap((own, part) =>
    own.length === 0
      ? []
      : [
          {
            part,
            messages: own.length,
            examples: own
              .slice(-MAX_EXAMPLES)
              .reverse()
              .map((row) => c.table.seq.get(row)),
          },
        ],
  );
};

/** The preview of a definition whose rows are known. `offered` are those of its source, from its start on. */
export const previewOfRows = (
  { where }: Pick<Definition, 'where'>,
  c: MatchContext,
  offered: Int32Array,
  rows: Int32Array,
  dayOf: (at: number) => number,
): Preview => {
  const { table } = c;
  const perDay = new Map<number, number>();
  const time = table.time.raw;
  for (let i = 0; i < rows.length; i++) {
    const day = dayOf(time[rows[i]!]!);
    perDay.set(day, (perDay.get(day) ?? 0) + 1);
  }
  const pages = countsOf(rows, table.page, table.pages, table.length);
  pages.delete('');
  return {
    messages: rows.length,
    ofSource: offered.length,
    perDay: [...perDay].sort((a, b) => a[0] - b[0]),
    bySource: mostFirst(countsOf(rows, table.source, table.sources, table.length)),
    byRelease: mostFirst(countsOf(rows, table.release, table.releases, table.length)),
    byPage: mostFirst(pages).slice(0, MAX_PAGES),
    byText: textsIn(rows, table).slice(0, MAX_PAGES),
    lookAlikes: lookAlikes(pages).slice(0, MAX_PAGES),
    examples: Array.from(rows.slice(-MAX_EXAMPLES).reverse(), (row) => table.seq.get(row)),
    nearMisses: nearMissesOf(where, offered, c),
  };
};

/** How many messages a definition would take, of how many, where and when, and which lie next to it. Days are since 1970, UTC, unless said
 *  otherwise.
 */
export const previewOf = (
  d: Pick<Definition, 'source' | 'where' | 'since'>,
  c: MatchContext,
  dayOf: (at: number) => number = (at) => Math.floor(at / DAY_MS),
): Preview => {
  const offered = rowsOfDefinition({ ...d, where: EVERYTHING }, c);
  return previewOfRows(d, c, offered, rowsWhere(offered, d.where, c), dayOf);
};
