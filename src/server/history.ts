/** Versions and the log of changes. */
import { changes } from '../core/api/changes';
import { history } from '../core/api/history';
import { planAt } from '../core/api/plan-at';
import { version } from '../core/api/version';
import { diffPlans } from '../core/plan/diff';
import { DEFAULT_SETTINGS } from '../core/plan/defaults';
import { emptyPlan } from '../core/plan/plan';
import { draftAt, listVersions, loadVersion, recentChanges } from '../db/plan-store';
import { problem } from './answer';
import { database } from './context';
import { currentDraft } from './draft';
import { newestVersion } from './published';
import { serve } from './serve';

const PAGE = 50;
const noVersion = (number: number): Response => problem(404, 'no such version', `Version ${number} does not exist.`);

export const HISTORY = [
  serve(history, async ({ query }) => {
    const changes = await recentChanges(database(), PAGE + 1, query.before);
    return { versions: await listVersions(database()), changes: changes.slice(0, PAGE), older: changes.length > PAGE };
  }),
  serve(version, async ({ query }) => (await loadVersion(database(), query.number)) ?? noVersion(query.number)),
  serve(planAt, async ({ query }) => {
    const at = new Date(query.at);
    if (Number.isNaN(at.getTime())) return problem(400, 'no date', '`at` is an instant such as 2026-03-01T09:30:00Z.');
    const inForce = (await listVersions(database())).find((v) => v.at <= at.getTime());
    return { plan: await draftAt(database(), at), version: inForce ?? null };
  }),
  serve(changes, async ({ query: { version: number } }) => {
    const older = number === undefined ? await newestVersion() : await loadVersion(database(), number - 1);
    const newer = number === undefined ? (await currentDraft()).plan : (await loadVersion(database(), number))?.plan;
    if (!newer) return noVersion(number!);
    // Before the first version there was nothing: all of it is new.
    return diffPlans(older?.plan ?? { ...emptyPlan(DEFAULT_SETTINGS), settings: newer.settings }, newer);
  }),
];
