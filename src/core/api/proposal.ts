/** `GET /api/proposal`: A proposal: its base, its plan, and its conflicts with the draft */
import { z } from 'zod';
import type { MergeConflict } from '../plan/merge';
import type { Plan } from '../plan/plan';
import type { KeptRun, Proposal } from '../plan/review';
import { answer, endpoint } from './endpoint';

export interface Review {
  readonly proposal: Proposal;
  readonly base: Plan;
  readonly plan: Plan;
  readonly lastChange: number;
  readonly conflicts: readonly MergeConflict[];
  /** How many edits accepting it would make. */
  readonly edits: number;
  /** Dry runs that were kept with it, newest first. */
  readonly runs: readonly KeptRun[];
}

export const proposal = endpoint({
  method: 'GET',
  path: '/api/proposal',
  title: 'A proposal: its base, its plan, and its conflicts with the draft',
  role: 'reader',
  query: z.object({ id: z.string() }),
  answer: answer<Review>('The proposal.'),
  errors: { 404: 'There is no such proposal.' },
});
