/** Clearance of every question, with its figure. */
import { z } from 'zod';
import { reconcile } from '../core/arrival/batch/unconfirmed-attempts';
import { clearanceOf } from '../core/clearance/clearance';
import type { QuestionClearance } from '../core/clearance/question-clearance';
import { parseBody } from '../core/plan/document-schema';
import { blank } from '../core/plan/defaults';
import { entries, settingsOf, type Plan, type Question } from '../core/plan/plan';
import { coverageOf } from '../core/questions/coverage';
import { figureOf } from '../core/questions/compute-figure';
import type { Figure } from '../core/questions/figure';
import type { MessageTable } from '../core/table/message-table';
import { loadDraft } from '../db/plan-store';
import { answering, json, problem, readJson } from './answer';
import { currentPersons, currentTable } from './columns';
import { database } from './context';
import { newestVersion } from './published';

const figureFor = (plan: Plan, question: Question, table: MessageTable, now: number): Figure | undefined => {
  if (!question.formula || coverageOf(plan, question).state === 'undefined') return undefined;
  const settings = settingsOf(plan);
  const { personOfMessage } = currentPersons(table, settings.identity);
  return figureOf(question.formula, { table, personOfMessage, settings, now });
};

/** Gates and figures of all questions of the draft, judged against the published version. */
export const clearances = (): Promise<Response> =>
  answering(async () => {
    const now = Date.now();
    const { plan } = await loadDraft(database());
    const version = await newestVersion();
    const table = await currentTable();
    const published = version && { plan: version.plan, number: version.number, publishedAt: version.at };
    const reconciled = version ? reconcile(version.plan, table, now) : [];
    const answer: QuestionClearance[] = entries(plan, 'question').map(([questionId, question]) => ({
      questionId,
      ...clearanceOf(question, { published, table, reconciled, now }),
      figure: figureFor(plan, question, table, now),
    }));
    return json(answer);
  });

/** `POST /api/figure`: the figure of a formula that need not be saved. */
export const figure = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, z.object({ formula: z.unknown() }));
    if (!body.ok) return body.response;
    const question = parseBody('question', { ...blank('question'), formula: body.value.formula });
    if (!question.ok) return problem(400, 'formula refused', question.detail);
    const { plan } = await loadDraft(database());
    return json({ figure: figureFor(plan, question.value as Question, await currentTable(), Date.now()) ?? null });
  });
