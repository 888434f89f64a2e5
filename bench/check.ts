/** Checking whole messages (envelope, time, identifiers, properties) as the intake does after parsing, against Ajv with `allErrors`
 *  and full formats on the same messages. The verdicts are asserted to be the same first. */
import assert from 'node:assert/strict';
import addFormatsModule from 'ajv-formats';
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import { compileChecker } from '../src/core/arrival/compile';
import { readMessage } from '../src/core/arrival/message';
import { eventSchema } from '../src/core/formats/json-schema';
import { PLACEHOLDER_PATTERN } from '../src/core/identity/placeholder';
import { DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { applyEdits } from '../src/core/plan/edit';
import { emptyPlan, entries } from '../src/core/plan/plan';
import { FAULT_IDS } from '../src/demo/faults';
import { generate } from '../src/demo/generator';
import { publishedEdits } from '../src/demo/plan';
import { schemaCarries } from '../tests/schema-codes';
import { goal, measure } from './measure';

const addFormats = addFormatsModule as unknown as (ajv: Ajv2020) => void;
const text = { type: 'string' };
/** A message around the properties of its event: what the reader asks of it, as JSON Schema. */
const messageSchema = (properties: object) => ({
  type: 'object',
  required: ['id', 'name', 'time'],
  properties: {
    id: { type: 'string', minLength: 1, maxLength: 200 },
    name: { type: 'string', minLength: 1, maxLength: 1000 },
    time: { type: 'string', format: 'date-time' },
    ids: { type: 'object', additionalProperties: { type: 'string', not: { pattern: ID_PLACEHOLDERS } } },
    properties,
    release: text,
    page: text,
  },
});
const ID_PLACEHOLDERS = `${PLACEHOLDER_PATTERN}|^\\s*(?:0+(?:-0+)*|-1|anonymous|guest|none|n/a|na|test|unknown|user|user_id|userid|example)?\\s*$`;

const ROUNDS = 9;
const REPEATS = 150;
/** Few enough to stay in the processor's cache, as a message does that is checked right after it was parsed. */
const CHECKED = 2000;

export const benchCheck = async (): Promise<boolean> => {
  const applied = applyEdits(
    emptyPlan(DEFAULT_SETTINGS),
    publishedEdits.filter((e) => e.kind !== 'settings'),
  );
  assert(applied.ok);
  const { plan } = applied;
  const checker = compileChecker(plan);
  const ajv = new Ajv2020({ allErrors: true, ownProperties: true, strict: false });
  addFormats(ajv);
  const validators = new Map<string, ValidateFunction>(
    entries(plan, 'event').map(([, e]) => [e.name, ajv.compile(messageSchema(eventSchema(plan, e)))]),
  );
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
  const ours = (m: (typeof messages)[number]): boolean => {
    const read = readMessage(m);
    return read.ok && !checker.check(read.message).some((f) => schemaCarries(f.code));
  };
  const theirs = (m: (typeof messages)[number]): boolean => validators.get(m.name)?.(m) ?? false;
  let faulty = 0;
  for (const m of messages) {
    assert.equal(ours(m), theirs(m), JSON.stringify(m));
    if (!ours(m)) faulty++;
  }
  console.log(`${messages.length} messages, ${faulty} with findings: the same verdicts`);
  const hot = messages.slice(-CHECKED);
  let sink = 0;
  const loop = (judge: typeof ours) => () => {
    for (let r = 0; r < REPEATS; r++) for (const m of hot) if (judge(m)) sink++;
  };
  const t = await measure(
    [
      { name: 'ours', run: loop(ours) },
      { name: 'ajv', run: loop(theirs) },
    ],
    ROUNDS,
  );
  assert(sink > 0);
  // Parse and check together, as the intake does, against the parsing alone.
  const texts = hot.map((m) => JSON.stringify(m));
  const parsing = await measure(
    [
      {
        name: 'parse and check',
        run: () => {
          for (let r = 0; r < REPEATS / 3; r++) for (const text of texts) if (ours(JSON.parse(text) as (typeof hot)[number])) sink++;
        },
      },
      {
        name: 'parse',
        run: () => {
          for (let r = 0; r < REPEATS / 3; r++) for (const text of texts) if (JSON.parse(text)) sink++;
        },
      },
    ],
    ROUNDS,
  );
  const share = goal('parse and check, of the rate of JSON.parse alone', parsing.get('parse')! / parsing.get('parse and check')!, 0.6);
  console.log(
    `per message, as a rough guide: ours ${((t.get('ours')! * 1e6) / REPEATS / hot.length).toFixed(0)} ns, Ajv ${((t.get('ajv')! * 1e6) / REPEATS / hot.length).toFixed(0)} ns, ${hot.filter((m) => !ours(m)).length} of ${hot.length} with findings`,
  );
  return goal('checking messages, times as fast as Ajv', t.get('ajv')! / t.get('ours')!, 4) && share;
};
