/** The workplace: the draft plan, what is published, and the edits of both draft and proposals. */
import { z } from 'zod';
import { parseEdit } from '../core/plan/document-schema';
import { diffPlans } from '../core/plan/diff';
import type { Edit } from '../core/plan/edit';
import { KINDS } from '../core/plan/plan';
import { applyChange, draftSince, publish, type ChangedEntity, type Draft, type Version } from '../db/plan-store';
import { failing, tryCases } from '../core/identity/own-cases';
import { SETTINGS_ID } from '../core/plan/plan';
import { answering, json, problem, readJson } from './answer';
import { author } from './author-shape';
import { database } from './context';
import { currentDraft } from './draft';
import { extend } from './proposals';
import { newestVersion } from './published';
import { recheckUnderWay } from './recheck';

interface Standing {
  readonly lastChange: number;
  readonly published: Version | null;
  /** Entities that differ between draft and published version. */
  readonly unpublished: number;
  readonly recheck: { readonly done: number; readonly of: number } | null;
}
export type Workplace = Standing & Pick<Draft, 'plan' | 'revisions'>;
export type WorkplaceChanges = Standing & { readonly changed: readonly ChangedEntity[] };

const standing = async (draft: Draft): Promise<Standing> => {
  const version = await newestVersion();
  const { plan: document, ...published } = version ?? { plan: undefined };
  return {
    lastChange: draft.lastChange,
    published: document ? (published as Version) : null,
    unpublished: document
      ? diffPlans(document, draft.plan).length
      : Object.values(draft.plan).reduce((n, t) => n + Object.keys(t).length, 0),
    recheck: (await recheckUnderWay()) ?? null,
  };
};

/** `GET /api/workplace`: the whole draft; with `after`, only what changed since that change. */
export const workplace = (after?: number): Promise<Response> =>
  answering(async () => {
    const since = after === undefined ? undefined : await draftSince(database(), after);
    const draft = await currentDraft();
    const rest = await standing(draft);
    if (since) return json({ ...rest, lastChange: since.lastChange, changed: since.changed } satisfies WorkplaceChanges);
    return json({ plan: draft.plan, revisions: draft.revisions, ...rest } satisfies Workplace);
  });

const changeShape = z.object({
  edits: z.array(z.unknown()).min(1).max(60_000),
  revisions: z.partialRecord(z.enum(KINDS), z.record(z.string(), z.number())).default({}),
  label: z.string().max(200).default(''),
  author,
  /** The proposal that is worked on; the draft when left out. */
  proposal: z.string().max(100).optional(),
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
    const { revisions, label, author: by, proposal } = body.value;
    if (proposal !== undefined) return extend(proposal, edits, label, by);
    const outcome = await applyChange(database(), edits, revisions, label, by);
    return outcome.ok ? json(outcome) : json({ error: 'conflict', problem: outcome.problem }, 409);
  });

/** `POST /api/publish`: the workspace's own bench cases are tried first. 409 with those that do not hold, unless `despiteCases` says that
 *  they were seen.
 */
export const publishDraft = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(
      request,
      z.object({
        note: z.string().trim().min(1, { error: 'Say in a few words what changed.' }).max(2000),
        despiteCases: z.boolean().default(false),
        author,
      }),
    );
    if (!body.ok) return body.response;
    const settings = (await currentDraft()).plan.settings[SETTINGS_ID];
    const broken = settings ? failing(tryCases(settings.identityCases, settings.identity)) : [];
    if (broken.length > 0 && !body.value.despiteCases)
      return problem(
        409,
        'bench cases do not hold',
        broken.map((c) => `“${c.title}” comes to ${c.found} persons, not ${c.expected}.`).join(' '),
      );
    const version = await publish(database(), body.value.note, body.value.author);
    if (!version.changed) return problem(409, 'nothing to publish', `The draft says the same as version ${version.number}.`);
    return json(version);
  });
