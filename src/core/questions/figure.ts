/** A question's figure: the value that its formula has over the messages, with what it was counted from. */
import type { Settings } from '../plan/plan';
import type { Interval } from '../stats/wilson';
import type { Attributed } from '../table/following-persons';
import type { Scalar } from '../table/message-table';
import type { RowTest } from '../table/matcher';
import type { PathMap } from '../plan/property-path';

/** A calendar period: UTC epoch ms, ending before `to`. */
export interface PeriodSpan {
  readonly from: number;
  readonly to: number;
  /** Whether the period is over. */
  readonly complete: boolean;
}

export interface SeriesPoint extends PeriodSpan {
  readonly persons: number;
  readonly messages: number;
}

export interface AveragePoint extends SeriesPoint {
  /** Messages per person; `undefined` where nobody is in the denominator. */
  readonly value: number | undefined;
}

/** Statistics of a numeric property; all but `n` are `undefined` without a value. */
export interface NumberSummary {
  readonly n: number;
  readonly sum: number | undefined;
  readonly mean: number | undefined;
  readonly median: number | undefined;
  readonly p95: number | undefined;
}

export interface TotalPoint extends PeriodSpan, NumberSummary {}

export interface RatePoint extends PeriodSpan {
  readonly hits: number;
  readonly of: number;
}

export interface CohortCell {
  readonly day: number;
  /** Persons whose day is over, and those of them who came back. */
  readonly size: number;
  readonly returned: number;
}

export interface Cohort {
  readonly from: number;
  readonly to: number;
  readonly size: number;
  readonly cells: readonly CohortCell[];
}

export interface RankedValue {
  readonly value: Scalar;
  readonly amount: number;
  readonly share: number;
  readonly messages: number;
  readonly persons: number;
}

/** Messages of the formula's events that no period shows: dated before the first one, or after now. */
export interface Outside {
  readonly before: number;
  readonly after: number;
}

/** `messages`: of the formula's events; `unattributed`: those for whom no person could be found. */
interface Counted {
  readonly unattributed: number;
  readonly outside: Outside;
  /** From when on all that it counts is measured, where that is not for as long as anything arrives: nothing before it is counted, and periods
   *  that begin before it have no point. UTC epoch ms.
   */
  readonly measuredFrom?: number;
  /** Where the window that was asked for begins before that: its begin, UTC epoch ms. */
  readonly askedFrom?: number;
}

export type Figure =
  | (Counted & {
      readonly type: 'active persons';
      readonly points: readonly SeriesPoint[];
      /** The last complete period; `undefined` when none is over yet. */
      readonly latest: SeriesPoint | undefined;
      readonly messages: number;
      /** Set where each point looks back over so many days. */
      readonly rollingDays?: number;
    })
  | (Counted & {
      readonly type: 'conversion';
      readonly steps: readonly { readonly eventName: string; readonly persons: number; readonly messages: number }[];
      /** Share 0..1 of the last step over the first; `undefined` without a first step. */
      readonly share: number | undefined;
      readonly interval: Interval | undefined;
      /** Persons not converted whose window is still open. */
      readonly open: number;
      /** Persons who got as far as they did only because clocks of different sources may differ by `toleranceMs`. */
      readonly byTolerance: number;
      readonly toleranceMs: number;
    })
  | (Counted & {
      readonly type: 'average per person';
      readonly points: readonly AveragePoint[];
      readonly latest: AveragePoint | undefined;
      readonly messages: number;
    })
  | (Counted & {
      readonly type: 'retention';
      readonly day: number;
      readonly mode: 'on day' | 'on or after day';
      /** Days of the table's columns, the asked one last. */
      readonly days: readonly number[];
      readonly cohorts: readonly Cohort[];
      readonly size: number;
      readonly returned: number;
      readonly share: number | undefined;
      readonly interval: Interval | undefined;
      /** Persons left out because their day is not over yet. */
      readonly young: number;
    })
  | (Counted & {
      readonly type: 'total of a property';
      readonly points: readonly TotalPoint[];
      readonly latest: TotalPoint | undefined;
      readonly all: NumberSummary;
      /** Messages whose value is absent or no number. */
      readonly notANumber: number;
    })
  | (Counted & {
      readonly type: 'top values';
      readonly ranked: readonly RankedValue[];
      readonly distinct: number;
      readonly total: number;
      /** Messages without the property. */
      readonly absent: number;
      /** Messages whose value is a list or an object, which is not ranked. */
      readonly nested: number;
    })
  | (Counted & {
      readonly type: 'share who also did';
      readonly first: number;
      readonly also: number;
      readonly both: number;
      readonly share: number | undefined;
      readonly interval: Interval | undefined;
    })
  | (Counted & {
      readonly type: 'rate of a value';
      readonly of: 'messages' | 'persons';
      readonly hits: number;
      readonly total: number;
      readonly share: number | undefined;
      readonly interval: Interval | undefined;
      readonly points: readonly RatePoint[];
    });

export type FigureOf<T extends Figure['type']> = Extract<Figure, { type: T }>;

export interface FigureContext {
  /** Rows beyond those whose persons are known are not looked at: the table may have grown since. */
  readonly people: Attributed;
  readonly settings: Pick<Settings, 'timeZone' | 'weekStartsOn' | 'sessionGapMinutes' | 'clockToleranceSeconds'>;
  /** UTC epoch ms. */
  readonly now: number;
  /** Upper bounds of the buckets that a user property is grouped by, by its path. */
  readonly buckets?: PathMap<readonly number[]>;
  /** Rows that filters let pass; all when left out. */
  readonly allows?: RowTest;
  /** Rows of the main event that belong to the group looked at. */
  readonly inGroup?: RowTest;
}
