/** The registry of formulas: their words and needs, in the order in which they are offered, and what holds for any of them. */
import type { AnyFormulaDefinition } from '../definition';
import { ownSteps, type Formula, type FormulaType } from '../formula';
import { narrowing, sentenceText, type Part } from '../sentence';
import { activePersons } from './active-persons/definition';
import { averagePerPerson } from './average-per-person/definition';
import { conversion } from './conversion/definition';
import { rateOfValue } from './rate-of-a-value/definition';
import { retention } from './retention/definition';
import { shareWhoAlsoDid } from './share-who-also-did/definition';
import { topValues } from './top-values/definition';
import { totalOfProperty } from './total-of-a-property/definition';

export const formulas = [
  activePersons,
  conversion,
  averagePerPerson,
  retention,
  totalOfProperty,
  topValues,
  shareWhoAlsoDid,
  rateOfValue,
] as unknown as readonly AnyFormulaDefinition[];

const byType = new Map(formulas.map((d) => [d.type, d]));

export const definitionOf = (type: FormulaType): AnyFormulaDefinition => {
  const found = byType.get(type);
  if (!found) throw new Error(`no formula “${type}”`);
  return found;
};

/** A first formula of this type; events already chosen are carried over. */
export const startFormula = (type: FormulaType, from: Formula | null): Formula => definitionOf(type).start(from ? ownSteps(from) : []);

/** The event whose messages the formula is about first of all. */
export const mainEvent = (f: Formula): string => ownSteps(f)[0]?.eventName ?? '';

/** The formula's sentence in parts, with the tail that all share. */
export const partsOf = (f: Formula): Part[] => [...definitionOf(f.type).parts(f), ...narrowing(f, mainEvent(f))];

/** The formula as one plain sentence. */
export const formulaSentence = (f: Formula): string => sentenceText(partsOf(f));
