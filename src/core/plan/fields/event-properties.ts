/** The properties of an event as text: `tool_id, branch?, tool_category (drills | saws)`; a question mark makes optional. */
import type { EventProperty, Id, Plan, Property } from '../plan';
import { indexOf } from '../plan-index';
import { joinList, splitList } from './list-text';
import { refOfProperty, refText } from '../property-path';

export const propertiesText = (plan: Plan, list: readonly EventProperty[]): string =>
  joinList(
    list.map((p) => {
      const planned = plan.property[p.propertyId];
      const name = planned ? refText(refOfProperty(planned)) : p.propertyId;
      const only = p.allowed && p.allowed.length > 0 ? ` (${p.allowed.join(' | ')})` : '';
      return `${name}${p.required ? '' : '?'}${only}`;
    }),
  );

interface Reading {
  readonly name: string;
  readonly required: boolean;
  readonly allowed?: readonly string[];
}

/** The ways in which an item can be read, the plainest first: a name may itself end in a question mark or in brackets. */
const readings = (item: string): Reading[] => {
  const out: Reading[] = [{ name: item, required: true }];
  if (item.endsWith('?')) out.push({ name: item.slice(0, -1).trim(), required: false });
  const m = /^(.*?)(\?)?\s*\(([^()]*)\)$/s.exec(item);
  if (m) out.push({ name: m[1]!.trim(), required: m[2] === undefined, allowed: m[3]!.split('|').map((v) => v.trim()) });
  return out;
};

const isShown = (p: Property | undefined, text: string): boolean => p !== undefined && refText(refOfProperty(p)) === text;

/** The list that a text means. A name that the plan lacks is told; ids that are there already are kept where names are shared by twins. */
export const propertiesFrom = (plan: Plan, text: string, before: readonly EventProperty[]): EventProperty[] | string => {
  const out: EventProperty[] = [];
  const idOf = (name: string): Id | undefined =>
    before.find((p) => isShown(plan.property[p.propertyId], name) && !out.some((o) => o.propertyId === p.propertyId))?.propertyId ??
    indexOf(plan).propertyByText.get(name);
  for (const item of splitList(text)) {
    const all = readings(item);
    const reading = all.find((r) => idOf(r.name) !== undefined);
    if (!reading) return `“${all.at(-1)!.name}” is not a property of this plan.`;
    const { name, ...rest } = reading;
    const propertyId = idOf(name)!;
    if (!out.some((p) => p.propertyId === propertyId)) out.push({ propertyId, ...rest });
  }
  return out;
};
