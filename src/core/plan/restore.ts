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

export interface GoneWork {
  readonly by: readonly { readonly author: string; readonly changes: number }[];
  /** The log that was looked at does not reach back so far: there may be more, and by others. */
  readonly isCut: boolean;
}

/** Who worked on something that would go, since a moment (UTC epoch ms), and how many changes each made: on the entities that are named. `log`: the newest
 *  changes, newest first.
 */
export const workThatGoes = (
  log: readonly Pick<LoggedChange, 'seq' | 'at' | 'author' | 'edits'>[],
  since: number,
  gone: ReadonlySet<string>,
): GoneWork => {
  const counts = new Map<string, number>();
  for (const c of log)
    if (c.at > since && c.edits.some((e) => gone.has(changeKey(e)))) counts.set(c.author, (counts.get(c.author) ?? 0) + 1);
  const oldest = log.at(-1);
  return {
    by: [...counts]
      .map(([author, changes]) => ({ author, changes }))
      .sort((a, b) => b.changes - a.changes || (a.author < b.author ? -1 : 1)),
    isCut: gone.size > 0 && oldest !== undefined && oldest.at > since && oldest.seq > 1,
  };
};
