/** The workplace: the draft plan, what is published, and who is looking. */
import { z } from 'zod';
import { parseEdit } from '../core/plan/document-schema';
import { diffPlans } from '../core/plan/diff';
import type { Edit } from '../core/plan/edit';
import { KINDS } from '../core/plan/plan';
import {
  applyChange,
  listVersions,
  loadDraft,
  loadVersion,
  publish,
  recentChanges,
  type Draft,
  type LoggedChange,
  type Version,
} from '../db/plan-store';
import { openRechecks } from '../db/recheck-store';
import { answering, json, problem, readJson } from './answer';
import { database } from './context';
import { storeCurrentIdentity } from './identity';
import { newestVersion } from './published';
import { recheckAll } from './recheck';

/** Until there are accounts, everybody edits under this name. */
const AUTHOR = 'you';

export interface Workplace extends Draft {
  readonly published: Version | null;
  /** Entities that differ between draft and published version. */
  readonly unpublished: number;
  readonly recheck: { readonly done: number; readonly of: number } | null;
}

export const workplace = (): Promise<Response> =>
  answering(async () => {
    const draft = await loadDraft(database());
    const version = await newestVersion();
    const open = await openRechecks(database());
    if (open.length > 0) void recheckAll().catch(() => undefined);
    const newest = open.at(-1);
    const { plan: document, ...published } = version ?? { plan: undefined };
    return json({
      ...draft,
      published: document ? (published as Version) : null,
      unpublished: document
        ? diffPlans(document, draft.plan).length
        : Object.values(draft.plan).reduce((n, t) => n + Object.keys(t).length, 0),
      recheck: newest ? { done: newest.done, of: newest.upTo } : null,
    } satisfies Workplace);
  });

const changeShape = z.object({
  edits: z.array(z.unknown()).min(1).max(20_000),
  revisions: z.partialRecord(z.enum(KINDS), z.record(z.string(), z.number())).default({}),
  label: z.string().max(200).default(''),
});

/** `POST /api/edits`: all or none. 400 for an edit of wrong shape, 409 with both values for one that is stale. */
export const edit = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, changeShape);
    if (!body.ok) return body.response;
    const edits: Edit[] = [];
    for (const [i, raw] of body.value.edits.entries()) {
      const parsed = parseEdit(raw);
      if (!parsed.ok) return problem(400, 'edit refused', `${body.value.edits.length > 1 ? `Edit ${i + 1}: ` : ''}${parsed.detail}`);
      edits.push(parsed.value);
    }
    const outcome = await applyChange(database(), edits, body.value.revisions, body.value.label, AUTHOR);
    return outcome.ok ? json(outcome) : json({ error: 'conflict', problem: outcome.problem }, 409);
  });

/** `POST /api/publish`. */
export const publishDraft = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(
      request,
      z.object({ note: z.string().trim().min(1, { error: 'Say in a few words what changed.' }).max(2000) }),
    );
    if (!body.ok) return body.response;
    const version = await publish(database(), body.value.note, AUTHOR);
    if (!version.changed) return problem(409, 'nothing to publish', `The draft says the same as version ${version.number}.`);
    void recheckAll()
      .then(storeCurrentIdentity)
      .catch((e: unknown) => console.error(e));
    return json(version);
  });

export interface History {
  readonly versions: readonly Version[];
  readonly changes: readonly LoggedChange[];
}

export const history = (): Promise<Response> =>
  answering(async () => json({ versions: await listVersions(database()), changes: await recentChanges(database(), 50) } satisfies History));

/** The changes of the draft against the newest version, or of a version against the one before it. */
export const changesOf = (number: number | undefined): Promise<Response> =>
  answering(async () => {
    const older = number === undefined ? await newestVersion() : await loadVersion(database(), number - 1);
    const newer = number === undefined ? (await loadDraft(database())).plan : (await loadVersion(database(), number))?.plan;
    if (!newer) return problem(404, 'no such version', `Version ${number} does not exist.`);
    return json(older ? diffPlans(older.plan, newer) : []);
  });
