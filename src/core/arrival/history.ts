/** A recorded stretch of messages, judged in memory: what the intake and the checks would say of it, without storing anything. */
import type { Plan } from '../plan/plan';
import { Watch } from '../plan/watch';
import { personRulesOf } from '../identity/person-rules';
import { resolvePersons, type Persons } from '../identity/persons';
import { MessageTable, type TableMessage } from '../table/message-table';
import { projected } from '../table/projection';
import { userKindOf } from '../plan/user-kind';
import { COUNTED } from '../table/traffic';
import { compileChecker, type Checker } from './compile';
import type { MessageFinding } from './message-finding';
import { groupFindings, manyGroups, type FindingGroup } from './finding-group';
import type { IntakeDay } from './intake-totals';
import { SeenIds } from './seen-ids';
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

/** So many different findings of a message are kept once. */
const MOST_FOUND = 10_000;

/** Judges messages one after the other, and at the end all of them together. */
export class HistoryJudge {
  private readonly checker: Checker;
  private readonly table: MessageTable;
  private readonly rejected: JudgedHistory['rejected'][number][] = [];
  private ids = new SeenIds();
  private readonly found = new Map<string, readonly MessageFinding[]>();
  /** By the source, then the day. */
  private readonly intake = new Map<string, Map<number, { -readonly [K in keyof IntakeDay]: IntakeDay[K] }>>();
  private index = -1;
  private duplicates = 0;

  constructor(private readonly plan: Plan) {
    this.checker = compileChecker(plan);
    this.table = new MessageTable(userKindOf(plan));
  }

  /** Says about how many messages will come, so that nothing grows bit by bit. */
  expect(messages: number): void {
    this.table.expect(messages);
    this.ids.expect(messages);
  }

  /** Messages that were taken in so far; the last one's number in the table. */
  get taken(): number {
    return this.table.length;
  }

  private dayOf(sourceId: string, at: number) {
    const day = Math.floor(at / DAY_MS);
    let days = this.intake.get(sourceId);
    if (!days) this.intake.set(sourceId, (days = new Map<number, { -readonly [K in keyof IntakeDay]: IntakeDay[K] }>()));
    let own = days.get(day);
    if (!own) days.set(day, (own = { sourceId, day, accepted: 0, duplicates: 0, rejected: 0 }));
    return own;
  }

  /** The same findings once: a fault is on thousands of messages. */
  private shared(findings: readonly MessageFinding[]): readonly MessageFinding[] {
    if (findings.length === 0) return findings;
    const key = JSON.stringify(findings);
    const known = this.found.get(key);
    if (known) return known;
    // What differs with each message is no use to keep.
    if (this.found.size < MOST_FOUND) this.found.set(key, findings);
    return findings;
  }

  /** Takes in the next message; whether it counts: rejected ones and duplicates do not. */
  add({ sourceId, receivedAt, value }: RecordedLine): boolean {
    this.index++;
    const read = readMessage(value);
    if (!read.ok) {
      this.rejected.push({ index: this.index, rejected: read.rejected });
      this.dayOf(sourceId, receivedAt).rejected++;
      return false;
    }
    const { message } = read;
    const { isAgain, isReused, isElsewhere } = this.ids.add(message, sourceId);
    if (isAgain) {
      this.duplicates++;
      this.dayOf(sourceId, receivedAt).duplicates++;
      return false;
    }
    this.dayOf(sourceId, receivedAt).accepted++;
    const findings = this.checker.check(message);
    const seq = this.table.length + 1;
    this.table.append(
      {
        ...tableMessage(message, seq, sourceId, receivedAt),
        reusedId: isReused,
        idElsewhere: isElsewhere,
      },
      this.shared(findings),
    );
    return true;
  }

  /** Shape: as of `judgeHistory`. `between` is called between two steps of the checks. */
  finish(now: number, watchedSince = -Infinity, traffic = COUNTED, between?: () => void): JudgedHistory {
    const { plan, table, duplicates, rejected } = this;
    // No message comes any more, and what is worked out now needs the room.
    this.ids = new SeenIds();
    const seen = projected(table, plan, traffic);
    const persons = resolvePersons(seen, personRulesOf(plan));
    const steps = manyGroups({
      plan,
      people: persons,
      now,
      watch: Watch.of(plan, watchedSince),
      intake: [...this.intake.values()].flatMap((days) => [...days.values()]).sort((a, b) => a.day - b.day),
    });
    let step = steps.next();
    while (!step.done) {
      between?.();
      step = steps.next();
    }
    return { groups: groupFindings(seen, step.value, now), table: seen, persons, duplicates, rejected };
  }
}

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
  const judge = new HistoryJudge(plan);
  for (const line of lines) judge.add(line);
  return judge.finish(now, watchedSince, traffic);
};
