/** Checking whole messages (envelope, time, identifiers, properties) as the intake does after parsing, against Ajv with `allErrors`
 *  and full formats on the same messages. The verdicts are asserted to be the same first. Two sorts of messages: of about 600 bytes with a
 *  dozen properties of all types, on which the goals stand; and those of the demo, which are small.
 */
import assert from 'node:assert/strict';
import addFormatsModule from 'ajv-formats';
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import { compileChecker } from '../src/core/arrival/compile';
import { readMessage } from '../src/core/arrival/message';
import { eventSchema } from '../src/core/formats/json-schema';
import { PLACEHOLDER_PATTERN } from '../src/core/identity/placeholder';
import { blank, DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { applyEdits } from '../src/core/plan/edit';
import { automaticEvents } from '../src/core/plan/automatic';
import { emptyPlan, entries, type Plan, type Property } from '../src/core/plan/plan';
import { FAULT_IDS } from '../src/demo/faults';
import { generate } from '../src/demo/generator';
import { publishedEdits } from '../src/demo/plan';
import { seeded } from '../src/demo/random';
import { schemaCarries } from '../tests/schema-codes';
import { goal, measure, size } from './measure';

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
const REPEATS = size(600, 6);
/** A batch as it comes in: few enough to stay in the processor's cache, as a message does that is checked right after it was parsed. */
const CHECKED = 500;
const EVENTS = 20;
const FAULTY = 20;

interface Sent {
  readonly kind?: string;
  readonly name: string;
  readonly properties: Record<string, unknown>;
}
interface Load {
  readonly plan: Plan;
  readonly messages: readonly Sent[];
}

/** Parsed anew, as they come over the wire. */
const overTheWire = (messages: readonly object[]): Sent[] => messages.map((m) => JSON.parse(JSON.stringify(m)) as Sent);

const demoLoad = (): Load => {
  const applied = applyEdits(
    emptyPlan(DEFAULT_SETTINGS),
    publishedEdits.filter((e) => e.kind !== 'settings'),
  );
  assert(applied.ok);
  const messages = generate({ seed: 5, now: Date.parse('2026-11-23T12:00:00Z'), visitors: size(4000, 200), faults: new Set(FAULT_IDS) })
    .map((g) => g.message)
    .filter((m) => m.kind !== 'identify')
    // Some are given a value of the wrong type, so that both sides report.
    .map((m, i) => (i % FAULTY === 0 ? { ...m, properties: { ...m.properties, branch: 7, tool_id: 7 } } : m));
  return { plan: applied.plan, messages: overTheWire(messages) };
};

const PLANNED: readonly (readonly [string, Partial<Property>])[] = [
  ['crate_id', { type: 'string', format: 'UUID' }],
  ['packed_at', { type: 'timestamp' }],
  ['due_at', { type: 'timestamp' }],
  ['lane', { type: 'string', allowed: ['north', 'east', 'south', 'west'] }],
  ['state', { type: 'string', allowed: ['new', 'used', 'fixed'] }],
  ['pieces', { type: 'integer', min: 0, max: 500 }],
  ['weight', { type: 'number', min: 0, max: 900 }],
  ['volume', { type: 'number', min: 0, max: 90 }],
  ['fragile', { type: 'boolean' }],
  ['insured', { type: 'boolean' }],
  ['packer', { type: 'string' }],
  ['remark', { type: 'string' }],
];

/** Twenty events that carry the same dozen properties; one message in twenty has a fault, of one of five sorts. */
const largeLoad = (): Load => {
  const { next, hex } = {
    next: seeded(9).next,
    hex: (n: number) => Array.from({ length: n }, () => '0123456789abcdef'[whole(16)]).join(''),
  };
  const whole = (n: number): number => Math.floor(next() * n);
  const applied = applyEdits(emptyPlan(DEFAULT_SETTINGS), [
    ...(['anonymous', 'user'] as const).map((id) => ({
      op: 'create' as const,
      kind: 'identifierKind' as const,
      id,
      body: { ...blank('identifierKind'), name: id },
    })),
    ...PLANNED.map(([id, p]) => ({ op: 'create' as const, kind: 'property' as const, id, body: { ...blank('property'), name: id, ...p } })),
    ...Array.from({ length: EVENTS }, (_, i) => ({
      op: 'create' as const,
      kind: 'event' as const,
      id: `e${i}`,
      body: {
        ...blank('event'),
        name: `Crate Moved ${i}`,
        properties: PLANNED.map(([propertyId]) => ({ propertyId, required: propertyId !== 'remark' })),
      },
    })),
  ]);
  assert(applied.ok, JSON.stringify(applied));
  const uuid = (): string => `${hex(8)}-${hex(4)}-4${hex(3)}-a${hex(3)}-${hex(12)}`;
  const instant = (): string => new Date(1.79e12 + whole(1e9)).toISOString();
  const messages = Array.from({ length: size(20_000, 1500) }, (_, i) => {
    const properties: Record<string, unknown> = {
      crate_id: uuid(),
      packed_at: instant(),
      due_at: instant(),
      lane: ['north', 'east', 'south', 'west'][whole(4)],
      state: ['new', 'used', 'fixed'][whole(3)],
      pieces: whole(500),
      weight: whole(9000) / 10,
      volume: whole(900) / 10,
      fragile: next() < 0.5,
      insured: next() < 0.5,
      packer: `packer in hall ${whole(40)}`,
      remark: 'stands behind the second door',
    };
    if (i % FAULTY === 0) {
      if (i % 100 === 0) properties['pieces'] = String(properties['pieces']);
      else if (i % 100 === 20) properties['lane'] = 'nort';
      else if (i % 100 === 40) delete properties['insured'];
      else if (i % 100 === 60) properties['weight'] = 5000;
      else properties['packed_at'] = 'yesterday';
    }
    return {
      id: uuid(),
      name: `Crate Moved ${whole(EVENTS)}`,
      time: instant(),
      ids: { anonymous: `a-${hex(12)}`, user: `m-${whole(1e6)}` },
      properties,
      release: '9.0.0',
      page: '/halls/north/crates',
    };
  });
  return { plan: applied.plan, messages: overTheWire(messages) };
};

const judges = ({ plan, messages }: Load) => {
  const checker = compileChecker(plan);
  const ajv = new Ajv2020({ allErrors: true, ownProperties: true, strict: false });
  addFormats(ajv);
  const validators = new Map<string, ValidateFunction>(
    entries(plan, 'event').map(([, e]) => [e.name, ajv.compile(messageSchema(eventSchema(plan, e)))]),
  );
  // What a library records on its own, and calls that set something, name no event of the plan: their envelope alone has a schema.
  const unnamed = ajv.compile({ ...messageSchema({ type: 'object' }), required: ['id', 'time'] });
  const automatic = automaticEvents(plan);
  const ours = (m: Sent): boolean => {
    const read = readMessage(m);
    if (!read.ok) return false;
    const findings = checker.check(read.message);
    return findings.length === 0 || !findings.some((f) => schemaCarries(f.code));
  };
  const theirs = (m: Sent): boolean => (m.kind === undefined && !automatic.has(m.name) ? validators.get(m.name)?.(m) : unnamed(m)) ?? false;
  let faulty = 0;
  for (const m of messages) {
    assert.equal(ours(m), theirs(m), JSON.stringify(m));
    if (!ours(m)) faulty++;
  }
  assert(faulty > 0);
  return { ours, theirs, faulty };
};

export const benchCheck = async (): Promise<boolean> => {
  let met = true;
  for (const [title, load, sets] of [
    // First, since a server checks by one plan: what another plan's messages taught the compiler would stand in the way.
    ['messages of 600 bytes', largeLoad(), true],
    ['messages of the demo', demoLoad(), false],
  ] as const) {
    const { ours, theirs, faulty } = judges(load);
    const hot = load.messages.slice(-CHECKED);
    const texts = hot.map((m) => JSON.stringify(m));
    const bytes = texts.reduce((n, t) => n + t.length, 0) / texts.length;
    console.log(`${title}: ${load.messages.length}, ${faulty} with findings, ${bytes.toFixed(0)} bytes each: the same verdicts`);
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
    // Parse and check together, as the intake does, against the parsing alone.
    const parsing = await measure(
      [
        {
          name: 'parse and check',
          run: () => {
            for (let r = 0; r < REPEATS / 3; r++) for (const text of texts) if (ours(JSON.parse(text) as Sent)) sink++;
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
    assert(sink > 0);
    const ns = (name: string): string => ((t.get(name)! * 1e6) / REPEATS / hot.length).toFixed(0);
    console.log(`per message, as a rough guide: ours ${ns('ours')} ns, Ajv ${ns('ajv')} ns`);
    const ratios = [
      ['times as fast as Ajv', t.get('ajv')! / t.get('ours')!, 4],
      ['parse and check, of the rate of JSON.parse alone', parsing.get('parse')! / parsing.get('parse and check')!, 0.6],
    ] as const;
    for (const [what, ratio, floor] of ratios) {
      if (sets) met = goal(what, ratio, floor) && met;
      else console.log(`share   ${what}: ${ratio.toFixed(2)}`);
    }
  }
  return met;
};
