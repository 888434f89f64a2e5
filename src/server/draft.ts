/** The draft, kept in this process and kept up to date from the log of changes before each use: any process may have written. */
import { withChanged, type Draft } from '../core/plan/draft';
import { draftSince, loadDraft } from '../db/plan-store';
import { database } from './context';

let held: Draft | undefined;

/** The draft as it is committed now. Entities that did not change keep their identity from one call to the next. */
export const currentDraft = async (): Promise<Draft> => {
  const known = held;
  const since = known && (await draftSince(database(), known.lastChange));
  const next =
    known && since
      ? since.lastChange === known.lastChange
        ? known
        : { ...withChanged(known, since.changed), lastChange: since.lastChange }
      : await loadDraft(database());
  if (!held || next.lastChange >= held.lastChange) held = next;
  return next;
};
