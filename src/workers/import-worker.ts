/** Files that are imported into the plan, read off the page's thread. */
import { expose } from 'comlink';
import { readCsv } from '../core/formats/csv';
import type { How, Outcome } from '../core/formats/format';
import { formatOf, readable, recognised, written, type FormatId } from '../core/formats/plan/index';
import { CSV_COLUMNS, guessMapping, type CsvMapping } from '../core/formats/plan-csv';
import type { Plan } from '../core/plan/plan';

/** A format, as a page shows it. */
export interface ShownFormat {
  readonly id: FormatId;
  readonly title: string;
  readonly note: string;
  readonly reads: string;
  readonly hasColumns: boolean;
  readonly isWhole: boolean;
}

/** A sheet, before it is taken. */
export interface Preview {
  readonly header: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly rows: number;
  readonly mapping: CsvMapping;
  readonly columns: readonly string[];
}

const SAMPLE = 6;

/** Text of a file: UTF-8, or UTF-16 where a byte order mark says so. Bytes that are not become replacement characters. */
const decoded = (bytes: ArrayBuffer): string => {
  const b = new Uint8Array(bytes);
  const encoding = b[0] === 0xff && b[1] === 0xfe ? 'utf-16le' : b[0] === 0xfe && b[1] === 0xff ? 'utf-16be' : 'utf-8';
  return new TextDecoder(encoding).decode(bytes);
};

const shown = (f: (typeof written)[number]): ShownFormat => ({
  id: f.id,
  title: f.title,
  note: f.note ?? '',
  reads: f.reads ?? f.title,
  hasColumns: f.hasColumns === true,
  isWhole: f.isWhole === true,
});

const api = {
  formats: (): { readonly written: readonly ShownFormat[]; readonly readable: readonly ShownFormat[] } => ({
    written: written.map(shown),
    readable: readable.map(shown),
  }),
  text: (bytes: ArrayBuffer): string => decoded(bytes),
  recognise: (fileName: string, text: string): FormatId => recognised(fileName, text),
  preview(text: string): Preview {
    const table = readCsv(text);
    return {
      header: table.header,
      sample: table.rows.slice(0, SAMPLE),
      rows: table.rows.length,
      mapping: guessMapping(table.header),
      columns: CSV_COLUMNS.map((c) => c.title),
    };
  },
  /** Errors: throws where the format cannot be read at all. */
  read(format: FormatId, plan: Plan, text: string, fileName: string, how: How, mapping?: CsvMapping): Outcome {
    const read = formatOf(format)?.read;
    if (!read) throw new Error(`${format} is not read`);
    return read(plan, text, { fileName, how, mapping, newId: () => crypto.randomUUID(), now: Date.now() });
  },
};

export type ImportWorker = typeof api;

expose(api);
