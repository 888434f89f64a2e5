/** Reads a file of messages piece by piece, off the page's thread, and sends it on; memory stays the same however large the file. */
import { expose } from 'comlink';
import Papa from 'papaparse';
import { flatRow, guessTargets, rowReader, type BackfillMapping, type RowResult, type Target } from '../core/formats/backfill';
import { parseInstant } from '../core/plan/property-type';
import type { Plan } from '../core/plan/plan';

export interface BackfillPreview {
  readonly header: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly mapping: readonly (Target | undefined)[];
  /** The lines are messages as the intake takes them: nothing is to be mapped. */
  readonly asIs: boolean;
}

export interface BackfillProblem {
  /** 1 is the first line of the file, by records. */
  readonly row: number;
  readonly detail: string;
}

export interface BackfillReport {
  readonly bytes: number;
  readonly of: number;
  readonly rows: number;
  readonly accepted: number;
  readonly withFindings: number;
  readonly duplicates: number;
  readonly refused: number;
  /** The first of what was refused. */
  readonly problems: readonly BackfillProblem[];
  readonly state: 'running' | 'done' | 'cancelled';
}

interface Row {
  readonly row: number;
  /** One for each column, or the line itself. */
  readonly cells: readonly unknown[];
  readonly text: string;
}

const MOST_PROBLEMS = 1000;
const SAMPLE_BYTES = 200_000;
const SAMPLE_ROWS = 6;
/** A record that does not end within so much text is no record. */
const MOST_TEXT = 16_000_000;
const BATCH = 1000;
const RETRIES = 5;

const isNdjson = (file: File, start: string): boolean => /\.(ndjson|jsonl)$/i.test(file.name) || /^\s*\{/.test(start);
const object = (line: string): { readonly [k: string]: unknown } | undefined => {
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
async function* rowsOf(file: File, header: readonly string[], ndjson: boolean): AsyncGenerator<{ rows: Row[]; bytes: number }> {
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
    if (rest.length > MOST_TEXT)
      throw new Error(
        `The record after row ${row.toLocaleString('en-GB')} does not end; is a quote left open? What came before is taken in.`,
      );
  }
}

const guessDelimiter = (text: string): string =>
  Papa.parse(text.slice(0, SAMPLE_BYTES), { preview: 20, delimitersToGuess: [',', '\t', ';'] }).meta.delimiter;

const post = async (body: unknown, signal: AbortSignal): Promise<Response> => {
  for (let tries = 0; ; tries++) {
    const response = await fetch('/api/backfill', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
      signal,
    }).catch((e: unknown) => {
      if (signal.aborted || tries >= RETRIES) throw e;
      return undefined;
    });
    // Sent again, a message counts once; so a busy or lost server is simply asked again.
    if (response && response.status !== 503) return response;
    if (tries >= RETRIES)
      throw new Error('The server does not take messages just now. Bring the file in again later: what is there counts once.');
    await new Promise((next) => setTimeout(next, 1000 * (tries + 1)));
  }
};

let stop: AbortController | undefined;

const api = {
  async preview(file: File, plan: Plan): Promise<BackfillPreview> {
    const start = (await file.slice(0, SAMPLE_BYTES).text()).replace(/^\ufeff/, '');
    if (isNdjson(file, start)) {
      const lines = start
        .split('\n')
        .map((l) => object(l.trim()))
        .filter((l) => l !== undefined)
        .slice(0, 50);
      const flat = lines.map(flatRow);
      const header = [...new Set(flat.flatMap((f) => Object.keys(f)))];
      const asIs =
        lines.length > 0 &&
        lines.every((l) => typeof l['id'] === 'string' && typeof l['time'] === 'string' && parseInstant(l['time']) !== undefined);
      return {
        header,
        sample: flat
          .slice(0, SAMPLE_ROWS)
          .map((f) => header.map((h) => (f[h] === undefined ? '' : typeof f[h] === 'string' ? f[h] : JSON.stringify(f[h])))),
        mapping: guessTargets(header, plan),
        asIs,
      };
    }
    const { data } = Papa.parse<string[]>(start, { delimiter: guessDelimiter(start), preview: SAMPLE_ROWS + 1, skipEmptyLines: 'greedy' });
    const header = (data[0] ?? []).map((h) => h.trim());
    return { header, sample: data.slice(1), mapping: guessTargets(header, plan), asIs: false };
  },

  /** Sends the file on. Shape: `mapping` undefined sends the lines as they are. Errors: throws when the file or the server cannot be read. */
  async run(
    file: File,
    plan: Plan,
    header: readonly string[],
    ndjson: boolean,
    mapping: BackfillMapping | undefined,
    sourceId: string,
    onProgress: (r: BackfillReport) => void,
  ): Promise<BackfillReport> {
    stop = new AbortController();
    const { signal } = stop;
    const read = mapping && rowReader(plan, mapping);
    const problems: BackfillProblem[] = [];
    const total = { bytes: 0, of: file.size, rows: 0, accepted: 0, withFindings: 0, duplicates: 0, refused: 0 };
    const report = (state: BackfillReport['state']): BackfillReport => ({ ...total, problems, state });
    const refuse = (row: number, detail: string): void => {
      total.refused++;
      if (problems.length < MOST_PROBLEMS) problems.push({ row, detail });
    };
    let batch: { row: number; text: string }[] = [];
    const send = async (): Promise<void> => {
      if (batch.length === 0) return;
      const rows = batch;
      batch = [];
      const response = await post({ sourceId, texts: rows.map((r) => r.text) }, signal);
      const body = (await response.json()) as {
        accepted: number;
        withFindings: number;
        duplicates: number;
        refused: { index: number; detail: string }[];
        detail?: string;
      };
      if (!response.ok) throw new Error(body.detail ?? `The server answered ${response.status}.`);
      total.accepted += body.accepted;
      total.withFindings += body.withFindings;
      total.duplicates += body.duplicates;
      for (const r of body.refused) refuse(rows[r.index]!.row, r.detail);
    };
    const one = (r: Row): RowResult => {
      if (!read) return { ok: true, text: r.text, at: 0 };
      if (ndjson && r.cells.length === 0) return { ok: false, detail: 'The line is not a JSON object.' };
      if (!ndjson && r.cells.length !== header.length)
        return { ok: false, detail: `${r.cells.length} cells, where the header has ${header.length}.` };
      return read(r.cells);
    };
    try {
      for await (const { rows, bytes } of rowsOf(file, header, ndjson)) {
        for (const r of rows) {
          total.rows++;
          const made = one(r);
          if (made.ok) batch.push({ row: r.row, text: made.text });
          else refuse(r.row, made.detail);
          if (batch.length >= BATCH) {
            await send();
            onProgress(report('running'));
          }
          if (signal.aborted) return report('cancelled');
        }
        total.bytes = bytes;
        onProgress(report('running'));
      }
      await send();
      return report('done');
    } catch (e) {
      if (signal.aborted) return report('cancelled');
      // What was read before the mishap is not to be lost.
      await send().catch(() => undefined);
      throw e;
    }
  },
  cancel(): void {
    stop?.abort();
  },
};

export type BackfillWorker = typeof api;

expose(api);
