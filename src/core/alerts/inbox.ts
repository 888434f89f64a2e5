/** An alert in the inbox. */
import type { Happened } from './happened';

export interface InboxAlert {
  readonly id: number;
  readonly kind: Happened['kind'];
  readonly severity: Happened['severity'];
  readonly says: string;
  readonly place: Happened['at'];
  /** UTC epoch ms, as all instants here. */
  readonly at: number;
  readonly doneAt: number | null;
  readonly doneBy: string | null;
  readonly snoozedUntil: number | null;
}
