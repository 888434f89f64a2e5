/** What the build check writes, against what others read.
 *  Sources: SARIF 2.1.0 by its schema (data/sarif) in `ajv` 8; JUnit by its structure as Ant and Surefire write it (data/junit, from memory: there is no
 *  standard), judged by `xmllint` (libxml2).
 */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import Ajv2020 from 'ajv/dist/2020';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CaptureJudge } from '../../src/core/report/events-report';
import { junitText } from '../../src/core/report/junit';
import { diffReport, lintReport } from '../../src/core/report/plan-reports';
import type { Report } from '../../src/core/report/report';
import { sarifOf } from '../../src/core/report/sarif';
import { trialReport } from '../../src/core/report/trial-report';
import { usageOf } from '../../src/core/report/usage-report';
import { judgeTrial } from '../../src/core/trial/verdict';
import { FAULT_IDS } from '../../src/demo/faults';
import { generate } from '../../src/demo/generator';
import { NOW, plan as crates, right, run, script } from '../core/trial/made';
import { plan as anyPlan, text } from '../build/arbitrary-plan';
import { demoPlan } from '../build/demo-plan';

const ajv = new Ajv2020({ strict: false, allErrors: true });
addFormats(ajv);
const isSarif = ajv.compile(JSON.parse(readFileSync('tests/outside/data/sarif/sarif-2.1.0.json', 'utf8')) as object);

const isJunit = (xml: string): string => {
  const r = spawnSync('xmllint', ['--noout', '--schema', 'tests/outside/data/junit/junit.xsd', '-'], { input: xml, encoding: 'utf8' });
  return r.status === 0 ? 'valid' : `${r.error?.message ?? ''}${r.stderr}`;
};

const plan = demoPlan();
const captured = (): Report => {
  const judge = new CaptureJudge(plan);
  for (const [i, m] of generate({ now: NOW, visitors: 300, seed: 3, faults: new Set(FAULT_IDS) }).entries())
    judge.add({ value: m.message, sourceId: m.sourceId, receivedAt: m.receivedAt, place: { file: 'a b/c%d.ndjson', line: i + 1 } });
  judge.broken('No JSON <&>"\u0001.', { file: 'C:\\x\\y.json', line: 3 });
  return judge.report('plan.json', NOW);
};
const used = (): Report => {
  const usage = usageOf(plan);
  usage.add([{ text: 'Tool viewed', isSent: true, place: { file: 'src/a.ts', line: 4, column: 2 } }]);
  return usage.report('plan.json', 1);
};
const tried = (): Report => trialReport(script, judgeTrial(run(), right().slice(1), crates, NOW), ['x']);
const drawn = fc.sample(fc.tuple(anyPlan, anyPlan), { numRuns: 6, seed: 5 });
const place = (p: readonly (string | number)[]) => ({ file: `${String(p[0])}/${String(p[1])}.yaml`, line: 2, column: 1 });

const reports: readonly (readonly [string, Report])[] = [
  ['lint', lintReport(plan, 'plan.json', place)],
  ['events', captured()],
  ['usage', used()],
  ['trial', tried()],
  ...drawn.flatMap(([a, b], i) => [
    [`lint at random ${i}`, lintReport(a, 'x', place)] as const,
    [`diff at random ${i}`, diffReport(a, b, ['a', 'b'], place)] as const,
  ]),
];

describe.each(reports)('%s', (name, report) => {
  it('as SARIF fits the schema', () => {
    const sarif = JSON.parse(JSON.stringify(sarifOf(report, '0.1.0'))) as {
      runs: { results: { ruleIndex?: number; ruleId: string }[]; tool: { driver: { rules: { id: string }[] } } }[];
    };
    expect([isSarif(sarif), isSarif.errors]).toEqual([true, null]);
    // What a schema cannot say: each index means the rule of that ID (3.27.6).
    for (const r of sarif.runs[0]!.results)
      if (r.ruleIndex !== undefined) expect(sarif.runs[0]!.tool.driver.rules[r.ruleIndex]!.id).toBe(r.ruleId);
    expect(isSarif({ ...sarif, version: '2.0.0' })).toBe(false);
  });
  it('as JUnit fits the structure, and counts what failed', () => {
    const xml = junitText(report);
    expect([name, isJunit(xml)]).toEqual([name, 'valid']);
    expect((xml.match(/<failure/g) ?? []).length).toBe(report.cases.filter((c) => c.state === 'failed').length);
  });
});

it('texts that no XML may hold, or that end a comment, leave it well formed', () => {
  fc.assert(
    fc.property(fc.array(text, { minLength: 1, maxLength: 5 }), (texts) => {
      const report: Report = {
        command: 'events',
        title: texts.join('--'),
        facts: [],
        results: [],
        rules: [],
        cases: texts.map((t) => ({ group: t || 'x', name: `${t}\u0000\ud800`, state: 'failed', text: t })),
      };
      expect(isJunit(junitText(report))).toBe('valid');
    }),
    { numRuns: 20 },
  );
});
