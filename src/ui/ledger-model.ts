/** The ledger's model: columns, cells, ranges, and text from and to a sheet. */
import type { Editor } from '../core/plan/fields/field';
import type { CellWrite } from '../core/plan/sheet-writes';

export interface Column {
  readonly key: string;
  readonly title: string;
  /** Width in px. */
  readonly width: number;
  readonly wire?: boolean;
  readonly editable: boolean;
  /** How the cell of a row is edited. */
  readonly editorOf: (row: string) => { readonly editor: Editor; readonly options: readonly string[] };
  readonly read: (row: string) => string;
}

export interface Cell {
  readonly row: number;
  readonly column: number;
}

export interface Range {
  readonly top: number;
  readonly left: number;
  readonly bottom: number;
  readonly right: number;
}

export const rangeOf = (a: Cell, b: Cell): Range => ({
  top: Math.min(a.row, b.row),
  bottom: Math.max(a.row, b.row),
  left: Math.min(a.column, b.column),
  right: Math.max(a.column, b.column),
});

/** Cells as tab-separated text, the form in which sheets put ranges on the clipboard. */
export const toSheetText = (cells: readonly (readonly string[])[]): string => cells.map((r) => r.map(quoted).join('\t')).join('\n');

const quoted = (s: string): string => (/[\t\n\r"]/.test(s) ? `"${s.replaceAll('"', '""')}"` : s);

/** What pasting cells at a range writes. One value fills the whole range; a block that goes evenly into a larger range is repeated. */
export const pasteInto = (cells: readonly (readonly string[])[], range: Range): CellWrite[] => {
  const height = cells.length;
  const width = Math.max(0, ...cells.map((r) => r.length));
  if (height === 0 || width === 0) return [];
  const rows = range.bottom - range.top + 1;
  const columns = range.right - range.left + 1;
  const repeat = rows % height === 0 && columns % width === 0;
  const downTo = repeat ? rows : height;
  const acrossTo = repeat ? columns : width;
  const writes: CellWrite[] = [];
  for (let r = 0; r < downTo; r++)
    for (let c = 0; c < acrossTo; c++) {
      const text = cells[r % height]![c % width];
      if (text !== undefined) writes.push({ row: range.top + r, column: range.left + c, text });
    }
  return writes;
};

/** What filling down writes: the first row of the range in each of the others; with one row only, the row above it. */
export const fillDown = (range: Range, read: (cell: Cell) => string): CellWrite[] => {
  const from = range.top === range.bottom ? range.top - 1 : range.top;
  if (from < 0) return [];
  const writes: CellWrite[] = [];
  for (let row = from + 1; row <= range.bottom; row++)
    for (let column = range.left; column <= range.right; column++) writes.push({ row, column, text: read({ row: from, column }) });
  return writes;
};

/** Where a word begins in the item of a list that is being typed, and the item. */
export const itemAt = (text: string, caret: number): { from: number; to: number; item: string } => {
  const from = text.lastIndexOf(',', caret - 1) + 1;
  const next = text.indexOf(',', caret);
  const to = next < 0 ? text.length : next;
  return { from, to, item: text.slice(from, to).trim() };
};
