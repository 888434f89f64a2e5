/** The build check on captured messages, as a build runs it: the built program, a process of its own, a file of NDJSON, against the core doing the same
 *  in memory: every line parsed, read and checked. Both say first what they found. Then how long it takes until the first output of a small file, and the
 *  most memory that the program has while it reads 300 MB.
 */
import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, readFileSync, rmSync, writeFileSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compileChecker } from '../src/core/arrival/compile';
import { readMessage } from '../src/core/arrival/message';
import { CaptureJudge } from '../src/core/report/events-report';
import { contentHash } from '../src/core/plan/content-hash';
import { planJson } from '../src/core/formats/plan-json';
import { FAULT_IDS } from '../src/demo/faults';
import type { GeneratedMessage } from '../src/demo/generated';
import { generate } from '../src/demo/generator';
import { demoPlan } from '../tests/build/demo-plan';
import { goal, size } from './measure';

const ROUNDS = size(5, 1);
const VISITORS = size(34_000, 1500);
const LARGE_VISITORS = size(77_000, 3000);
const LARGE_BYTES = 300_000_000;
const MOST_MB = 200;
const PROGRAM = 'dist/client/downloads/signal-post-check.mjs';
/** Says at its end what it had at most, in kB. */
const TELLING = `data:text/javascript,process.on('exit',()=>process.stderr.write('most '+process.resourceUsage().maxRSS))`;

const seconds = <T>(work: () => T): [number, T] => {
  const began = process.hrtime.bigint();
  const value = work();
  return [Number(process.hrtime.bigint() - began) / 1e9, value];
};
const median = (list: readonly number[]): number => [...list].sort((a, b) => a - b)[Math.floor(list.length / 2)]!;

const lineOf = (m: GeneratedMessage): string =>
  JSON.stringify({ ...m.message, source_id: m.sourceId, received_at: new Date(m.receivedAt).toISOString() });

/** Reads a large file; whether the program stayed as small as it is to. Asserted first: it read all of them. */
const staysSmall = (at: string, planFile: string): boolean => {
  const file = join(at, 'large.ndjson');
  const to = openSync(file, 'w');
  let [bytes, written] = [0, 0];
  for (const m of generate({ now: Date.UTC(2026, 2, 1), visitors: LARGE_VISITORS, seed: 1, faults: new Set(FAULT_IDS) })) {
    if (bytes > LARGE_BYTES) break;
    bytes += writeSync(to, `${lineOf(m)}\n`);
    written++;
  }
  closeSync(to);
  const args = ['--import', TELLING, PROGRAM, 'events', planFile, file, '--output', 'json', '--fail-on', 'never'];
  const r = spawnSync(process.execPath, args, { encoding: 'utf8', maxBuffer: 1 << 28 });
  assert.equal(r.status, 0, r.stderr);
  assert.equal((JSON.parse(r.stdout) as { facts: string[] }).facts[0]!.split(' ')[0], written.toLocaleString('en-GB'));
  const most = Number(/most (\d+)/.exec(r.stderr)![1]) / 1000;
  return goal(
    `${MOST_MB} MB over what the program had at most, ${most.toFixed(0)} MB, for ${(bytes / 1e6).toFixed(0)} MB in ${written.toLocaleString('en-GB')} messages`,
    MOST_MB / most,
    1,
  );
};

export const benchBuildCheck = (): Promise<boolean> => {
  const at = mkdtempSync(join(tmpdir(), 'signal-post-bench-'));
  try {
    const plan = demoPlan();
    const messages = generate({ now: Date.UTC(2026, 2, 1), visitors: VISITORS, seed: 1, faults: new Set(FAULT_IDS) });
    const lines = messages.map(lineOf);
    const [planFile, file, small] = [join(at, 'plan.json'), join(at, 'messages.ndjson'), join(at, 'small.ndjson')];
    writeFileSync(planFile, planJson(plan, 1, contentHash(plan)));
    writeFileSync(file, lines.join('\n'));
    writeFileSync(small, lines.slice(0, 10).join('\n'));
    const program = (events: string): string => {
      const r = spawnSync(process.execPath, [PROGRAM, 'events', planFile, events, '--output', 'json', '--fail-on', 'never'], {
        encoding: 'utf8',
        maxBuffer: 1 << 28,
      });
      assert.equal(r.status, 0, r.stderr);
      return r.stdout;
    };
    const judged = (): number => {
      const judge = new CaptureJudge(plan);
      for (const [i, line] of readFileSync(file, 'utf8').split('\n').entries()) {
        const value = JSON.parse(line) as { source_id: string; received_at: string };
        judge.add({
          value,
          sourceId: value.source_id,
          receivedAt: Date.parse(value.received_at),
          place: { file, line: i + 1 },
        });
      }
      return judge.report('', Date.now()).results.length;
    };
    const alone = (): ReadonlyMap<string, number> => {
      const checker = compileChecker(plan);
      const codes = new Map<string, number>();
      for (const line of readFileSync(file, 'utf8').split('\n')) {
        const read = readMessage(JSON.parse(line));
        if (read.ok) for (const f of checker.check(read.message)) codes.set(f.code, (codes.get(f.code) ?? 0) + 1);
      }
      return codes;
    };
    // The same findings: what the core counts on all lines, the program counts on those that are no duplicates.
    const told = JSON.parse(program(file)) as { results: { code: string; count?: number }[] };
    const byCode = new Map<string, number>();
    for (const r of told.results) byCode.set(r.code, (byCode.get(r.code) ?? 0) + (r.count ?? 0));
    assert.equal(judged(), told.results.length);
    for (const [code, n] of alone()) {
      const own = byCode.get(code) ?? 0;
      assert.ok(own <= n && own >= Math.floor(n * 0.97) - size(0, 2), `${code}: ${own} of ${n}`);
    }
    const times: Record<'program' | 'core' | 'alone' | 'start', number[]> = { program: [], core: [], alone: [], start: [] };
    for (let i = 0; i < ROUNDS; i++) {
      times.core.push(seconds(judged)[0]);
      times.alone.push(seconds(alone)[0]);
      times.program.push(seconds(() => program(file))[0]);
      times.start.push(seconds(() => program(small))[0]);
    }
    const ratio = median(times.core) / median(times.program);
    console.log(
      `${lines.length.toLocaleString('en-GB')} messages: core ${median(times.core).toFixed(2)} s (single messages alone ${median(times.alone).toFixed(2)} s), program ${median(times.program).toFixed(2)} s`,
    );
    const isFast = goal('signal-post-check events, rate against the core checker', ratio, 0.5);
    const start = median(times.start) * 1000;
    console.log(`first output of ten messages after ${start.toFixed(0)} ms (goal 300)${start <= 300 ? '' : ': MISSED'}`);
    const isSmall = staysSmall(at, planFile);
    return Promise.resolve(isFast && start <= 300 && isSmall);
  } finally {
    rmSync(at, { recursive: true });
  }
};
