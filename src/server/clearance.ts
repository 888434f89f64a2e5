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
import { figureOf, figureSteps } from '../core/questions/compute-figure';
import type { Figure, FigureContext } from '../core/questions/figure';
import type { MessageTable } from '../core/table/message-table';
import { currentDraft } from './draft';
import { answering, json, problem, readJson, steps } from './answer';
import { currentPersons, currentTable } from './columns';
import { recheckUnderWay } from './recheck';
import { newestVersion } from './published';

const bucketsIn = (plan: Plan): ReadonlyMap<string, readonly number[]> =>
  new Map(entries(plan, 'userProperty').flatMap(([, u]) => (u.buckets.length > 0 ? [[u.name, u.buckets] as const] : [])));

const contextFor = (plan: Plan, table: MessageTable, now: number, basis: CountingBasis = 'fully linked'): FigureContext => {
  const settings = settingsOf(plan);
  const linked = currentPersons(table, settings.identity);
  return {
    table,
    personOfMessage: basis === 'fully linked' ? linked.personOfMessage : personsByBasis(table, settings.identity, linked)[basis],
    settings,
    now,
    buckets: bucketsIn(plan),
  };
};

const figureFor = (plan: Plan, question: Question, context: FigureContext): Figure | undefined =>
  !question.formula || coverageOf(plan, question).state === 'undefined' ? undefined : figureOf(question.formula, context);

/** Gates and figures of all questions of the draft, judged against the published version. */
export const clearances = (): Promise<Response> =>
  answering(async () => {
    const now = Date.now();
    const { plan } = await currentDraft();
    const version = await newestVersion();
    const table = await currentTable();
    const published = version && { plan: version.plan, number: version.number, publishedAt: version.at };
    const context = contextFor(plan, table, now);
    const reconciled = version ? reconcile(version.plan, table, now) : [];
    const recheck = await recheckUnderWay();
    const answer: QuestionClearance[] = entries(plan, 'question').map(([questionId, question]) => ({
      questionId,
      ...clearanceOf(question, { published, table, reconciled, recheck, now }),
      figure: figureFor(plan, question, context),
    }));
    return json(answer);
  });

/** `POST /api/figure`: the whole answer of a formula that need not be saved, as lines of JSON with progress. */
export const figure = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, z.object({ formula: z.unknown(), basis: z.enum(COUNTING_BASES).optional() }));
    if (!body.ok) return body.response;
    const parsed = parseBody('question', { ...blank('question'), formula: body.value.formula });
    if (!parsed.ok) return problem(400, 'formula refused', parsed.detail);
    const question = parsed.value as Question;
    const { plan } = await currentDraft();
    if (!question.formula || coverageOf(plan, question).state === 'undefined')
      return problem(409, 'formula open', 'The formula is not complete yet, so there is nothing to count.');
    const context = contextFor(plan, await currentTable(), Date.now(), body.value.basis);
    return steps(figureSteps(question.formula, context), request.signal);
  });
