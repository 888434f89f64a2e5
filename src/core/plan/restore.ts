/** Bringing an earlier state of the plan back: what changes by it, of that what is wanted, and whose work would go. */
import { diffPlans, editsBetween, type Change } from './diff';
import type { Edit } from './edit';
import type { Plan } from './plan';
import type { LoggedChange } from './review';

/** What tells a change of one entity from those of others. */
export const changeKey = (c: Pick<Change, 'kind' | 'id'>): string => `${c.kind} ${c.id}`;

/** What would change if an earlier state came back, entity by entity. */
export const broughtBack = (now: Plan, earlier: Plan): Change[] => diffPlans(now, earlier);

/** The edits that bring an earlier state back, of the entities that are wanted; of all where nothing is said. */
export const restoring = (now: Plan, earlier: Plan, wanted?: ReadonlySet<string>): Edit[] =>
  editsBetween(now, earlier).filter((e) => wanted?.has(changeKey(e)) ?? true);

/** Who worked on something that would go, since a moment (UTC epoch ms), and how many changes each made: on the entities that are named. */
export const workThatGoes = (
  log: readonly Pick<LoggedChange, 'at' | 'author' | 'edits'>[],
  since: number,
  gone: ReadonlySet<string>,
): { readonly author: string; readonly changes: number }[] => {
  const by = new Map<string, number>();
  for (const c of log) if (c.at > since && c.edits.some((e) => gone.has(changeKey(e)))) by.set(c.author, (by.get(c.author) ?? 0) + 1);
  return [...by].map(([author, changes]) => ({ author, changes })).sort((a, b) => b.changes - a.changes || (a.author < b.author ? -1 : 1));
};
