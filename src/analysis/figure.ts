/** The whole answer of a formula that need not be saved, under the draft. */
import { figure } from '../core/api/figure';
import { blank } from '../core/plan/defaults';
import { parseBody } from '../core/plan/document-schema';
import type { Question } from '../core/plan/plan';
import { questionWithPresentNames } from '../core/plan/rename';
import { figureSteps } from '../core/questions/compute-figure';
import { coverageOf } from '../core/questions/coverage';
import { notKept, notKeptText } from '../core/questions/not-kept';
import { typedFormula } from '../core/questions/typed-conditions';
import { problem } from '../server/answer';
import { serveSteps } from '../server/serve';
import { figureContextOf } from './figure-context';
import { draftScope } from './scope';

export const FIGURE = [
  serveSteps(figure, async ({ url, body }) => {
    const parsed = parseBody('question', { ...blank('question'), formula: body.formula });
    if (!parsed.ok) return problem(400, 'formula rejected', parsed.detail);
    const scope = await draftScope(url);
    const { plan } = scope;
    const question = questionWithPresentNames(plan, parsed.value as Question);
    if (!question.formula || coverageOf(plan, question).state === 'undefined')
      return problem(409, 'formula open', 'The formula is not complete yet, so there is nothing to count.');
    const lost = notKept(scope.table, question);
    if (lost.length > 0) return problem(409, 'not kept', notKeptText(lost).replaceAll('`', ''));
    const context = figureContextOf(scope, Date.now(), body.basis);
    return figureSteps(typedFormula(plan, question.formula).formula, context);
  }),
];
