/** The draft, kept in this process and brought up to date from the log of changes before each use: any process may have written. */
import type { BodyOf, Id, Kind, Plan } from '../core/plan/plan';
import { draftSince, loadDraft, type Draft, type Revisions } from '../db/plan-store';
import { database } from './context';

let held: Draft | undefined;

const brought = (draft: Draft, since: NonNullable<Awaited<ReturnType<typeof draftSince>>>): Draft => {
  if (since.changed.length === 0) return { ...draft, lastChange: since.lastChange };
  const plan = { ...draft.plan } as unknown as Record<Kind, Record<Id, BodyOf[Kind]>>;
  const revisions = { ...draft.revisions } as Record<Kind, Record<Id, number>>;
  for (const kind of new Set(since.changed.map((c) => c.kind))) {
    plan[kind] = { ...plan[kind] };
    revisions[kind] = { ...revisions[kind] };
  }
  for (const { kind, id, rev, body } of since.changed) {
    const table = plan[kind];
    if (body === null) {
      // eslint-disable-next-line @typescript-eslint/no-dynamic-delete
      delete table[id];
      // eslint-disable-next-line @typescript-eslint/no-dynamic-delete
      delete revisions[kind][id];
    } else {
      table[id] = body;
      revisions[kind][id] = rev;
    }
  }
  return { plan: plan as unknown as Plan, revisions: revisions as Revisions, lastChange: since.lastChange };
};

/** The draft as it is committed now. Entities that did not change keep their identity from one call to the next. */
export const currentDraft = async (): Promise<Draft> => {
  const known = held;
  const since = known && (await draftSince(database(), known.lastChange));
  const next = known && since ? (since.lastChange === known.lastChange ? known : brought(known, since)) : await loadDraft(database());
  if (!held || next.lastChange >= held.lastChange) held = next;
  return next;
};
