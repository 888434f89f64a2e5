/** The letter by which a source is told from others wherever there is no room for its name. */
import { entries, type Id, type Plan } from './plan';

/** What a new source is called until somebody names it. */
export const NEW_SOURCE = 'New source';

const ALL = Array.from('ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789');

/** A mark that no other source has: the first letter of the name, else another one of it, else any; `?` where all are taken. */
export const freeMark = (plan: Plan, name: string, id?: Id): string => {
  const taken = new Set(entries(plan, 'source').flatMap(([i, s]) => (i === id ? [] : [s.mark.toUpperCase()])));
  const own = Array.from(name.toUpperCase()).filter((c) => /[\p{L}\p{N}]/u.test(c));
  return [...own, ...ALL].find((c) => Array.from(c).length === 1 && !taken.has(c)) ?? '?';
};
