/** A recorded stretch of messages, judged in memory: what the intake and the checks would say of it, without storing anything. */
import type { Plan } from '../plan/plan';
import { Watch } from '../plan/watch';
import { personRulesOf } from '../identity/person-rules';
import { resolvePersons, type Persons } from '../identity/persons';
import { MessageTable, type TableMessage } from '../table/message-table';
import { projected, userKindOf } from '../table/projection';
import { COUNTED } from '../table/traffic';
import { compileChecker } from './compile';
import { groupFindings, manyGroups, type FindingGroup } from './finding-group';
import type { IntakeDay } from './intake-totals';
import { contentKey, sameContent } from './same-content';
import { DAY_MS } from '../time';
import { readMessage, type Message, type Rejected } from './message';

export interface RecordedLine {
  readonly sourceId: string;
  /** UTC epoch ms. */
  readonly receivedAt: number;
  /** The message as parsed JSON. */
  readonly value: unknown;
}

export interface JudgedHistory {
  /** As in the list of findings, gravest first. */
  readonly groups: readonly FindingGroup[];
  /** As the plan and the traffic see it. */
  readonly table: MessageTable;
  readonly persons: Persons;
  readonly duplicates: number;
  /** Each rejected message, with its place in the history, from 0. */
  readonly rejected: readonly { readonly index: number; readonly rejected: Rejected }[];
}

/** A message as a row of the columns. */
export const tableMessage = (m: Message, seq: number, sourceId: string, receivedAt: number): TableMessage => ({
  seq,
  kind: m.kind,
  name: m.name,
  sourceId,
  release: m.release,
  occurredAt: m.occurredAt,
  receivedAt,
  page: m.page,
  ids: m.ids,
  properties: m.properties,
  userProperties: m.userProperties,
  environment: m.environment,
  marks: m.marks,
  consent: m.consent,
});

/** Judges messages in the order given.
 *  Shape: `now` and `watchedSince` UTC epoch ms, as the checks over many take them.
 *  Errors: none; what cannot be read is told in `rejected`.
 */
export const judgeHistory = (
  plan: Plan,
  lines: Iterable<RecordedLine>,
  now: number,
  watchedSince = -Infinity,
  traffic = COUNTED,
): JudgedHistory => {
  const checker = compileChecker(plan);
  const table = new MessageTable(userKindOf(plan));
  const rejected: JudgedHistory['rejected'][number][] = [];
  const byId = new Map<string, { readonly first: Message; readonly others: Set<string> }>();
  const sourcesOf = new Map<string, Set<string>>();
  const intake = new Map<string, { -readonly [K in keyof IntakeDay]: IntakeDay[K] }>();
  const dayOf = (sourceId: string, at: number) => {
    const day = Math.floor(at / DAY_MS);
    const key = JSON.stringify([sourceId, day]);
    let own = intake.get(key);
    if (!own) intake.set(key, (own = { sourceId, day, accepted: 0, duplicates: 0, rejected: 0 }));
    return own;
  };
  let [index, duplicates] = [-1, 0];
  for (const { sourceId, receivedAt, value } of lines) {
    index++;
    const read = readMessage(value);
    if (!read.ok) {
      rejected.push({ index, rejected: read.rejected });
      dayOf(sourceId, receivedAt).rejected++;
      continue;
    }
    const { message } = read;
    const id = JSON.stringify([sourceId, message.id]);
    const known = byId.get(id);
    const key = known && !sameContent(known.first, message) ? contentKey(message) : undefined;
    if (known && (key === undefined || known.others.has(key))) {
      duplicates++;
      dayOf(sourceId, receivedAt).duplicates++;
      continue;
    }
    if (!known) byId.set(id, { first: message, others: new Set() });
    else known.others.add(key!);
    dayOf(sourceId, receivedAt).accepted++;
    const findings = checker.check(message);
    const seq = table.length + 1;
    let sources = sourcesOf.get(message.id);
    if (!sources) sourcesOf.set(message.id, (sources = new Set()));
    sources.add(sourceId);
    table.append(
      { ...tableMessage(message, seq, sourceId, receivedAt), reusedId: known !== undefined, idElsewhere: sources.size > 1 },
      findings,
    );
  }
  const seen = projected(table, plan, traffic);
  const persons = resolvePersons(seen, personRulesOf(plan));
  const steps = manyGroups({
    plan,
    people: persons,
    now,
    watch: Watch.of(plan, watchedSince),
    intake: [...intake.values()].sort((a, b) => a.day - b.day),
  });
  let step = steps.next();
  while (!step.done) step = steps.next();
  return { groups: groupFindings(seen, step.value, now), table: seen, persons, duplicates, rejected };
};
