/** Reads a file of messages piece by piece, off the page's thread, and sends it on; memory stays the same however large the file. */
import { ask, errorOf } from '../client/api';
import type { BackfillAnswer } from '../core/api/backfill';
import { expose } from 'comlink';
import Papa from 'papaparse';
import { flatRow, guessTargets, rowReader, type BackfillMapping, type RowResult, type Target } from '../core/formats/backfill';
import { parseInstant } from '../core/plan/property-type';
import type { Plan } from '../core/plan/plan';
import { guessDelimiter, isNdjson, object, rowsOf, SAMPLE_BYTES, type Row } from './file-rows';

export interface BackfillPreview {
  readonly header: readonly string[];
  readonly sample: readonly (readonly string[])[];
  readonly mapping: readonly (Target | undefined)[];
  /** The lines are messages as the intake takes them: nothing is to be mapped. */
  readonly asIs: boolean;
  /** One JSON object a line, rather than delimited text. */
  readonly ndjson: boolean;
}

export interface BackfillProblem {
  /** 1 is the first line of the file, by records. */
  readonly row: number;
  readonly detail: string;
}

export interface BackfillReport {
  readonly bytes: number;
  readonly total: number;
  readonly rows: number;
  readonly accepted: number;
  readonly withFindings: number;
  readonly duplicates: number;
  readonly rejected: number;
  /** The first of what was rejected. */
  readonly problems: readonly BackfillProblem[];
  readonly state: 'running' | 'done' | 'cancelled';
}

const MAX_PROBLEMS = 1000;
const SAMPLE_ROWS = 6;
const BATCH = 1000;
const RETRIES = 5;
const KEY_HOURS = 12;

const post = async (body: unknown, key: string, signal: AbortSignal): Promise<Response> => {
  for (let tries = 0; ; tries++) {
    const response = await fetch('/api/backfill', {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${key}` },
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

/** A key of the source for this file alone; it is among the others at Hand-off, and runs out on its own. */
const newKey = async (sourceId: string, name: string, signal: AbortSignal): Promise<string> => {
  const made = await ask('POST /api/keys', { body: { sourceId, label: `File ${name}`.slice(0, 100), hours: KEY_HOURS } }, signal);
  if (!('key' in made)) throw new Error('The server made no key.');
  return made.key;
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
        ndjson: true,
      };
    }
    const { data } = Papa.parse<string[]>(start, { delimiter: guessDelimiter(start), preview: SAMPLE_ROWS + 1, skipEmptyLines: 'greedy' });
    const header = (data[0] ?? []).map((h) => h.trim());
    return { header, sample: data.slice(1), mapping: guessTargets(header, plan), asIs: false, ndjson: false };
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
    const total = { bytes: 0, total: file.size, rows: 0, accepted: 0, withFindings: 0, duplicates: 0, rejected: 0 };
    const report = (state: BackfillReport['state']): BackfillReport => ({ ...total, problems, state });
    const reject = (row: number, detail: string): void => {
      total.rejected++;
      if (problems.length < MAX_PROBLEMS) problems.push({ row, detail });
    };
    let key: string | undefined;
    let batch: { row: number; text: string }[] = [];
    const send = async (): Promise<void> => {
      if (batch.length === 0) return;
      const rows = batch;
      batch = [];
      key ??= await newKey(sourceId, file.name, signal);
      const response = await post({ texts: rows.map((r) => r.text) }, key, signal);
      if (!response.ok) throw await errorOf(response);
      const body = (await response.json()) as BackfillAnswer;
      total.accepted += body.accepted;
      total.withFindings += body.withFindings;
      total.duplicates += body.duplicates;
      for (const r of body.rejected) reject(rows[r.index]!.row, r.detail);
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
          else reject(r.row, made.detail);
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
