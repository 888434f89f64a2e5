import { activePersons } from './active-persons';
import { conversion } from './conversion';
import type { Figure, FigureContext } from './figure';
import type { Formula } from './formula';

/** Computes a formula over the columns. */
export const figureOf = (formula: Formula, context: FigureContext): Figure =>
  formula.type === 'active persons' ? activePersons(formula, context) : conversion(formula, context);
