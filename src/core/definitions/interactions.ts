/** Raw interactions by what they are of: an element's text, role and place. */
import { GrowingBits } from '../table/bitset';
import type { ScalarColumn } from '../table/message-table';
import type { Attributed } from '../table/following-persons';
import type { Condition, Group } from './definition';
import { pagePath } from './page-parts';
import type { Interaction } from './successors';

export const ELEMENT_TEXT = ['element', 'text'] as const;
export const ELEMENT_ROLE = ['element', 'role'] as const;
export const ELEMENT_PLACE = ['element', 'place'] as const;
export const ELEMENT_ID = ['element', 'id'] as const;
export const ELEMENT_LINK = ['element', 'link'] as const;
export const ELEMENT_FORM = ['element', 'form'] as const;

/** More distinct elements than these are not told apart: texts that are written by people, say. */
const MAX_ELEMENTS = 5000;

/** The interactions among rows, in the order of first sight. */
export const interactionsIn = (
  rows: ArrayLike<number>,
  { table, personOfMessage }: Pick<Attributed, 'table' | 'personOfMessage'>,
): Interaction[] => {
  interface Own {
    readonly text: string;
    readonly role: string;
    readonly place: string;
    firstAt: number;
    lastAt: number;
    readonly who: GrowingBits;
    /** Messages by page, one place further on, since some are on none. */
    readonly byPage: number[];
  }
  const columns = [ELEMENT_TEXT, ELEMENT_ROLE, ELEMENT_PLACE].map((ref) => table.properties.get(ref));
  const textOf = (column: ScalarColumn | undefined, i: number): string => {
    const v = column?.values.values[i];
    return typeof v === 'string' ? v : '';
  };
  /** By the places of text, role and place in their columns: what is no text is nothing, and comes together in the other. */
  const byPlaces = new Map<number, Own | undefined>();
  const byKey = new Map<string, Own>();
  const begun = (places: readonly number[], at: number): Own | undefined => {
    const [text, role, place] = places.map((p, i) => textOf(columns[i], p)) as [string, string, string];
    const key = JSON.stringify([text, role, place]);
    const known = byKey.get(key);
    if (known || byKey.size >= MAX_ELEMENTS) return known;
    const own: Own = { text, role, place, firstAt: at, lastAt: at, who: new GrowingBits(), byPage: [] };
    byKey.set(key, own);
    return own;
  };
  const sizes = columns.map((c) => (c?.values.values.length ?? 0) + 1) as [number, number, number];
  const [texts, roles, places] = columns.map((c) => c?.column);
  for (let i = 0; i < rows.length; i++) {
    const row = rows[i]!;
    const t = texts?.get(row) ?? -1;
    const r = roles?.get(row) ?? -1;
    const p = places?.get(row) ?? -1;
    const at = table.time.get(row);
    const place = ((t + 1) * sizes[1] + (r + 1)) * sizes[2] + (p + 1);
    let own = byPlaces.get(place);
    if (!own) {
      own = begun([t, r, p], at);
      if (!own) continue;
      byPlaces.set(place, own);
    }
    if (at < own.firstAt) own.firstAt = at;
    if (at > own.lastAt) own.lastAt = at;
    const page = table.page.get(row) + 1;
    own.byPage[page] = (own.byPage[page] ?? 0) + 1;
    const person = personOfMessage[row]!;
    if (person >= 0) own.who.add(person);
  }
  // What is under one heading is one page here: tools each have an address of their own.
  const headings = table.pages.values.map((page) => (pagePath(page) ?? '').split('/').slice(0, 2).join('/'));
  const pagesOf = ({ byPage }: Own): Map<string, number> => {
    const out = new Map<string, number>();
    byPage.forEach((n, page) => {
      const heading = headings[page - 1] ?? '';
      out.set(heading, (out.get(heading) ?? 0) + n);
    });
    return out;
  };
  return [...byKey.values()].map((own) => ({
    text: own.text,
    role: own.role,
    place: own.place,
    pages: pagesOf(own),
    people: own.who.size,
    firstAt: own.firstAt,
    lastAt: own.lastAt,
  }));
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
