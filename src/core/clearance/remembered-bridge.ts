/** Bridges that are asked for again: worked out anew when a message came that they count or correct, or whoever was counted became somebody else. */
import { clockAhead, rowsOfWrongClocks } from '../arrival/many/clock-ahead';
import { valuesOf } from '../arrival/check';
import type { Persons } from '../identity/persons';
import { foldName } from '../naming/likeness';
import { canonicalJson } from '../plan/content-hash';
import { settingsOf, type Id, type Plan, type Question } from '../plan/plan';
import { needsOf } from '../questions/coverage';
import { looksAt, STANDS_MS } from '../questions/remembered-figure';
import type { MessageTable } from '../table/message-table';
import { bridgeOf, type Bridge } from './bridge';
import type { CorrectionId } from './correction-names';
import { missingLinks } from './corrections';
import { affectedBy } from './lowering';

interface Remembered {
  readonly bridge: Bridge;
  readonly plan: Plan;
  readonly now: number;
  readonly state: string;
}

const MAX = 500;
const lineages = new WeakMap<object, Map<string, Remembered>>();

/** What a bridge hangs on beside plan and clock: the messages of all events that it counts or that confirm them, how many are ahead, and all messages where
 *  any may make a difference.
 */
const stateOf = (plan: Plan, question: Question, table: MessageTable, persons: Persons): string => {
  const { names } = affectedBy(plan, table, needsOf(question));
  const folded = new Set([...names].map(foldName));
  const confirming = Object.values(plan.event).flatMap((e) => (names.has(e.name) && e.counterpart ? [e.counterpart.eventName] : []));
  const { everything, bySessions } = question.formula ? looksAt(question.formula) : { everything: false, bySessions: false };
  const { tolerance } = valuesOf(clockAhead.parameters, settingsOf(plan).rules[clockAhead.id]);
  return canonicalJson([
    table.names.values.length,
    table.properties.size,
    [...names, ...confirming].map((name) => [table.keyOf(name), table.rowsOf(name).length]),
    // Another spelling of an event has messages of its own.
    table.names.values.filter((n) => !names.has(n) && folded.has(foldName(n))).map((n) => table.rowsOf(n).length),
    rowsOfWrongClocks(table, tolerance * 60_000).size,
    everything || bySessions ? table.length : 0,
    missingLinks(persons).messages,
  ]);
}; // prettier-ignore

/** As `bridgeOf`. Shape: one step where it is remembered. */
export function* rememberedBridge(
  plan: Plan,
  questionId: Id,
  question: Question,
  persons: Persons,
  now: number,
  on: ReadonlySet<CorrectionId> | undefined,
  table: MessageTable,
): Generator<void, Bridge> {
  let own = lineages.get(persons.lineage);
  if (!own) lineages.set(persons.lineage, (own = new Map<string, Remembered>()));
  const key = canonicalJson([questionId, question, on ? [...on].sort() : null, persons.rules]);
  const state = stateOf(plan, question, table, persons);
  const before = own.get(key);
  if (before?.plan === plan && before.state === state && now >= before.now && now - before.now < STANDS_MS) return before.bridge;
  const bridge = yield* bridgeOf(plan, questionId, question, persons, now, on, table);
  own.delete(key);
  if (own.size >= MAX) own.delete(own.keys().next().value!);
  own.set(key, { bridge, plan, now, state });
  return bridge;
}
