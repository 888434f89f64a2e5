/** Proposals: begun on a version, worked on, reviewed, and accepted or declined. */
import { randomUUID } from 'node:crypto';
import { beginProposal } from '../core/api/begin-proposal';
import { decideProposal } from '../core/api/decide-proposal';
import { proposal } from '../core/api/proposal';
import { proposals } from '../core/api/proposals';
import { DEFAULT_SETTINGS } from '../core/plan/defaults';
import { applyEdits, type Edit, type EditProblem } from '../core/plan/edit';
import { refusedBy, type Refusal } from '../core/plan/kept-rules';
import { mergeProposal, proposedPlan, type Choice } from '../core/plan/merge';
import { emptyPlan, type Plan } from '../core/plan/plan';
import type { Proposal } from '../core/plan/review';
import { loadVersion, newestNumber, Refused } from '../db/plan-store';
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

/** A change that would make of the plan what it must not be. */
export const refused = (refusal: Refusal): Response => problem(422, 'refused', refusal.says);

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
  const outcome = await extendProposal<{ readonly problem: EditProblem } | { readonly problem?: undefined; readonly refusal: Refusal }>(
    database(),
    id,
    edits,
    label,
    by,
    (before) => {
      const plan = proposedPlan(base, before);
      const r = applyEdits(plan, edits);
      if (!r.ok) return { problem: r.problem };
      const refusal = refusedBy(plan, r.plan, edits);
      return refusal && { refusal };
    },
  );
  if (outcome === 'closed') return problem(410, 'proposal closed', `“${found.name}” is ${found.status}; go back to the draft to edit on.`);
  if ('problem' in outcome)
    return outcome.problem.problem ? json({ error: 'conflict', problem: outcome.problem.problem }, 409) : refused(outcome.problem.refusal);
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
  let refusal: string | undefined;
  const outcome = await decide(database(), id, decision, by, note, async (edits) => {
    const draft = await currentDraft();
    const merge = mergeProposal(base, proposedPlan(base, edits), draft.plan, new Map<string, Choice>(Object.entries(choices)));
    ({ conflicts } = merge);
    return conflicts.length > 0 ? 'conflicts' : { edits: merge.edits, label: `Accepted: ${found.name}` };
  }).catch((e: unknown) => {
    if (!(e instanceof Refused)) throw e;
    refusal = e.message;
    return 'refused' as const;
  });
  switch (outcome) {
    case 'decided':
      return { ok: true as const };
    case 'conflicts':
      return json({ error: 'conflicts', detail: 'Both sides changed some fields; choose for each.', conflicts }, 409);
    case 'refused':
      return problem(
        422,
        'refused',
        `${refusal} The draft has moved on since the proposal was begun; change the one or the other, and accept it then.`,
      );
    case 'draft moved':
      return problem(409, 'the draft moved', 'The draft was changed just now; look at the conflicts again.');
    default:
      return problem(409, 'already decided', 'Somebody decided it just now.');
  }
});

export const PROPOSALS = [serveProposals, serveBegin, serveProposal, serveDecision];
