/** The figure of a question, where it has one. */
import type { Plan, Question } from '../plan/plan';
import type { MessageTable } from '../table/message-table';
import { coverageOf } from './coverage';
import type { Figure, FigureContext } from './figure';
import type { Formula } from './formula';
import { notKept } from './not-kept';
import { rememberedFigure } from './remembered-figure';
import { typedFormula } from './typed-conditions';

/** The formula with its values in the types of the plan; `undefined` where it is not complete, or asks for what is not kept in the columns. */
export const countedFormula = (plan: Plan, question: Question, table: MessageTable): Formula | undefined =>
  !question.formula || coverageOf(plan, question).state === 'undefined' || notKept(table, question).length > 0
    ? undefined
    : typedFormula(plan, question.formula).formula;

export const figureOfQuestion = (plan: Plan, question: Question, c: FigureContext): Figure | undefined => {
  const formula = countedFormula(plan, question, c.people.table);
  return formula && rememberedFigure(formula, c);
};
