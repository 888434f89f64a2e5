/** What a definition would take, before it is saved. */
import type { Dictionary, IndexColumn } from '../table/column';
import type { MessageTable } from '../table/message-table';
import { ELEMENT_TEXT } from './interactions';
import type { Definition } from './definition';
import { lookAlikes, type LookAlike } from './look-alikes';
import type { Missed, Sifted } from './marks';
import { sifted, type MatchContext } from './matching-rows';

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
  /** Messages by day, ascending; days without one are left out. */
  readonly perDay: readonly (readonly [day: number, messages: number])[];
  readonly bySource: readonly Counted[];
  readonly byRelease: readonly Counted[];
  /** Most messages first. */
  readonly byPage: readonly Counted[];
  /** Texts of the elements, most messages first; empty where no message is of an element. */
  readonly byText: readonly Counted[];
  /** Pages that match, those least like the bulk first. */
  readonly lookAlikes: readonly LookAlike[];
  /** The same of the elements' texts. */
  readonly textLookAlikes: readonly LookAlike[];
  /** Sequence numbers of messages that match, newest first. */
  readonly examples: readonly number[];
  readonly nearMisses: readonly NearMiss[];
}

export type Taken = Sifted & { readonly offered: Int32Array };

const MAX_EXAMPLES = 20;
const MAX_PAGES = 200;

/** Days, numbered from 0 to below `count`; −1 is what lies before. */
export interface Days {
  readonly count: number;
  readonly of: (at: number) => number;
}

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

const textsIn = (rows: Int32Array, table: MessageTable): Map<string, number> => {
  const column = table.properties.get(ELEMENT_TEXT);
  if (!column) return new Map();
  const counts = new Map<number, number>();
  for (let i = 0; i < rows.length; i++) {
    const v = column.column.get(rows[i]!);
    if (v >= 0) counts.set(v, (counts.get(v) ?? 0) + 1);
  }
  return new Map([...counts].map(([v, n]) => [String(column.values.values[v]), n]));
};

const mostFirst = (counts: ReadonlyMap<string, number>): Counted[] =>
  [...counts].map(([value, messages]) => ({ value, messages })).sort((a, b) => b.messages - a.messages || (a.value < b.value ? -1 : 1));

const nearMissesOf = (missed: readonly Missed[], table: MessageTable): NearMiss[] =>
  missed.flatMap(({ messages, newest }, part) =>
    messages === 0 ? [] : [{ part, messages, examples: newest.map((row) => table.seq.get(row)) }],
  );

/** The preview of a definition whose rows are known. */
export const previewOfRows = (table: MessageTable, { offered, rows, missed }: Taken, days: Days): Preview => {
  const perDay = new Float64Array(days.count + 1);
  const time = table.time.raw;
  for (let i = 0; i < rows.length; i++) perDay[days.of(time[rows[i]!]!) + 1]!++;
  const pages = countsOf(rows, table.page, table.pages, table.length);
  pages.delete('');
  const texts = textsIn(rows, table);
  return {
    messages: rows.length,
    ofSource: offered.length,
    perDay: [...perDay].flatMap((n, i): [number, number][] => (n > 0 ? [[i - 1, n]] : [])),
    bySource: mostFirst(countsOf(rows, table.source, table.sources, table.length)),
    byRelease: mostFirst(countsOf(rows, table.release, table.releases, table.length)),
    byPage: mostFirst(pages).slice(0, MAX_PAGES),
    byText: mostFirst(texts).slice(0, MAX_PAGES),
    lookAlikes: lookAlikes(pages).slice(0, MAX_PAGES),
    textLookAlikes: lookAlikes(texts).slice(0, MAX_PAGES),
    examples: Array.from(rows.slice(-MAX_EXAMPLES).reverse(), (row) => table.seq.get(row)),
    nearMisses: nearMissesOf(missed, table),
  };
};

/** What a definition takes, and what just misses it. */
export const takenBy = (d: Pick<Definition, 'source' | 'where' | 'since'>, c: MatchContext): Taken => sifted(d, c, MAX_EXAMPLES);

/** How many messages a definition would take, of how many, where and when, and which lie next to it. */
export const previewOf = (d: Pick<Definition, 'source' | 'where' | 'since'>, c: MatchContext, days: Days): Preview =>
  previewOfRows(c.table, takenBy(d, c), days);
