// Within a process that a test starts: which mutants it reaches, told when it ends, and before, since some are killed.
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { threadId } from 'node:worker_threads';

const to = process.env.MUTANTS_SEEN;
const file = process.env.MUTANTS_FILE;
if (to !== undefined && file !== undefined) {
  const tell = () => {
    const seen = globalThis.__stryker__?.mutantCoverage?.static ?? {};
    writeFileSync(join(to, `${process.pid}-${threadId}-process.json`), JSON.stringify([file, Object.keys(seen)]));
  };
  process.on('exit', tell);
  setInterval(tell, 2000).unref();
}
