/** Versions and the log of changes. */
import { diffPlans } from '../core/plan/diff';
import type { LoggedChange } from '../core/plan/review';
import { draftAt, listVersions, loadVersion, recentChanges, type PublishedPlan, type Version } from '../db/plan-store';
import { answering, json, problem } from './answer';
import { database } from './context';
import { currentDraft } from './draft';
import { newestVersion } from './published';

export interface History {
  readonly versions: readonly Version[];
  readonly changes: readonly LoggedChange[];
}

const PAGE = 50;

/** `GET /api/history`: versions and the last changes; with `before`, the changes before that one. */
export const history = (before: number | undefined): Promise<Response> =>
  answering(async () =>
    json({ versions: await listVersions(database()), changes: await recentChanges(database(), PAGE, before) } satisfies History),
  );

/** `GET /api/version?number=`: a version with its document. */
export const version = (number: number): Promise<Response> =>
  answering(async () => {
    const found = await loadVersion(database(), number);
    return found ? json(found satisfies PublishedPlan) : problem(404, 'no such version', `Version ${number} does not exist.`);
  });

/** `GET /api/plan-at?at=`: the draft as it was at an instant, and the version that was in force. */
export const planAt = (text: string | null): Promise<Response> =>
  answering(async () => {
    const at = new Date(text ?? '');
    if (Number.isNaN(at.getTime())) return problem(400, 'no date', '`at` is an instant such as 2026-03-01T09:30:00Z.');
    const inForce = (await listVersions(database())).find((v) => v.at <= at.getTime());
    return json({ plan: await draftAt(database(), at), version: inForce ?? null });
  });

/** The changes of the draft against the newest version, or of a version against the one before it. */
export const changesOf = (number: number | undefined): Promise<Response> =>
  answering(async () => {
    const older = number === undefined ? await newestVersion() : await loadVersion(database(), number - 1);
    const newer = number === undefined ? (await currentDraft()).plan : (await loadVersion(database(), number))?.plan;
    if (!newer) return problem(404, 'no such version', `Version ${number} does not exist.`);
    return json(older ? diffPlans(older.plan, newer) : []);
  });
