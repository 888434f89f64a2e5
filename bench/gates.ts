/** All gates of 60 questions over five million messages in columns: from nothing, and right after one more message came; and one question's bridge.
 *  Asserted first: figures are those that a loop over the messages gives, and every gate is judged.
 *  Reference in the same run: one pass over the times of all messages. What is read from the database meanwhile is not measured here.
 */
import assert from 'node:assert/strict';
import { groupFindings } from '../src/core/arrival/finding-group';
import { triaged } from '../src/core/arrival/triage';
import { bridgeOf, type Bridge } from '../src/core/clearance/bridge';
import { clearanceOf } from '../src/core/clearance/clearance';
import { clearanceContext } from '../src/core/clearance/context';
import { LivingPersons } from '../src/core/identity/living-persons';
import { personRulesOf } from '../src/core/identity/person-rules';
import { blank, DEFAULT_SETTINGS } from '../src/core/plan/defaults';
import { emptyPlan, entries, type Plan, type PlanEvent, type Question, type Source } from '../src/core/plan/plan';
import { Watch } from '../src/core/plan/watch';
import type { Formula } from '../src/core/questions/formula';
import { headlineOf } from '../src/core/questions/formulas/computations';
import { rememberedFigure } from '../src/core/questions/remembered-figure';
import { MessageTable } from '../src/core/table/message-table';
import { projected } from '../src/core/table/projection';
import { COUNTED } from '../src/core/table/traffic';
import { DAY_MS, HOUR_MS } from '../src/core/time';
import { seeded } from '../src/demo/random';
import { goal, measure, size } from './measure';

const MESSAGES = size(Number(process.env['GATES'] ?? 5_000_000), 40_000);
const PERSONS = size(400_000, 3000);
const NAMES = 40;
const QUESTIONS = size(60, 8);
const AFTER_MS = 300;
const NOTHING_MS = 5000;
const ROUNDS = 5;
const NOW = Date.parse('2026-11-23T12:00:00Z');
const SPAN_MS = 56 * DAY_MS;
const SOURCES = ['s0', 's1', 's2', 's3'];

const nameOf = (i: number): string => `Crate Moved ${i % NAMES}`;
const step = (i: number): { eventName: string; where: [] } => ({ eventName: nameOf(i), where: [] });

/** Formulas of five kinds, each over other events. */
const formulaOf = (i: number): Formula => {
  switch (i % 5) {
    case 0:
      return { type: 'active persons', events: [step(i), step(i + 1)], period: 'week' };
    case 1:
      return { type: 'conversion', steps: [step(i), step(i + 2)], windowMs: 7 * DAY_MS, overDays: 28 };
    case 2:
      return { type: 'average per person', event: step(i), per: 'persons with it', active: [], period: 'week' };
    case 3:
      return { type: 'share who also did', first: step(i), also: step(i + 3), overDays: 28 };
    default:
      return { type: 'active persons', events: [step(i)], period: 'day' };
  }
};

const planOf = (): Plan => ({
  ...emptyPlan({ ...DEFAULT_SETTINGS, timeZone: 'UTC' }),
  source: Object.fromEntries(SOURCES.map((id): [string, Source] => [id, blank('source', { name: id, expectedLagMs: 60_000 })])),
  event: Object.fromEntries(
    Array.from({ length: NAMES }, (_, i): [string, PlanEvent] => [
      `e${i}`,
      blank('event', {
        name: nameOf(i),
        trigger: 'It has moved.',
        sources: SOURCES.map((sourceId) => ({ sourceId, required: true, build: 'built' as const })),
      }),
    ]),
  ),
  question: Object.fromEntries(
    Array.from({ length: QUESTIONS }, (_, i): [string, Question] => [
      `q${i}`,
      blank('question', { text: `q${i}`, order: i, formula: formulaOf(i) }),
    ]),
  ),
});

export const benchGates = async (): Promise<boolean> => {
  const random = seeded(22).next;
  const whole = (n: number): number => Math.floor(random() * n);
  const plan = planOf();
  const table = new MessageTable();
  const lastDay = new Set<number>();
  const dayBegin = Math.floor(NOW / DAY_MS) * DAY_MS - DAY_MS;
  const add = (i: number): void => {
    const p = whole(PERSONS);
    const n = whole(NAMES);
    const at = NOW - SPAN_MS + Math.floor((Math.min(i, MESSAGES) / MESSAGES) * SPAN_MS);
    table.append({
      seq: i + 1,
      kind: 'event',
      name: nameOf(n),
      sourceId: SOURCES[whole(4)]!,
      release: `r${Math.floor((Math.min(i, MESSAGES - 1) / MESSAGES) * 4)}`,
      occurredAt: at,
      receivedAt: at + 500,
      ids: { anonymous: `a-${p}`, ...(random() < 0.4 ? { user: `m-${p}` } : {}) },
      properties: {},
    });
    if (n === 4 && at >= dayBegin && at < dayBegin + DAY_MS) lastDay.add(p);
  };
  for (let i = 0; i < MESSAGES; i++) add(i);
  const seen = projected(table, plan, COUNTED);
  const living = new LivingPersons(seen, personRulesOf(plan));
  const watch = Watch.of(plan, NOW - 60 * DAY_MS);
  let looks = 0;
  const gates = () => {
    living.follow();
    const persons = living.persons();
    const groups = triaged(groupFindings(seen, [], NOW), [], seen, NOW, 48 * HOUR_MS);
    const context = clearanceContext({
      published: { plan, number: 1, publishedAt: NOW - 60 * DAY_MS, watch },
      persons,
      groups,
      // A clock that goes on, as it does.
      now: NOW + 1000 * ++looks,
    });
    const all = entries(plan, 'question').map(([id, q]) => ({
      id,
      clearance: clearanceOf(q, context),
      figure: q.formula ? rememberedFigure(q.formula, context.figures!('fully linked')) : undefined,
    }));
    return { all, persons };
  };
  // What making the messages left is not of it.
  globalThis.gc?.();
  const began = performance.now();
  const { all, persons } = gates();
  const fromNothing = performance.now() - began;
  assert.equal(all.length, QUESTIONS);
  for (const { id, clearance } of all) for (const g of clearance.gates) assert.notEqual(g.signal, 'open', `${id} ${g.gate}: ${g.evidence}`);
  assert.equal(headlineOf(all[4]!.figure!).value, lastDay.size);

  let next = MESSAGES;
  let sum = 0;
  const t = await measure(
    [
      {
        name: 'gates',
        run: () => {
          add(next++);
          gates();
        },
      },
      {
        name: 'pass',
        run: () => {
          for (let i = 0; i < table.length; i++) sum += table.time.get(i);
        },
      },
    ],
    ROUNDS,
  );
  assert(sum > 0);
  const pass = t.get('pass')!;
  const after = t.get('gates')!;
  const from = performance.now();
  const work = bridgeOf(plan, 'q4', plan.question['q4']!, persons, NOW);
  let step_ = work.next();
  while (!step_.done) step_ = work.next();
  const bridge: Bridge = step_.value;
  const bridged = performance.now() - from;
  assert.equal(bridge.steps.length, 0);
  console.log(
    `gates of ${QUESTIONS} questions at ${(MESSAGES / 1e6).toFixed(1)} million: from nothing ${fromNothing.toFixed(0)} ms, after one more message ${after.toFixed(0)} ms, ${(after / pass).toFixed(1)} times a pass over the times (${pass.toFixed(1)} ms); a bridge without anything to put right ${bridged.toFixed(0)} ms`,
  );
  const first = goal(`${NOTHING_MS} ms over the time from nothing`, NOTHING_MS / fromNothing, 1);
  return goal(`${AFTER_MS} ms over the time after one more message`, AFTER_MS / after, 1) && first;
};
