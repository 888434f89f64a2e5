/** The bridge of every question of the demo, each after one more message, over three million messages in columns: its history repeated by as many people
 *  again. Asserted first: over the repeated history the figures as they would be are those of the history itself, shares the same and counts as many
 *  times as large. Reference in the same run: one copy of the table, which is what a single correction took when corrections were copies.
 */
import assert from 'node:assert/strict';
import { readMessage } from '../src/core/arrival/message';
import { bridgeOf, type Bridge } from '../src/core/clearance/bridge';
import { personsWith } from '../src/core/definitions/defined-events';
import { LivingPersons } from '../src/core/identity/living-persons';
import { isPlaceholderId } from '../src/core/identity/placeholder';
import { personRulesOf } from '../src/core/identity/person-rules';
import { DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { applyEdits } from '../src/core/plan/edit';
import { emptyPlan, entries } from '../src/core/plan/plan';
import { countedFormula } from '../src/core/questions/question-figure';
import { MessageTable, type TableMessage } from '../src/core/table/message-table';
import { projected, projectedWithin } from '../src/core/table/projection';
import { COUNTED } from '../src/core/table/traffic';
import { FAULT_IDS } from '../src/demo/faults';
import { generate } from '../src/demo/generator';
import { publishedEdits } from '../src/demo/plan';
import { goal, size } from './measure';

const NOW = Date.parse('2026-11-23T12:00:00Z');
const VISITORS = size(12_000, 400);
const TIMES = size(Number(process.env['BRIDGES'] ?? 30), 2);
const BRIDGE_MS = 300;
const HELD_MS = 50;
const P95 = 0.95;

const planned = applyEdits(
  emptyPlan(DEFAULT_SETTINGS),
  publishedEdits.filter((e) => e.kind !== 'settings'),
);
assert(planned.ok);
const { plan } = planned;

interface Worked {
  readonly bridges: ReadonlyMap<string, Bridge>;
  /** By question, in ms: all of it, and its longest step, through which nobody else has a turn. */
  readonly took: readonly { readonly id: string; readonly ms: number; readonly longest: number }[];
}

const worked = (before: (id: string) => void, living: LivingPersons): Worked => {
  const bridges = new Map<string, Bridge>();
  const took: Worked['took'][number][] = [];
  for (const [id, question] of entries(plan, 'question')) {
    before(id);
    living.follow();
    const persons = living.persons();
    const { table } = personsWith(persons, plan);
    if (!countedFormula(plan, question, persons.table)) continue;
    const from = performance.now();
    const work = bridgeOf(plan, id, question, persons, NOW, undefined, table);
    let longest = 0;
    for (;;) {
      const begun = performance.now();
      const next = work.next();
      longest = Math.max(longest, performance.now() - begun);
      if (!next.done) continue;
      bridges.set(id, next.value);
      break;
    }
    took.push({ id, ms: performance.now() - from, longest });
  }
  return { bridges, took };
};

/** The demo's history, with all its faults. */
const history = (): TableMessage[] => {
  const sent = generate({ seed: 1, now: NOW, visitors: VISITORS, faults: new Set(FAULT_IDS) });
  return sent.flatMap((g): TableMessage[] => {
    const read = readMessage(g.message);
    if (!read.ok) return [];
    const m = read.message;
    return [
      {
        seq: 0,
        kind: m.kind,
        name: m.name,
        sourceId: g.sourceId,
        release: m.release,
        occurredAt: m.occurredAt,
        receivedAt: g.receivedAt,
        page: m.page,
        ids: m.ids,
        properties: m.properties,
        userProperties: m.userProperties,
      },
    ];
  });
};

export const benchBridges = (): Promise<boolean> => {
  let messages = history();
  const newest = new Map(messages.map((m) => [m.name, m]));
  const keys = new Set(entries(plan, 'event').flatMap(([, e]) => (e.counterpart ? [String(e.counterpart.keyProperty)] : [])));
  const repeated = (times: number): { readonly table: MessageTable; readonly seen: MessageTable; readonly add: (name: string) => void } => {
    const table = new MessageTable();
    table.expect(messages.length * times);
    const again = (m: TableMessage, k: number): void => {
      if (k === 0) return void table.append({ ...m, seq: table.length + 1 });
      const ids = Object.fromEntries(Object.entries(m.ids).map(([kind, v]) => [kind, isPlaceholderId(v) ? v : `${v}-${k}`]));
      // What a server confirms by is another one, too.
      const properties = Object.fromEntries(Object.entries(m.properties).map(([n, v]) => [n, keys.has(n) ? `${String(v)}-${k}` : v]));
      table.append({ ...m, seq: table.length + 1, ids, properties });
    };
    for (const m of messages) for (let k = 0; k < times; k++) again(m, k);
    const seen = projected(table, plan, COUNTED);
    return {
      table,
      seen,
      add: (name) => {
        table.append({
          ...newest.get(name)!,
          seq: table.length + 1,
          occurredAt: NOW - 1000,
          receivedAt: NOW - 500,
          ids: { device: 'one-more' },
        });
        projected(table, plan, COUNTED);
      },
    };
  };
  const personsIn = (seen: MessageTable): LivingPersons => new LivingPersons(seen, personRulesOf(plan));
  const nothing = (): void => undefined;
  const once = worked(nothing, personsIn(repeated(1).seen)).bridges;
  const many = repeated(TIMES);
  // What making the messages left is not of it.
  messages = [];
  const living = personsIn(many.seen);
  globalThis.gc?.();
  const first = worked(nothing, living);
  let [steps, compared] = [0, 0];
  for (const [id, bridge] of first.bridges) {
    const alone = once.get(id)!;
    steps += bridge.steps.length;
    // Of many more it may be sure of what it was not of few.
    if (bridge.steps.length > alone.steps.length) continue;
    assert.deepEqual(bridge.steps.map((s) => [s.id, s.messages]), alone.steps.map((s) => [s.id, s.messages * TIMES]), id); // prettier-ignore
    compared++;
    for (const which of ['asItArrived', 'asItWouldBe'] as const) {
      const [a, b] = [bridge[which], alone[which]];
      if (a === undefined || b === undefined) assert.equal(a, b, id);
      else assert(Math.abs(a - b) < 1e-6 || Math.abs(a / TIMES - b) < 1e-6, `${id} ${which}: ${a} of ${TIMES} times ${b}`);
    }
  }
  assert(steps > 0 && compared > first.bridges.size / 2);
  // One more message of an event that each question counts.
  const mainOf = (id: string): string => {
    const q = plan.question[id]!.formula;
    let name = '';
    JSON.stringify(q, (key, v: unknown) => ((key === 'eventName' && typeof v === 'string' && name === '' && newest.has(v) && (name = v)), v)); // prettier-ignore
    return name === '' ? [...newest.keys()][0]! : name;
  };
  const after = worked((id) => many.add(mainOf(id)), living);
  const p95 = (numbers: readonly number[]): number => [...numbers].sort((a, b) => a - b)[Math.min(numbers.length - 1, Math.floor(numbers.length * P95))]!; // prettier-ignore
  const from = performance.now();
  const copy = projectedWithin(many.table, plan, COUNTED, { from: -Infinity, to: Infinity });
  const copied = performance.now() - from;
  assert.equal(copy.length, many.seen.length);
  const bridge = p95(after.took.map((t) => t.ms));
  const longest = Math.max(...after.took.map((t) => t.longest));
  if (process.env['BRIDGES_BY'] === '1')
    for (const t of after.took) console.log(t.id, t.ms.toFixed(0), t.longest.toFixed(0), first.took.find((x) => x.id === t.id)!.ms.toFixed(0), after.bridges.get(t.id)!.steps.map((s) => `${s.id} ${s.messages}`).join(', ')); // prettier-ignore
  console.log(
    `bridges of ${after.took.length} questions, ${steps} corrections, at ${(many.table.length / 1e6).toFixed(2)} million: after one more message p95 ${bridge.toFixed(0)} ms, from nothing all ${first.took.reduce((n, t) => n + t.ms, 0).toFixed(0)} ms; a copy of the table ${copied.toFixed(0)} ms, ${(copied / bridge).toFixed(1)} times a whole bridge; the longest step ${longest.toFixed(0)} ms`,
  );
  const quick = goal(`${BRIDGE_MS} ms over a bridge after one more message, p95`, BRIDGE_MS / bridge, 1);
  return Promise.resolve(goal(`${HELD_MS} ms over its longest step`, HELD_MS / longest, 1) && quick);
};
