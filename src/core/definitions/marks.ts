/** One bit for each row of a list: whether something holds for it. */
import { ones } from '../table/bitset';
import type { Column } from '../table/column';

export type Marks = Int32Array;

/** What a part of a sentence says of rows. */
export type Part = (rows: Int32Array) => Marks;

export const marksFor = (rows: number): Marks => new Int32Array((rows + 31) >>> 5);

/** A part that looks at each row. */
export const byRow =
  (holds: (row: number) => boolean): Part =>
  (rows) => {
    const out = marksFor(rows.length);
    for (let i = 0; i < rows.length; i++) if (holds(rows[i]!)) out[i >>> 5]! |= 1 << (i & 31);
    return out;
  };

/** A part that looks at the values of a column: each distinct one is judged once, and a row is then a look-up. `values` are so many. */
export const byValue = (column: Pick<Column, 'get' | 'marked'>, values: number, holdsAt: (i: number) => boolean, absent: boolean): Part => {
  // One place further on, since the first place is for what is absent.
  const holds = new Uint8Array(values + 1);
  holds[0] = Number(absent);
  const isJudged = new Uint8Array(values + 1);
  isJudged[0] = 1;
  const judge = (i: number): void => {
    if (isJudged[i + 1] === 1) return;
    isJudged[i + 1] = 1;
    holds[i + 1] = Number(holdsAt(i));
  };
  return (rows) => {
    // Of values that are more than the rows, those are judged that the rows have.
    if (values <= rows.length) for (let i = 0; i < values; i++) judge(i);
    else for (let i = 0; i < rows.length; i++) judge(column.get(rows[i]!));
    return column.marked(rows, holds);
  };
};

export const always =
  (holds: boolean): Part =>
  (rows) =>
    marksFor(rows.length).fill(holds ? -1 : 0);

/** Where all, or any, of several marks are. */
export const joined = (rows: Int32Array, match: 'all' | 'any', all: readonly Marks[]): Marks => {
  const out = always(match === 'all')(rows);
  for (const marks of all)
    if (match === 'all') for (let w = 0; w < out.length; w++) out[w]! &= marks[w]!;
    else for (let w = 0; w < out.length; w++) out[w]! |= marks[w]!;
  return out;
};

/** Where all, or any, of several parts hold. */
export const together =
  (match: 'all' | 'any', parts: readonly Part[]): Part =>
  (rows) =>
    joined(
      rows,
      match,
      parts.map((part) => part(rows)),
    );

/** The bits of a word that belong to rows: the last one may have fewer than 32. */
const within = (rows: number, w: number): number => (rows - w * 32 >= 32 ? -1 : (1 << (rows - w * 32)) - 1);

const lowest = (word: number): number => 31 - Math.clz32(word & -word);

/** The rows that are marked, in their order. */
export const kept = (rows: Int32Array, marks: Marks): Int32Array => {
  let marked = 0;
  for (let w = 0; w < marks.length; w++) marked += ones(marks[w]! & within(rows.length, w));
  const out = new Int32Array(marked);
  let n = 0;
  for (let w = 0; w < marks.length; w++)
    for (let word = marks[w]! & within(rows.length, w); word !== 0; word &= word - 1) out[n++] = rows[w * 32 + lowest(word)]!;
  return out;
};

export interface Missed {
  readonly messages: number;
  /** The last of them, the last first. */
  readonly newest: readonly number[];
}

export interface Sifted {
  /** Rows for which all parts hold, in their order. */
  readonly rows: Int32Array;
  /** Of each part the rows that it alone keeps out. */
  readonly missed: readonly Missed[];
}

/** Tells rows for which all parts hold from those that one part alone keeps out, among those that are `wanted`, or all; `newest` so many of the latter
 *  are named.
 */
export const sift = (rows: Int32Array, wanted: Marks | undefined, parts: readonly Marks[], newest: number): Sifted => {
  const fails = marksFor(rows.length);
  const failsTwice = marksFor(rows.length);
  for (const marks of parts)
    for (let w = 0; w < fails.length; w++) {
      const f = ~marks[w]!;
      failsTwice[w]! |= fails[w]! & f;
      fails[w]! |= f;
    }
  const holding = fails.map((word, w) => ~word & (wanted?.[w] ?? -1));
  const missed = parts.map((marks): Missed => {
    const last: number[] = [];
    let messages = 0;
    for (let w = marks.length - 1; w >= 0; w--) {
      let word = ~marks[w]! & ~failsTwice[w]! & (wanted?.[w] ?? -1) & within(rows.length, w);
      messages += ones(word);
      for (; word !== 0 && last.length < newest; word &= ~(1 << (31 - Math.clz32(word)))) last.push(rows[w * 32 + 31 - Math.clz32(word)]!);
    }
    return { messages, newest: last };
  });
  return { rows: kept(rows, holding), missed };
};
