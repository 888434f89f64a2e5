/** The ledger's model: cells, ranges, and text from and to a sheet. */
export interface Column<Row> {
  readonly key: string;
  readonly title: string;
  /** Width in px. */
  readonly width: number;
  readonly wire?: boolean;
  /** Not set: the cell is only read. */
  readonly options?: readonly string[];
  readonly read: (row: Row) => string;
  readonly editable: boolean;
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

const quoted = (s: string): string => (/[\t\n\r"]/.test(s) ? `"${s.replaceAll('"', '""')}"` : s);

/** Cells as tab-separated text, the form in which sheets put ranges on the clipboard. */
export const toSheetText = (cells: readonly (readonly string[])[]): string => cells.map((r) => r.map(quoted).join('\t')).join('\n');

/** Tab-separated text from a sheet as cells; quoted cells may hold tabs and line feeds. A last empty line is left out. */
export const fromSheetText = (text: string): string[][] => {
  const rows: string[][] = [[]];
  let cell = '';
  let inQuotes = false;
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (inQuotes) {
      if (c !== '"') cell += c;
      else if (text[i + 1] === '"') {
        cell += '"';
        i++;
      } else inQuotes = false;
    } else if (c === '"' && cell === '') inQuotes = true;
    else if (c === '\t') {
      rows.at(-1)!.push(cell);
      cell = '';
    } else if (c === '\n' || c === '\r') {
      if (c === '\r' && text[i + 1] === '\n') i++;
      rows.at(-1)!.push(cell);
      rows.push([]);
      cell = '';
    } else cell += c;
  }
  rows.at(-1)!.push(cell);
  if (rows.length > 1 && rows.at(-1)!.length === 1 && rows.at(-1)![0] === '') rows.pop();
  return rows;
};
