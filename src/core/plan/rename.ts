/** Renames: the name itself, the former name kept, and every reference by name moved along. */
import { mapFormulaEvents } from '../questions/formula';
import type { Edit } from './edit';
import { setField } from './edit';
import { entries, type Id, type Plan } from './plan';

/** The edits that rename an event.
 *  Shape: the event's name first, then its former names (only when `keepFormer`), then questions and counterparts that
 *  named it. Empty when the name is already that.
 */
export const renameEvent = (plan: Plan, id: Id, name: string, keepFormer: boolean): Edit[] => {
  const event = plan.event[id];
  if (!event || event.name === name) return [];
  const old = event.name;
  const edits: (Edit | undefined)[] = [setField(plan, 'event', id, 'name', name)];
  if (keepFormer && old !== '') {
    const former = [...event.formerNames.filter((n) => n !== name), old];
    edits.push(setField(plan, 'event', id, 'formerNames', former));
  }
  if (old !== '') {
    for (const [qid, q] of entries(plan, 'question')) {
      if (!q.formula) continue;
      const formula = mapFormulaEvents(q.formula, (n) => (n === old ? name : n));
      edits.push(setField(plan, 'question', qid, 'formula', formula));
    }
    for (const [eid, e] of entries(plan, 'event')) {
      if (e.counterpart?.eventName === old) edits.push(setField(plan, 'event', eid, 'counterpart', { ...e.counterpart, eventName: name }));
    }
  }
  return edits.filter((e) => e !== undefined);
};
