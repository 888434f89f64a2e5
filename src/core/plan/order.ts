/** The order that people put entities into. */
import { setField, type Edit } from './edit';
import type { Id, Plan } from './plan';

/** The edits that put events or questions into the order given. All get numbers of their own, so that equal ones do not stick. */
export const orderEdits = (plan: Plan, kind: 'event' | 'question', ids: readonly Id[]): Edit[] =>
  ids.map((id, i) => setField(plan, kind, id, 'order', i + 1)).filter((e) => e !== undefined);
