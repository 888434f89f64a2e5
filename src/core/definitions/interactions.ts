/** Raw interactions by what they are of: an element's text, role and place. */
import type { MessageTable } from '../table/message-table';
import type { Attributed } from '../table/following-persons';
import type { Condition, Group } from './definition';
import { pagePath } from './page-parts';
import type { Interaction } from './successors';

export const ELEMENT_TEXT = ['element', 'text'] as const;
export const ELEMENT_ROLE = ['element', 'role'] as const;
export const ELEMENT_PLACE = ['element', 'place'] as const;

/** More distinct elements than these are not told apart: texts that are written by people, say. */
const MAX_ELEMENTS = 5000;

const textAt = (table: MessageTable, row: number, ref: readonly string[]): string => {
  const v = table.valueOf(row, ref);
  return typeof v === 'string' ? v : '';
};

/** The interactions among rows, in the order of first sight. */
export const interactionsIn = (
  rows: Int32Array,
  { table, personOfMessage }: Pick<Attributed, 'table' | 'personOfMessage'>,
): Interaction[] => {
  const byKey = new Map<string, Interaction & { pages: Map<string, number>; firstAt: number; lastAt: number; who: Set<number> }>();
  for (const row of rows) {
    const [text, role, place] = [textAt(table, row, ELEMENT_TEXT), textAt(table, row, ELEMENT_ROLE), textAt(table, row, ELEMENT_PLACE)];
    const key = JSON.stringify([text, role, place]);
    const at = table.time.get(row);
    let own = byKey.get(key);
    if (!own) {
      if (byKey.size >= MAX_ELEMENTS) continue;
      byKey.set(key, (own = { text, role, place, pages: new Map(), people: 0, firstAt: at, lastAt: at, who: new Set() }));
    }
    own.firstAt = Math.min(own.firstAt, at);
    own.lastAt = Math.max(own.lastAt, at);
    const page = table.page.get(row);
    const path = page < 0 ? '' : (pagePath(table.pages.values[page]!) ?? '');
    // What is under one heading is one page here: tools each have an address of their own.
    const heading = path.split('/').slice(0, 2).join('/');
    own.pages.set(heading, (own.pages.get(heading) ?? 0) + 1);
    if (personOfMessage[row]! >= 0) own.who.add(personOfMessage[row]!);
  }
  return [...byKey.values()].map(({ who, ...i }) => ({ ...i, people: who.size }));
};

const isAbout = (c: Condition, ref: readonly string[]): boolean =>
  c.subject.of === 'property' &&
  typeof c.subject.name !== 'string' &&
  c.subject.name.length === ref.length &&
  ref.every((s, i) => s === (c.subject as { name: readonly string[] }).name[i]);

/** Conditions that take another interaction as well: the element that is there now, beside the one that was. What they say of pages and all else
 *  stays.
 *  Shape: `undefined` where nothing in them speaks of an element's text or place.
 */
export const orAlso = (where: Group, next: { readonly text: string; readonly place: string }): Group | undefined => {
  let changed = false;
  const widened = (c: Condition): Condition => {
    const value = isAbout(c, ELEMENT_TEXT) ? next.text : isAbout(c, ELEMENT_PLACE) ? next.place : undefined;
    if (value === undefined || value === '' || (c.op !== 'is' && c.op !== 'is one of') || c.values.includes(value)) return c;
    changed = true;
    return { ...c, op: 'is one of', values: [...c.values, value] };
  };
  const widenedWhere: Group = {
    ...where,
    conditions: where.conditions.map(widened),
    groups: where.groups.map((g) => ({ ...g, conditions: g.conditions.map(widened) })),
  };
  return changed ? widenedWhere : undefined;
};
