/** What people do with a plan, as database, server and browser pass it on: proposals, comments, the log of changes. */
import type { DryRun } from '../scenario/dry-run';
import type { Edit } from './edit';

export interface Proposal {
  readonly id: string;
  readonly name: string;
  readonly note: string;
  readonly author: string;
  /** UTC epoch ms, as all instants here. */
  readonly at: number;
  /** 0: it began before anything was published. */
  readonly baseVersion: number;
  readonly status: 'open' | 'accepted' | 'declined';
  readonly decidedBy: string | null;
  readonly decidedAt: number | null;
  readonly decisionNote: string | null;
  /** How many changes it holds. */
  readonly changes: number;
}

/** What a proposal would do, kept with it as it was found. */
export interface KeptRun {
  readonly id: number;
  readonly author: string;
  readonly at: number;
  /** Whether the proposal was edited since. */
  readonly isOld: boolean;
  readonly run: DryRun;
}

export interface Comment {
  readonly id: number;
  readonly proposalId: string | null;
  readonly kind: string;
  readonly entityId: string;
  readonly author: string;
  readonly at: number;
  readonly body: string;
  readonly resolvedBy: string | null;
}

export interface LoggedChange {
  readonly seq: number;
  readonly at: number;
  readonly author: string;
  readonly label: string;
  readonly edits: readonly Edit[];
}
