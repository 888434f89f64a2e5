/** Clearance of every question, with its figure. */
import { reconciliation } from '../core/arrival/reconciliation';
import { reconcile } from '../core/arrival/many/premature-trigger';
import { clearance } from '../core/api/clearance';
import { clearanceOf } from '../core/clearance/clearance';
import type { CountingBasis } from '../core/identity/counting-basis';
import { entries, type Plan, type Question } from '../core/plan/plan';
import { coverageOf } from '../core/questions/coverage';
import { rememberedFigure } from '../core/questions/remembered-figure';
import type { Figure, FigureContext } from '../core/questions/figure';
import { notKept } from '../core/questions/not-kept';
import { typedFormula } from '../core/questions/typed-conditions';
import { currentDraft } from '../server/draft';
import { recheckUnderWay } from '../server/recheck';
import { serve } from '../server/serve';
import { currentFindings } from './findings';
import { figureContextOf } from './figure-context';
import { inForceScope, currentWatch } from './scope';

const figureFor = (plan: Plan, question: Question, context: FigureContext): Figure | undefined =>
  !question.formula || coverageOf(plan, question).state === 'undefined' || notKept(context.people.table, question).length > 0
    ? undefined
    : rememberedFigure(typedFormula(plan, question.formula).formula, context);

/** Gates and figures of all questions of the draft. Both are under the version in force: its names, its identity rules.
 *  Before anything is published figures are under the draft.
 */
export const CLEARANCE = [
  serve(clearance, async ({ url }) => {
    const now = Date.now();
    const { plan: draft } = await currentDraft();
    const recheck = await recheckUnderWay();
    const scope = await inForceScope(url);
    const { version, plan } = scope;
    const watch = await currentWatch(version);
    const published = version && { plan: version.plan, number: version.number, publishedAt: version.at, watch };
    const context = figureContextOf(scope, now);
    const { table } = context.people;
    const reconciled = version ? reconcile(version.plan, scope.table, now) : [];
    const confirmed = version ? reconciliation(version.plan, scope.table, now) : [];
    const groups = version ? (await currentFindings(url)).triaged : [];
    const figures = (basis: CountingBasis): FigureContext => (basis === 'fully linked' ? context : figureContextOf(scope, now, basis));
    return entries(draft, 'question').map(([questionId, question]) => ({
      questionId,
      ...clearanceOf(question, { published, table, reconciled, confirmed, groups, figures, recheck, now }),
      figure: figureFor(plan, question, context),
    }));
  }),
];
