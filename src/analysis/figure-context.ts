/** What a figure is computed on, out of a scope. */
import type { CountingBasis } from '../core/identity/counting-basis';
import type { FigureContext } from '../core/questions/figure';
import { figureContext } from '../core/scenario/figure-context';
import type { Scope } from './scope';

export const figureContextOf = ({ plan, persons }: Scope, now: number, basis?: CountingBasis): FigureContext =>
  figureContext(plan, persons, now, { basis });
