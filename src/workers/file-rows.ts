/** The rows of a file of messages, read piece by piece. */
import Papa from 'papaparse';
import { flatRow } from '../core/formats/backfill';

export interface Row {
  readonly row: number;
  /** One for each column, or the line itself. */
  readonly cells: readonly unknown[];
  readonly text: string;
}

export const SAMPLE_BYTES = 200_000;
/** A record that does not end within so much text is no record. */
const MAX_TEXT = 16_000_000;

export const isNdjson = (file: File, start: string): boolean => /\.(ndjson|jsonl)$/i.test(file.name) || /^\s*\{/.test(start);
export const object = (line: string): { readonly [k: string]: unknown } | undefined => {
  try {
    const v: unknown = JSON.parse(line);
    return typeof v === 'object' && v !== null && !Array.isArray(v) ? (v as { [k: string]: unknown }) : undefined;
  } catch {
    return undefined;
  }
};

/** Text of a file, piece by piece, with the bytes read so far. Bytes that are not UTF-8 throw. */
async function* pieces(file: Blob): AsyncGenerator<{ text: string; bytes: number }> {
  const decoder = new TextDecoder('utf-8', { fatal: true });
  const reader = file.stream().getReader();
  let bytes = 0;
  for (;;) {
    const { done, value } = await reader.read();
    try {
      if (done) {
        yield { text: decoder.decode(), bytes };
        return;
      }
      bytes += value.byteLength;
      yield { text: decoder.decode(value, { stream: true }), bytes };
    } catch {
      throw new Error(`Bytes after ${bytes.toLocaleString('en-GB')} are not UTF-8; save the file as UTF-8. What came before is taken in.`);
    }
  }
}

/** The records of delimited text that are whole, and what is left over. */
const records = (text: string, delimiter: string, last: boolean): { readonly rows: string[][]; readonly rest: string } => {
  if (last) return { rows: Papa.parse<string[]>(text, { delimiter }).data, rest: '' };
  const parser = new Papa.Parser({ delimiter });
  const r = parser.parse(text, 0, true) as Papa.ParseResult<string[]>;
  return { rows: r.data, rest: text.slice(r.meta.cursor) };
};

/** Rows of a file in order. The header of delimited text is passed over. */
export async function* rowsOf(file: File, header: readonly string[], ndjson: boolean): AsyncGenerator<{ rows: Row[]; bytes: number }> {
  let rest = '';
  let row = 0;
  let delimiter = '';
  for await (const { text, bytes } of pieces(file)) {
    const last = text === '' && bytes >= file.size;
    rest += text;
    const out: Row[] = [];
    if (ndjson) {
      const lines = rest.split('\n');
      rest = last ? '' : lines.pop()!;
      for (const line of lines) {
        row++;
        const t = line.trim();
        if (t === '') continue;
        const flat = object(t);
        const cells = flat ? flatRow(flat) : undefined;
        out.push({ row, cells: cells ? header.map((h) => cells[h]) : [], text: t });
      }
    } else {
      if (delimiter === '') delimiter = guessDelimiter(rest);
      const whole = records(rest, delimiter, last);
      rest = whole.rest;
      for (const cells of whole.rows) {
        row++;
        if (row === 1 || (cells.length === 1 && cells[0]!.trim() === '')) continue;
        out.push({ row, cells, text: '' });
      }
    }
    yield { rows: out, bytes };
    if (rest.length > MAX_TEXT)
      throw new Error(
        `The record after row ${row.toLocaleString('en-GB')} does not end; is a quote left open? What came before is taken in.`,
      );
  }
}

export const guessDelimiter = (text: string): string =>
  Papa.parse(text.slice(0, SAMPLE_BYTES), { preview: 20, delimitersToGuess: [',', '\t', ';'] }).meta.delimiter;
