/** Files that are brought into the plan, read off the page's thread. */
import { expose } from 'comlink';
import { readCsv, type CsvTable } from '../core/formats/csv';
import { CSV_COLUMNS, guessMapping, importCsv, type CsvImport, type CsvMapping } from '../core/formats/plan-csv';
import { importPlan, readPlanDocument } from '../core/formats/plan-document';
import { importSchema } from '../core/formats/schema-import';
import { importThreeLevel, readThreeLevel } from '../core/formats/three-level';
import type { Edit } from '../core/plan/edit';
import type { Plan } from '../core/plan/plan';

export interface Preview {
  readonly header: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly rows: number;
  readonly mapping: CsvMapping;
  readonly columns: readonly string[];
}

/** What a file would do: edits, and what stands in the way. */
export interface Outcome {
  readonly edits: readonly Edit[];
  readonly problems: readonly { readonly where: string; readonly detail: string }[];
  /** A problem that does not stand in the way, but that the reader should know. */
  readonly notes: readonly string[];
  readonly summary: string;
}

const SAMPLE = 6;
const newId = (): string => crypto.randomUUID();
let table: CsvTable | undefined;

/** Text of a file: UTF-8, or UTF-16 where a byte order mark says so. Bytes that are not become replacement characters. */
const decoded = (bytes: ArrayBuffer): string => {
  const b = new Uint8Array(bytes);
  const encoding = b[0] === 0xff && b[1] === 0xfe ? 'utf-16le' : b[0] === 0xfe && b[1] === 0xff ? 'utf-16be' : 'utf-8';
  return new TextDecoder(encoding).decode(bytes);
};

const plural = (n: number, one: string): string =>
  `${n.toLocaleString('en-GB')} ${n === 1 ? one : one === 'property' ? 'properties' : `${one}s`}`;
const csvSummary = (r: CsvImport): string =>
  `${plural(r.added.events, 'event')} and ${plural(r.added.properties, 'property')} new; ${plural(r.changed.events, 'event')} and ${plural(r.changed.properties, 'property')} changed.`;

const outcomeOf = (edits: readonly Edit[], problems: Outcome['problems'], summary: string, notes: readonly string[] = []): Outcome => ({
  edits: problems.length > 0 ? [] : edits,
  problems,
  notes,
  summary,
});

const api = {
  text: (bytes: ArrayBuffer): string => decoded(bytes),
  previewCsv(text: string): Preview {
    table = readCsv(text);
    return {
      header: table.header,
      sample: table.rows.slice(0, SAMPLE),
      rows: table.rows.length,
      mapping: guessMapping(table.header),
      columns: CSV_COLUMNS.map((c) => c.title),
    };
  },
  importCsv(plan: Plan, mapping: CsvMapping): Outcome {
    if (!table) throw new Error('no table was read');
    const r = importCsv(plan, table, mapping, { newId, keepsFormer: () => false, now: Date.now() });
    const problems = r.problems.map((p) => ({
      where: `row ${p.row}${p.column === undefined ? '' : `, column ${p.column}`}`,
      detail: p.detail,
    }));
    return outcomeOf(r.edits, problems, csvSummary(r));
  },
  importDocument(plan: Plan, text: string, how: 'replace all' | 'replace' | 'add'): Outcome {
    const read = readPlanDocument(text);
    if (!read.ok) return outcomeOf([], [{ where: 'document', detail: read.detail }], '');
    const edits = importPlan(plan, read.value, how);
    return outcomeOf(edits, [], `${plural(edits.length, 'edit')}.`);
  },
  importSchema(plan: Plan, text: string, name: string): Outcome {
    let schema: unknown;
    try {
      schema = JSON.parse(text);
    } catch (e) {
      return outcomeOf([], [{ where: 'file', detail: `This is not JSON: ${(e as Error).message}` }], '');
    }
    const r = importSchema(plan, schema, name, newId);
    const stops = r.edits.length === 0;
    return outcomeOf(
      r.edits,
      stops ? r.problems.map((p) => ({ where: p.path, detail: p.detail })) : [],
      `The event “${r.eventName}” with ${plural(r.edits.filter((e) => e.kind === 'property').length, 'property')} new.`,
      stops ? [] : r.problems.map((p) => `${p.path}: ${p.detail}`),
    );
  },
  importThreeLevel(plan: Plan, text: string): Outcome {
    const { names, problems } = readThreeLevel(text);
    const edits = importThreeLevel(plan, names, newId);
    return outcomeOf(
      edits,
      problems.map((p) => ({ where: `row ${p.row}`, detail: p.detail })),
      `${plural(edits.filter((e) => e.kind === 'event').length, 'event')} out of ${plural(names.length, 'name')}.`,
    );
  },
};

export type ImportWorker = typeof api;

expose(api);
