/** `GET /api/plan-at`: The draft as it was at an instant, and the version in force then */
import { z } from 'zod';
import type { Plan } from '../plan/plan';
import type { Version } from '../plan/version';
import { answer, endpoint } from './endpoint';

export interface PlanAt {
  readonly plan: Plan;
  readonly version: Version | null;
}

export const planAt = endpoint({
  method: 'GET',
  path: '/api/plan-at',
  title: 'The draft as it was at an instant, and the version in force then',
  role: 'reader',
  query: z.object({ at: z.string().describe('An instant such as 2026-03-01T09:30:00Z.') }),
  answer: answer<PlanAt>('The plan and the version.'),
});
