/** Something that is sent by a rule, and what became of it. */
import type { AlertRule } from './rule';

export interface Delivery {
  readonly id: string;
  readonly ruleId: number;
  readonly rule: string;
  readonly by: AlertRule['by'];
  readonly target: string;
  readonly count: number;
  readonly says: string;
  /** UTC epoch ms, as all instants here. */
  readonly madeAt: number;
  readonly nextAt: number;
  readonly tries: number;
  readonly state: 'waiting' | 'delivered' | 'given up';
  readonly status: number | null;
  readonly error: string | null;
  readonly doneAt: number | null;
}
