/** A question's figure: the value that its formula has over the messages, with what it was counted from. */
import type { Settings } from '../plan/plan';
import type { Interval } from '../stats/wilson';
import type { MessageTable } from '../table/message-table';

export interface SeriesPoint {
  /** UTC epoch ms; the period ends before `to`. */
  readonly from: number;
  readonly to: number;
  readonly persons: number;
  readonly messages: number;
  /** Whether the period is over. */
  readonly complete: boolean;
}

export type Figure =
  | {
      readonly type: 'active persons';
      readonly points: readonly SeriesPoint[];
      /** The last complete period; `undefined` when none is over yet. */
      readonly latest: SeriesPoint | undefined;
      readonly messages: number;
      /** Messages of the events that no person could be found for. */
      readonly unattributed: number;
    }
  | {
      readonly type: 'conversion';
      readonly steps: readonly { readonly eventName: string; readonly persons: number; readonly messages: number }[];
      /** Share 0..1 of the last step over the first; `undefined` without a first step. */
      readonly share: number | undefined;
      readonly interval: Interval | undefined;
      /** Persons not converted whose window is still open. */
      readonly open: number;
      readonly unattributed: number;
    };

export interface FigureContext {
  readonly table: MessageTable;
  readonly personOfMessage: Int32Array;
  readonly settings: Pick<Settings, 'timeZone' | 'weekStartsOn'>;
  /** UTC epoch ms. */
  readonly now: number;
}
