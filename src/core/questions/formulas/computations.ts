/** How each formula is worked out: kept apart from its words, which a page needs long before. */
import type { AnyFormulaComputation } from '../definition';
import type { Figure } from '../figure';
import type { FormulaType } from '../formula';
import type { Interval } from '../../stats/wilson';
import { activePersonsComputation } from './active-persons/compute';
import { averagePerPersonComputation } from './average-per-person/compute';
import { conversionComputation } from './conversion/compute';
import { rateOfValueComputation } from './rate-of-a-value/compute';
import { retentionComputation } from './retention/compute';
import { shareWhoAlsoDidComputation } from './share-who-also-did/compute';
import { topValuesComputation } from './top-values/compute';
import { totalOfPropertyComputation } from './total-of-a-property/compute';

const computations = [
  activePersonsComputation,
  averagePerPersonComputation,
  conversionComputation,
  rateOfValueComputation,
  retentionComputation,
  shareWhoAlsoDidComputation,
  topValuesComputation,
  totalOfPropertyComputation,
] as unknown as readonly AnyFormulaComputation[];

const byType = new Map(computations.map((c) => [c.type, c]));

export const computationOf = (type: FormulaType): AnyFormulaComputation => {
  const found = byType.get(type);
  if (!found) throw new Error(`no formula “${type}”`);
  return found;
};

/** The one number of a figure, and its interval where it is a share. */
export const headlineOf = (f: Figure): { value: number | undefined; interval: Interval | undefined } => computationOf(f.type).headline(f);
