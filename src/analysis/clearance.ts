/** Clearance of every question, with its figure. */
import { z } from 'zod';
import { reconcile } from '../core/arrival/batch/unconfirmed-attempts';
import { clearanceOf } from '../core/clearance/clearance';
import type { QuestionClearance } from '../core/clearance/question-clearance';
import { parseBody } from '../core/plan/document-schema';
import { blank } from '../core/plan/defaults';
import { entries, settingsOf, type Plan, type Question } from '../core/plan/plan';
import { coverageOf } from '../core/questions/coverage';
import { COUNTING_BASES, personsByBasis, type CountingBasis } from '../core/identity/counting-basis';
import { figureSteps } from '../core/questions/compute-figure';
import { rememberedFigure } from '../core/questions/remembered-figure';
import type { Figure, FigureContext } from '../core/questions/figure';
import { notKept, notKeptText } from '../core/questions/not-kept';
import { typedFormula } from '../core/questions/typed-conditions';
import { currentDraft } from '../server/draft';
import { answering, json, problem, readJson, steps } from '../server/answer';
import { recheckUnderWay } from '../server/recheck';
import { inForceScope, currentWatch, draftScope, type Scope } from './scope';
import { PathMap, refOfProperty } from '../core/plan/property-path';

const bucketsIn = (plan: Plan): PathMap<readonly number[]> =>
  new PathMap(entries(plan, 'userProperty').flatMap(([, u]) => (u.buckets.length > 0 ? [[refOfProperty(u), u.buckets] as const] : [])));

const contextFor = ({ plan, persons: linked }: Scope, now: number, basis: CountingBasis = 'fully linked'): FigureContext => ({
  people: personsByBasis(linked)[basis],
  settings: settingsOf(plan),
  now,
  buckets: bucketsIn(plan),
});

const figureFor = (plan: Plan, question: Question, context: FigureContext): Figure | undefined =>
  !question.formula || coverageOf(plan, question).state === 'undefined' || notKept(context.people.table, question).length > 0
    ? undefined
    : rememberedFigure(typedFormula(plan, question.formula).formula, context);

/** `GET /api/clearance`: gates and figures of all questions of the draft. Both are under the version in force: its names, its identity rules.
 *  Before anything is published figures are under the draft.
 */
export const clearances = (url: URL): Promise<Response> =>
  answering(async () => {
    const now = Date.now();
    const { plan: draft } = await currentDraft();
    const recheck = await recheckUnderWay();
    const scope = await inForceScope(url);
    const { version, table, plan } = scope;
    const watch = await currentWatch(version);
    const published = version && { plan: version.plan, number: version.number, publishedAt: version.at, watch };
    const context = contextFor(scope, now);
    const reconciled = version ? reconcile(version.plan, table, now) : [];
    const answer: QuestionClearance[] = entries(draft, 'question').map(([questionId, question]) => ({
      questionId,
      ...clearanceOf(question, { published, table, reconciled, recheck, now }),
      figure: figureFor(plan, question, context),
    }));
    return json(answer);
  });

/** `POST /api/figure`: the whole answer of a formula that need not be saved, under the draft, as lines of JSON with progress. */
export const figure = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, z.object({ formula: z.unknown(), basis: z.enum(COUNTING_BASES).optional() }));
    if (!body.ok) return body.response;
    const parsed = parseBody('question', { ...blank('question'), formula: body.value.formula });
    if (!parsed.ok) return problem(400, 'formula refused', parsed.detail);
    const question = parsed.value as Question;
    const scope = await draftScope(new URL(request.url));
    const { plan } = scope;
    if (!question.formula || coverageOf(plan, question).state === 'undefined')
      return problem(409, 'formula open', 'The formula is not complete yet, so there is nothing to count.');
    const lost = notKept(scope.table, question);
    if (lost.length > 0) return problem(409, 'not kept', notKeptText(lost).replaceAll('`', ''));
    const context = contextFor(scope, Date.now(), body.value.basis);
    return steps(figureSteps(typedFormula(plan, question.formula).formula, context), request.signal);
  });
