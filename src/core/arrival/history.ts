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
  /** The same as text, where there is one: it is kept in place of the parsed message, which takes more room. */
  readonly text?: string | undefined;
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

/** The first message of an ID from a source, and the same of other sources. */
interface FirstOfId {
  readonly sourceId: string;
  readonly first: Message | string;
  others: Set<string> | undefined;
  readonly next: FirstOfId | undefined;
}

/** A message that was kept, as text or as it was read. */
const contentOf = (kept: Message | string): Message => {
  if (typeof kept !== 'string') return kept;
  const read = readMessage(JSON.parse(kept));
  if (!read.ok) throw new Error('a message that was read once is one');
  return read.message;
};

/** Judges messages one after the other, and at the end all of them together. */
export class HistoryJudge {
  private readonly checker: Checker;
  private readonly table: MessageTable;
  private readonly rejected: JudgedHistory['rejected'][number][] = [];
  /** Message ID → what came under it, by source. */
  private readonly byId = new Map<string, FirstOfId>();
  /** By the source, then the day. */
  private readonly intake = new Map<string, Map<number, { -readonly [K in keyof IntakeDay]: IntakeDay[K] }>>();
  private index = -1;
  private duplicates = 0;

  constructor(private readonly plan: Plan) {
    this.checker = compileChecker(plan);
    this.table = new MessageTable(userKindOf(plan));
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

  /** Takes in the next message; whether it counts: rejected ones and duplicates do not. */
  add({ sourceId, receivedAt, value, text }: RecordedLine): boolean {
    this.index++;
    const read = readMessage(value);
    if (!read.ok) {
      this.rejected.push({ index: this.index, rejected: read.rejected });
      this.dayOf(sourceId, receivedAt).rejected++;
      return false;
    }
    const { message } = read;
    const any = this.byId.get(message.id);
    let known = any;
    while (known && known.sourceId !== sourceId) known = known.next;
    const key = known && !sameContent(contentOf(known.first), message) ? contentKey(message) : undefined;
    if (known && (key === undefined || known.others?.has(key))) {
      this.duplicates++;
      this.dayOf(sourceId, receivedAt).duplicates++;
      return false;
    }
    if (known) (known.others ??= new Set()).add(key!);
    else this.byId.set(message.id, { sourceId, first: text ?? message, others: undefined, next: any });
    this.dayOf(sourceId, receivedAt).accepted++;
    const findings = this.checker.check(message);
    const seq = this.table.length + 1;
    this.table.append(
      {
        ...tableMessage(message, seq, sourceId, receivedAt),
        reusedId: known !== undefined,
        idElsewhere: any !== undefined && (any.sourceId !== sourceId || any.next !== undefined),
      },
      findings,
    );
    return true;
  }

  /** Shape: as of `judgeHistory`. */
  finish(now: number, watchedSince = -Infinity, traffic = COUNTED): JudgedHistory {
    const { plan, table, duplicates, rejected } = this;
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
    while (!step.done) step = steps.next();
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
