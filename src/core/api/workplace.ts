/** `GET /api/workplace`: The draft of the plan, or what changed in it after a change */
import { z } from 'zod';
import type { ChangedEntity, Draft } from '../plan/draft';
import type { Version } from '../plan/version';
import { answer, endpoint, whole } from './endpoint';

interface Standing {
  readonly lastChange: number;
  readonly published: Version | null;
  /** Entities that differ between draft and published version. */
  readonly unpublished: number;
  /** Write keys in use. */
  readonly keys: number;
  readonly recheck: { readonly done: number; readonly total: number } | null;
}
export type Workplace = Standing & Pick<Draft, 'plan' | 'revisions'>;
export type WorkplaceChanges = Standing & { readonly changed: readonly ChangedEntity[] };

export const workplace = endpoint({
  method: 'GET',
  path: '/api/workplace',
  title: 'The draft of the plan, or what changed in it after a change',
  role: 'reader',
  query: z.object({ after: whole.min(0).optional().describe('Number of a change that is known already.') }),
  answer: answer<Workplace | WorkplaceChanges>('The whole draft; with `after`, what changed since, unless too much did.'),
});
