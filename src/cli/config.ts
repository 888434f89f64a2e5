/** What a project says once for all runs, in a file. */
import { existsSync } from 'node:fs';
import { parse } from 'yaml';
import { z } from 'zod';
import { FAIL_ON } from '../core/report/report';
import { readText } from './input/text-files';
import { OUTPUTS } from './told';
import { misused, unreadable } from './trouble';

export const CONFIG_FILE = 'signal-post-check.yaml';

const config = z.strictObject({
  plan: z.string().min(1).optional(),
  failOn: z.enum(FAIL_ON).optional(),
  output: z.enum(OUTPUTS).optional(),
  source: z.string().min(1).optional(),
  intake: z.string().min(1).optional(),
  calls: z.array(z.string().min(1)).optional(),
  packages: z.array(z.string().min(1)).optional(),
  ignoreFiles: z.array(z.string().min(1)).optional(),
  ignoreNames: z.array(z.string().min(1)).optional(),
  keys: z.record(z.string().min(1), z.string().min(1)).optional(),
  baseline: z.string().min(1).optional(),
  min: z.number().int().min(0).optional(),
});
export type Config = z.output<typeof config>;

/** The configuration: of the file that is named, else of the usual one where it is there. Errors: which field, and what belongs there. */
export const readConfig = (named: string | undefined): Config => {
  const file = named ?? (existsSync(CONFIG_FILE) ? CONFIG_FILE : undefined);
  if (file === undefined) return {};
  let value: unknown;
  const text = readText(file);
  try {
    value = parse(text) ?? {};
  } catch (e) {
    throw unreadable(file, (e as Error).message.split('\n')[0]!);
  }
  const read = config.safeParse(value);
  if (read.success) return read.data;
  throw misused(
    `${file}: ${read.error.issues.map((i) => `${i.path.join('.') || 'file'}: ${i.message}`).join('; ')}. Fields: ${Object.keys(config.shape).join(', ')}.`,
  );
};
