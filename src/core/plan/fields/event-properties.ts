/** The properties of an event as text: `tool_id, branch?, tool_category (drills | saws)`; a question mark makes optional. */
import type { EventProperty, Id, Plan } from '../plan';
import { indexOf } from '../plan-index';
import { joinList, splitList } from './list-text';

export const propertiesText = (plan: Plan, list: readonly EventProperty[]): string =>
  joinList(
    list.map((p) => {
      const name = plan.property[p.propertyId]?.name ?? p.propertyId;
      const only = p.allowed && p.allowed.length > 0 ? ` (${p.allowed.join(' | ')})` : '';
      return `${name}${p.required ? '' : '?'}${only}`;
    }),
  );

/** The list that a text means. A name that the plan lacks is told; ids that stand already are kept where names are shared by twins. */
export const propertiesFrom = (plan: Plan, text: string, before: readonly EventProperty[]): EventProperty[] | string => {
  const out: EventProperty[] = [];
  for (const item of splitList(text)) {
    const m = /^(.*?)(\?)?(?:\s*\(([^()]*)\))?$/s.exec(item)!;
    const name = m[1]!.trim();
    const own = before.find((p) => plan.property[p.propertyId]?.name === name)?.propertyId;
    const id: Id | undefined = own ?? indexOf(plan).propertyByName.get(name);
    if (id === undefined) return `“${name}” is not a property of this plan.`;
    const allowed = m[3]?.split('|').map((v) => v.trim());
    if (!out.some((p) => p.propertyId === id)) out.push({ propertyId: id, required: m[2] === undefined, ...(allowed ? { allowed } : {}) });
  }
  return out;
};
