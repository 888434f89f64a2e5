/** The face of the checks over many messages, and what they share. One check a file in batch/. */
import { formatDistanceStrict } from 'date-fns';
import type { Severity } from '../findings/severity';
import type { Plan } from '../plan/plan';
import type { Persons } from '../identity/persons';
import type { Attributed } from '../table/following-persons';
import type { Watch } from '../plan/watch';
import { messagesBySource } from '../table/cube';
import type { MessageTable } from '../table/message-table';
import { groupRows } from '../table/sessions';
import type { CheckWords, Parameters, Values } from './check';
import { DAY_MS } from '../time';
import type { IntakeDay } from './intake-totals';

export interface ManyContext {
  readonly plan: Plan;
  /** The messages, and the persons in them under the plan's rules. */
  readonly people: Persons;
  /** UTC epoch ms. */
  readonly now: number;
  /** Since when what the plan asks is watched. */
  readonly watch: Watch;
  /** What the intake answered, day by day; left out where there was none. */
  readonly intake?: readonly IntakeDay[];
}

/** One cause, as a check over many found it. */
export interface ManyFound<Params> {
  readonly params: Params;
  readonly eventName: string;
  /** What tells it from other findings of the check on the same event and source. */
  readonly field: string;
  readonly sourceId: string;
  readonly releases: readonly string[];
  readonly count: number;
  readonly outOf: number;
  /** UTC epoch ms. */
  readonly firstAt: number;
  readonly lastAt: number;
  /** Rows of messages that show it, newest first. */
  readonly rows: readonly number[];
  /** Messages of each day, where the finding counts messages: days since 1970 in UTC. */
  readonly perDay?: ReadonlyMap<number, number>;
  /** Where it is other than the check's own. */
  readonly severity?: Severity;
}

export interface ManyCheck<Code extends string = string, Params = never, P extends Parameters = Parameters> extends CheckWords<
  Code,
  Params
> {
  readonly on: 'many';
  /** Over what, how it is counted, and from where it is told; with its source, where it has one. */
  readonly method: string;
  readonly parameters?: P;
  /** Shape: one entry for each cause, in the order of first sight; where it takes long, `undefined` in between says that all else may have its turn.
   *  The second argument has the values of the check's own parameters.
   */
  find(c: ManyContext, values: Values<P>): Iterable<ManyFound<Params> | undefined>;
}

/** All that a check finds, at once. */
export const foundBy = <Params, P extends Parameters>(
  check: Pick<ManyCheck<string, Params, P>, 'find'>,
  c: ManyContext,
  values: Values<P>,
): ManyFound<Params>[] => [...check.find(c, values)].filter((f) => f !== undefined);

type Grouped = ReturnType<typeof groupRows>;
/** Several checks ask for the same. */
const grouped = new WeakMap<Attributed, Map<string, Grouped>>();

/** The rows of an event by person, those of each by time: of person p they are `order[start[p] .. start[p+1])`. Messages that came after
 *  the persons were worked out are nobody's yet.
 */
export const rowsByPerson = (people: Attributed, eventName: string): Grouped => {
  let known = grouped.get(people);
  if (!known) grouped.set(people, (known = new Map<string, { order: Int32Array; start: Int32Array }>()));
  let own = known.get(eventName);
  if (!own) {
    const { table, personOfMessage, count } = people;
    own = groupRows(table.rowsOf(eventName), (row) => personOfMessage[row] ?? -1, count, table.time.raw);
    known.set(eventName, own);
  }
  return own;
};

export const defineManyCheck = <const Code extends string, Params, const P extends Parameters>(
  c: ManyCheck<Code, Params, P>,
): ManyCheck<Code, Params, P> => c;

/** Counts a message on its day, in UTC. */
export const countDay = (perDay: Map<number, number>, at: number): void => {
  const day = Math.floor(at / DAY_MS);
  perDay.set(day, (perDay.get(day) ?? 0) + 1);
};

const TREND_DAYS = 28;
export const TREND_MS = TREND_DAYS * DAY_MS;

/** The counts of the last four weeks, the day of `now` last. */
export const trendOf = (perDay: ReadonlyMap<number, number>, now: number): number[] => {
  const last = Math.floor(now / DAY_MS);
  return Array.from({ length: TREND_DAYS }, (_, i) => perDay.get(last - TREND_DAYS + 1 + i) ?? 0);
};

/** So many of the newest messages of a cause can be looked at. */
export const MAX_ROWS = 200;

/** Rows of one cause, added one by one. */
export class Cause {
  /** Each release with when it was first found. */
  private readonly releases = new Map<number, number>();
  /** The newest among them, and some more. */
  private rows: number[] = [];
  private readonly perDay = new Map<number, number>();
  count = 0;
  outOf = 0;
  firstAt = Infinity;
  lastAt = -Infinity;
  constructor(private readonly table: MessageTable) {}

  add(row: number): void {
    const at = this.table.time.get(row);
    this.count++;
    countDay(this.perDay, at);
    this.firstAt = Math.min(this.firstAt, at);
    this.lastAt = Math.max(this.lastAt, at);
    const release = this.table.release.get(row);
    this.releases.set(release, Math.min(this.releases.get(release) ?? Infinity, at));
    // Only the newest are shown, so only they are kept: put in order now and then, rather than each time.
    if (this.rows.push(row) >= 2 * MAX_ROWS) this.rows = this.newest();
  }

  /** Newest first; of one moment, what came last. */
  private newest(): number[] {
    const { time } = this.table;
    return [...this.rows].sort((a, b) => time.get(b) - time.get(a) || b - a).slice(0, MAX_ROWS);
  }

  /** What is the same in every finding. */
  found(): Pick<ManyFound<unknown>, 'releases' | 'count' | 'outOf' | 'firstAt' | 'lastAt' | 'rows' | 'perDay'> {
    const { table } = this;
    return {
      releases: [...this.releases].sort((a, b) => a[1] - b[1]).map(([r]) => table.releases.values[r]!),
      count: this.count,
      outOf: this.outOf,
      firstAt: this.firstAt,
      lastAt: this.lastAt,
      rows: this.newest(),
      perDay: this.perDay,
    };
  }
}

/** Causes by source: made at first sight. */
export class CausesBySource {
  readonly bySource = new Map<number, Cause>();
  constructor(private readonly table: MessageTable) {}
  of(row: number): Cause {
    const source = this.table.source.get(row);
    let cause = this.bySource.get(source);
    if (!cause) this.bySource.set(source, (cause = new Cause(this.table)));
    return cause;
  }
  /** Says of each cause that it is a part of all that its source sent. */
  ofAll(): void {
    const all = messagesBySource(this.table);
    for (const [source, cause] of this.bySource) cause.outOf = all[source]!;
  }
  /** Those with at least one message found, each with its source. */
  *found(): Iterable<ReturnType<Cause['found']> & { readonly sourceId: string }> {
    for (const [source, cause] of this.bySource)
      if (cause.count > 0) yield { sourceId: this.table.sources.values[source]!, ...cause.found() };
  }
}

/** A span in words, to one unit. */
export const roughSpan = (ms: number): string => formatDistanceStrict(0, ms);
