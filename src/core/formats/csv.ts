/** CSV by RFC 4180, with cells that a sheet would take for a formula made harmless. */
import Papa from 'papaparse';

/** Starts by which sheet programs know a formula. */
const FORMULA = /^[=+\-@\t\r]/;

/** A cell that begins like a formula gets an apostrophe before it; one that begins with apostrophes and then like a formula gets one
 *  more, so that reading takes exactly one away. Numbers stay as they are.
 *  Source: common practice against formula injection; no standard.
 */
export const harmless = (cell: string): string => (/^'*[=+\-@\t\r]/.test(cell) && !isNumber(cell) ? `'${cell}` : cell);
export const asWritten = (cell: string): string => (/^'+[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);

const isNumber = (cell: string): boolean => FORMULA.test(cell) && /^[+-]?\d+(\.\d+)?$/.test(cell);

/** Rows as CSV text: CRLF between records, quotes where they are needed, formulas made harmless.
 *  Source: RFC 4180, section 2.
 */
export const toCsv = (rows: readonly (readonly string[])[]): string =>
  `${Papa.unparse(
    rows.map((r) => r.map(harmless)),
    { newline: '\r\n' },
  )}\r\n`;

export interface CsvProblem {
  /** 1 is the first record. */
  readonly row: number;
  /** 1 is the first column; `undefined`: the whole record. */
  readonly column: number | undefined;
  readonly detail: string;
}

export interface CsvTable {
  readonly header: readonly string[];
  readonly rows: readonly (readonly string[])[];
  readonly delimiter: string;
  readonly problems: readonly CsvProblem[];
}

export const MAX_ROWS = 50_000;
const REPLACEMENT = '\ufffd';

/** Reads CSV, TSV or semicolon-separated text with a header record.
 *  Shape: cells as text, formulas as they were written; a record that is shorter or longer than the header is a problem and is
 *  kept out; blank lines are passed over. A byte order mark is removed.
 *  Errors: never throws; each problem has its record and column and how to fix it.
 *  Source: RFC 4180; read by the package papaparse 5.
 */
export const readCsv = (text: string): CsvTable => {
  const parsed = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), { skipEmptyLines: 'greedy', delimitersToGuess: [',', '\t', ';'] });
  const [header = [], ...rest] = parsed.data;
  const problems: CsvProblem[] = [];
  for (const e of parsed.errors)
    if (e.type === 'Quotes')
      problems.push({ row: (e.row ?? 0) + 1, column: undefined, detail: 'A quote is not closed or is inside a cell; double it.' });
  if (header.length === 0) problems.push({ row: 1, column: undefined, detail: 'The file is empty.' });
  if (rest.length > MAX_ROWS)
    problems.push({
      row: MAX_ROWS + 2,
      column: undefined,
      detail: `${rest.length} records are more than the ${MAX_ROWS} that are taken at once; cut the file in parts.`,
    });
  const rows: string[][] = [];
  for (const [i, r] of rest.slice(0, MAX_ROWS).entries()) {
    if (r.length !== header.length) {
      problems.push({
        row: i + 2,
        column: undefined,
        detail: `${r.length === 1 ? 'One cell' : `${r.length} cells`}, where the header has ${header.length}.`,
      });
      continue;
    }
    const broken = r.findIndex((c) => c.includes(REPLACEMENT));
    if (broken >= 0) problems.push({ row: i + 2, column: broken + 1, detail: 'A character could not be read; save the file as UTF-8.' });
    rows.push(r.map(asWritten));
  }
  return { header: header.map((h) => h.trim()), rows, delimiter: parsed.meta.delimiter, problems };
};
