/** Within a test worker: which mutants the running file reaches, for itself and for the processes that it starts. */
import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll } from 'vitest';

interface Instrumented {
  mutantCoverage?: { static: Record<string, number>; perTest: Record<string, Record<string, number>> };
  currentTestId?: string;
}
declare global {
  var __stryker__: Instrumented | undefined;
}

const to = process.env['MUTANTS_SEEN'];

// The runner asks for a pattern as the first argument.
// oxlint-disable-next-line no-empty-pattern
beforeAll(({}, { file }) => {
  if (to === undefined) return;
  const name = file.filepath;
  (globalThis.__stryker__ ??= {}).currentTestId = name;
  process.env['MUTANTS_FILE'] = name;
});
// oxlint-disable-next-line no-empty-pattern
afterAll(({}, { file }) => {
  if (to === undefined) return;
  const seen = globalThis.__stryker__?.mutantCoverage?.perTest[file.filepath] ?? {};
  writeFileSync(
    join(to, `${process.pid}-${createHash('sha256').update(file.filepath).digest('hex').slice(0, 12)}.json`),
    JSON.stringify([file.filepath, Object.keys(seen)]),
  );
});
