/** The workplace: the draft plan, what is published, and the edits of both draft and proposals. */
import { edits } from '../core/api/edits';
import { publish } from '../core/api/publish';
import { workplace } from '../core/api/workplace';
import { parseEdit } from '../core/plan/document-schema';
import { diffPlans } from '../core/plan/diff';
import type { Edit } from '../core/plan/edit';
import { applyChange, draftSince, publish as publishDraft } from '../db/plan-store';
import type { Draft } from '../core/plan/draft';
import type { Version } from '../core/plan/version';
import { keysInUse } from '../db/key-store';
import { failing, tryCases } from '../core/identity/own-cases';
import { SETTINGS_ID } from '../core/plan/plan';
import { json, problem } from './answer';
import { serve } from './serve';
import { database } from './context';
import { currentDraft } from './draft';
import { extend, refused } from './proposals';
import { newestVersion } from './published';
import { recheckUnderWay } from './recheck';

const standing = async (draft: Draft) => {
  const version = await newestVersion();
  const { plan: document, ...published } = version ?? { plan: undefined };
  return {
    lastChange: draft.lastChange,
    published: document ? (published as Version) : null,
    unpublished: document
      ? diffPlans(document, draft.plan).length
      : Object.values(draft.plan).reduce((n, t) => n + Object.keys(t).length, 0),
    keys: await keysInUse(database()),
    recheck: (await recheckUnderWay()) ?? null,
  };
};

/** The whole draft; with `after`, only what changed since that change. */
const serveWorkplace = serve(workplace, async ({ query }) => {
  const since = query.after === undefined ? undefined : await draftSince(database(), query.after);
  const draft = await currentDraft();
  const rest = await standing(draft);
  if (since) return { ...rest, lastChange: since.lastChange, changed: since.changed };
  return { plan: draft.plan, revisions: draft.revisions, ...rest };
});

const serveEdits = serve(edits, async ({ body }) => {
  const parsedEdits: Edit[] = [];
  for (const [i, raw] of body.edits.entries()) {
    const parsed = parseEdit(raw);
    if (!parsed.ok) return problem(400, 'edit rejected', `${body.edits.length > 1 ? `Edit ${i + 1}: ` : ''}${parsed.detail}`);
    parsedEdits.push(parsed.value);
  }
  const { revisions, label, author, proposal } = body;
  if (proposal !== undefined) return extend(proposal, parsedEdits, label, author);
  const outcome = await applyChange(database(), parsedEdits, revisions, label, author);
  if (outcome.ok) return outcome;
  return outcome.problem ? json({ error: 'conflict', problem: outcome.problem }, 409) : refused(outcome.refusal);
});

/** The workspace's own bench cases are tried first; 409 with those that fail, unless `despiteCases` says that they were seen. */
const servePublish = serve(publish, async ({ body }) => {
  const settings = (await currentDraft()).plan.settings[SETTINGS_ID];
  const broken = settings ? failing(tryCases(settings.identityCases, settings.identity)) : [];
  if (broken.length > 0 && !body.despiteCases)
    return problem(
      409,
      'bench cases do not hold',
      broken.map((c) => `“${c.title}” comes to ${c.found} persons, not ${c.expected}.`).join(' '),
    );
  const version = await publishDraft(database(), body.note, body.author);
  if (!version.changed) return problem(409, 'nothing to publish', `The draft says the same as version ${version.number}.`);
  return { changed: true as const, number: version.number };
});

export const WORKPLACE = [serveWorkplace, serveEdits, servePublish];
