/** Checking messages, against Ajv with `allErrors` on the same messages. The verdicts are asserted to be the same first. */
import assert from 'node:assert/strict';
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import { compileChecker } from '../src/core/arrival/compile';
import { eventSchema } from '../src/core/formats/json-schema';
import { DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { applyEdits } from '../src/core/plan/edit';
import { emptyPlan, entries } from '../src/core/plan/plan';
import { FAULT_IDS } from '../src/demo/faults';
import { generate } from '../src/demo/generator';
import { publishedEdits } from '../src/demo/plan';
import { goal, measure } from './measure';

const ROUNDS = 9;
const REPEATS = 10;

export const benchCheck = async (): Promise<boolean> => {
  const applied = applyEdits(
    emptyPlan(DEFAULT_SETTINGS),
    publishedEdits.filter((e) => e.kind !== 'settings'),
  );
  assert(applied.ok);
  const { plan } = applied;
  const checker = compileChecker(plan);
  const ajv = new Ajv2020({ allErrors: true, ownProperties: true, strict: false, validateFormats: false });
  const validators = new Map<string, ValidateFunction>(entries(plan, 'event').map(([, e]) => [e.name, ajv.compile(eventSchema(plan, e))]));
  const messages = generate({ seed: 5, now: Date.parse('2026-11-23T12:00:00Z'), visitors: 4000, faults: new Set(FAULT_IDS) })
    .map((g) => g.message)
    .filter((m) => m.kind !== 'identify')
    // Parsed anew, as they come over the wire. One in twenty is given a value of the wrong type, so that both sides report.
    .map(
      (m, i) =>
        JSON.parse(JSON.stringify(i % 20 === 0 ? { ...m, properties: { ...m.properties, branch: 7, tool_id: 7 } } : m)) as {
          name: string;
          properties: Record<string, unknown>;
        },
    );
  const ids = {};
  const ours = (m: (typeof messages)[number]): boolean =>
    checker.check({ kind: 'event', name: m.name, ids, properties: m.properties }).length === 0;
  const theirs = (m: (typeof messages)[number]): boolean => validators.get(m.name)?.(m.properties) ?? false;
  let faulty = 0;
  for (const m of messages) {
    assert.equal(ours(m), theirs(m), JSON.stringify(m));
    if (!ours(m)) faulty++;
  }
  console.log(`${messages.length} messages, ${faulty} with findings: the same verdicts`);
  let sink = 0;
  const loop = (judge: typeof ours) => () => {
    for (let r = 0; r < REPEATS; r++) for (const m of messages) if (judge(m)) sink++;
  };
  const t = await measure(
    [
      { name: 'ours', run: loop(ours) },
      { name: 'ajv', run: loop(theirs) },
    ],
    ROUNDS,
  );
  assert(sink > 0);
  return goal('checking messages, times as fast as Ajv', t.get('ajv')! / t.get('ours')!, 3);
};
