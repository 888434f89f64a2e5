/** Proposals: begun on a version, worked on, reviewed, and accepted or declined. */
import { randomUUID } from 'node:crypto';
import { beginProposal } from '../core/api/begin-proposal';
import { decideProposal } from '../core/api/decide-proposal';
import { proposal } from '../core/api/proposal';
import { proposals } from '../core/api/proposals';
import { DEFAULT_SETTINGS } from '../core/plan/defaults';
import { applyEdits, type Edit } from '../core/plan/edit';
import { mergeProposal, proposedPlan, type Choice } from '../core/plan/merge';
import { emptyPlan, type Plan } from '../core/plan/plan';
import type { Proposal } from '../core/plan/review';
import { loadVersion, newestNumber } from '../db/plan-store';
import {
  createProposal,
  decideProposal as decide,
  extendProposal,
  findProposal,
  keptRuns,
  listProposals,
  proposalEdits,
} from '../db/proposal-store';
import { json, problem } from './answer';
import { serve } from './serve';
import { database } from './context';
import { currentDraft } from './draft';

const baseOf = async (p: Pick<Proposal, 'baseVersion'>): Promise<Plan> =>
  (p.baseVersion === 0 ? undefined : (await loadVersion(database(), p.baseVersion))?.plan) ?? emptyPlan(DEFAULT_SETTINGS);

const gone = (): Response => problem(404, 'no such proposal', 'There is no proposal of this id.');

const serveProposals = serve(proposals, () => listProposals(database()));

const serveBegin = serve(beginProposal, async ({ body }) => {
  const id = randomUUID();
  await createProposal(database(), { id, ...body, baseVersion: await newestNumber(database()) });
  return { id };
});

/** A plan with what a proposal changes, and nothing else; what both changed in two ways stays as the plan has it. `undefined` where there is no such
 *  proposal.
 */
export const planWithProposal = async (id: string, plan: Plan): Promise<Plan | undefined> => {
  const found = await findProposal(database(), id);
  if (!found) return undefined;
  const base = await baseOf(found);
  const { edits } = mergeProposal(base, proposedPlan(base, (await proposalEdits(database(), id)).edits), plan);
  const r = applyEdits(plan, edits);
  return r.ok ? r.plan : undefined;
};

const serveProposal = serve(proposal, async ({ query: { id } }) => {
  const found = await findProposal(database(), id);
  if (!found) return gone();
  const base = await baseOf(found);
  const { edits, lastChange } = await proposalEdits(database(), id);
  const plan = proposedPlan(base, edits);
  const merge = mergeProposal(base, plan, (await currentDraft()).plan);
  return {
    proposal: found,
    base,
    plan,
    lastChange,
    conflicts: merge.conflicts,
    edits: merge.edits.length,
    runs: await keptRuns(database(), id, lastChange),
  };
});

/** Adds edits to a proposal; 409 with both values when they do not fit. */
export const extend = async (
  id: string,
  edits: readonly Edit[],
  label: string,
  by: string,
): Promise<{ ok: true; change: number; revisions: Record<never, never> } | Response> => {
  const found = await findProposal(database(), id);
  if (!found) return gone();
  const base = await baseOf(found);
  const outcome = await extendProposal(database(), id, edits, label, by, (before) => {
    const r = applyEdits(proposedPlan(base, before), edits);
    return r.ok ? undefined : r.problem;
  });
  if (outcome === 'closed') return problem(410, 'proposal closed', `“${found.name}” is ${found.status}; go back to the draft to edit on.`);
  if ('problem' in outcome) return json({ error: 'conflict', problem: outcome.problem }, 409);
  return { ok: true, change: outcome.change, revisions: {} };
};

/** Accepting applies the proposal to the draft; 409 with the conflicts that nobody decided yet. */
const serveDecision = serve(decideProposal, async ({ body }) => {
  const { id, decision, note, author: by, choices } = body;
  const found = await findProposal(database(), id);
  if (!found) return gone();
  if (found.status !== 'open')
    return problem(409, 'already decided', `“${found.name}” was ${found.status} by ${found.decidedBy ?? 'somebody'}.`);
  const base = await baseOf(found);
  let conflicts: ReturnType<typeof mergeProposal>['conflicts'] = [];
  const outcome = await decide(database(), id, decision, by, note, async (edits) => {
    const draft = await currentDraft();
    const merge = mergeProposal(base, proposedPlan(base, edits), draft.plan, new Map<string, Choice>(Object.entries(choices)));
    ({ conflicts } = merge);
    return conflicts.length > 0 ? 'conflicts' : { edits: merge.edits, label: `Accepted: ${found.name}` };
  });
  switch (outcome) {
    case 'decided':
      return { ok: true as const };
    case 'conflicts':
      return json({ error: 'conflicts', detail: 'Both sides changed some fields; choose for each.', conflicts }, 409);
    case 'draft moved':
      return problem(409, 'the draft moved', 'The draft was changed just now; look at the conflicts again.');
    default:
      return problem(409, 'already decided', 'Somebody decided it just now.');
  }
});

export const PROPOSALS = [serveProposals, serveBegin, serveProposal, serveDecision];
