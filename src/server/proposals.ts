/** Proposals: begun on a version, worked on, reviewed, and brought into the draft or declined. */
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { DEFAULT_SETTINGS } from '../core/plan/defaults';
import { applyEdits, type Edit } from '../core/plan/edit';
import { mergeProposal, proposedPlan, type Choice } from '../core/plan/merge';
import { emptyPlan, type Plan } from '../core/plan/plan';
import type { Proposal } from '../core/plan/review';
import { loadVersion, newestNumber } from '../db/plan-store';
import { createProposal, decideProposal, extendProposal, findProposal, listProposals, proposalEdits } from '../db/proposal-store';
import { answering, json, problem, readJson } from './answer';
import { author } from './author-shape';
import { database } from './context';
import { currentDraft } from './draft';

const baseOf = async (p: Pick<Proposal, 'baseVersion'>): Promise<Plan> =>
  (p.baseVersion === 0 ? undefined : (await loadVersion(database(), p.baseVersion))?.plan) ?? emptyPlan(DEFAULT_SETTINGS);

const gone = (): Response => problem(404, 'no such proposal', 'There is no proposal of this id.');

/** `GET /api/proposals`. */
export const proposals = (): Promise<Response> => answering(async () => json(await listProposals(database())));

/** `POST /api/proposals`: begins one on the newest version. */
export const begin = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(
      request,
      z.object({
        name: z.string().trim().min(1, { error: 'Give the proposal a name.' }).max(200),
        note: z.string().max(5000).default(''),
        author,
      }),
    );
    if (!body.ok) return body.response;
    const id = randomUUID();
    await createProposal(database(), { id, ...body.value, baseVersion: await newestNumber(database()) });
    return json({ id }, 201);
  });

/** `GET /api/proposal?id=`: the proposal with its base, its plan, and what stands against it in the draft. */
export const proposal = (id: string): Promise<Response> =>
  answering(async () => {
    const found = await findProposal(database(), id);
    if (!found) return gone();
    const base = await baseOf(found);
    const { edits, lastChange } = await proposalEdits(database(), id);
    const plan = proposedPlan(base, edits);
    const merge = mergeProposal(base, plan, (await currentDraft()).plan);
    return json({ proposal: found, base, plan, lastChange, conflicts: merge.conflicts, edits: merge.edits.length });
  });

/** Adds edits to a proposal; 409 with both values when they do not fit. */
export const extend = async (id: string, edits: readonly Edit[], label: string, by: string): Promise<Response> => {
  const found = await findProposal(database(), id);
  if (!found) return gone();
  const base = await baseOf(found);
  const outcome = await extendProposal(database(), id, edits, label, by, (before) => {
    const r = applyEdits(proposedPlan(base, before), edits);
    return r.ok ? undefined : r.problem;
  });
  if (outcome === 'closed') return problem(410, 'proposal closed', `“${found.name}” is ${found.status}; go back to the draft to edit on.`);
  if ('problem' in outcome) return json({ error: 'conflict', problem: outcome.problem }, 409);
  return json({ ok: true, change: outcome.change, revisions: {} });
};

const decisionShape = z.object({
  id: z.string().max(100),
  decision: z.enum(['accepted', 'declined']),
  note: z.string().max(5000).default(''),
  author,
  /** For each conflict, by its key, which side stands. */
  choices: z.record(z.string(), z.enum(['proposed', 'draft'])).default({}),
});

/** `POST /api/proposal`: accepts or declines. Accepting brings it into the draft; 409 with the conflicts that nobody decided yet. */
export const decide = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, decisionShape);
    if (!body.ok) return body.response;
    const { id, decision, note, author: by, choices } = body.value;
    const found = await findProposal(database(), id);
    if (!found) return gone();
    if (found.status !== 'open')
      return problem(409, 'already decided', `“${found.name}” was ${found.status} by ${found.decidedBy ?? 'somebody'}.`);
    const base = await baseOf(found);
    let conflicts: ReturnType<typeof mergeProposal>['conflicts'] = [];
    const outcome = await decideProposal(database(), id, decision, by, note, async (edits) => {
      const draft = await currentDraft();
      const merge = mergeProposal(base, proposedPlan(base, edits), draft.plan, new Map<string, Choice>(Object.entries(choices)));
      ({ conflicts } = merge);
      return conflicts.length > 0 ? 'conflicts' : { edits: merge.edits, label: `Accepted: ${found.name}` };
    });
    switch (outcome) {
      case 'decided':
        return json({ ok: true });
      case 'conflicts':
        return json({ error: 'conflicts', detail: 'Both sides changed some fields; choose for each.', conflicts }, 409);
      case 'draft moved':
        return problem(409, 'the draft moved', 'The draft was changed just now; look at the conflicts again.');
      default:
        return problem(409, 'already decided', 'Somebody decided it just now.');
    }
  });
