/** The baseline of a project, in a file beside its code. */
import { existsSync, writeFileSync } from 'node:fs';
import { z } from 'zod';
import type { Baseline } from '../core/report/baseline';
import { readText } from './input/text-files';
import { unreadable } from './trouble';

const known = z.object({ code: z.string(), subject: z.string(), sentence: z.string() });
const baseline = z.strictObject({
  format: z.literal('signal-post-baseline/1', { error: 'it is no baseline that this program knows.' }),
  known: z.record(z.string(), z.array(known)),
});

/** Errors: what is not there, or no baseline. */
export const readBaseline = (file: string): Baseline => {
  let value: unknown;
  const text = readText(file);
  try {
    value = JSON.parse(text);
  } catch {
    throw unreadable(file, 'it is not JSON.');
  }
  const read = baseline.safeParse(value);
  if (!read.success)
    throw unreadable(file, read.error.issues.map((i) => [i.path.join('.'), i.message].filter(Boolean).join(': ')).join('; '));
  return read.data;
};

export const readBaselineIfThere = (file: string): Baseline | undefined => (existsSync(file) ? readBaseline(file) : undefined);

export const writeBaseline = (file: string, b: Baseline): void => {
  try {
    writeFileSync(file, `${JSON.stringify(b, null, 2)}\n`);
  } catch (e) {
    throw unreadable(file, `it cannot be written: ${(e as Error).message}`);
  }
};
