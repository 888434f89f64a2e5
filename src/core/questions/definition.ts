/** The face of a formula. One formula a folder in formulas/: `definition.ts` with its words and needs, `compute.ts` with its computation and
 *  headline, `schema.ts` with its shape; the registries are formulas/index.ts, computations.ts and schemas.ts.
 */
import type { Figure, FigureContext, FigureOf } from './figure';
import type { Formula, FormulaOf, FormulaType, Step } from './formula';
import type { Part } from './sentence';
import type { Interval } from '../stats/wilson';
import type { PropertyRef } from '../plan/property-path';

/** A property that a formula names beside the conditions of its steps. */
export interface NamedProperty {
  readonly eventName: string;
  readonly name: PropertyRef;
  /** Arithmetic is done on it. */
  readonly numeric: boolean;
  /** A value that tells its type, where one is known. */
  readonly sample?: string | number | boolean;
}

export interface FormulaDefinition<T extends FormulaType> {
  readonly type: T;
  readonly title: string;
  /** What it answers, as a person would ask. */
  readonly asks: string;
  /** A first, incomplete formula; events already chosen elsewhere are carried over. */
  readonly start: (steps: readonly Step[]) => FormulaOf<T>;
  /** What is still open, in words; `undefined` when it is complete. Events without a name are found by the caller. */
  readonly open: (f: FormulaOf<T>) => string | undefined;
  readonly named: (f: FormulaOf<T>) => readonly NamedProperty[];
  /** The sentence, without the tail that all formulas share. */
  readonly parts: (f: FormulaOf<T>) => readonly Part[];
}

/** A definition as the registry holds it, for a formula of any type. */
export interface AnyFormulaDefinition {
  readonly type: FormulaType;
  readonly title: string;
  readonly asks: string;
  readonly start: (steps: readonly Step[]) => Formula;
  readonly open: (f: Formula) => string | undefined;
  readonly named: (f: Formula) => readonly NamedProperty[];
  readonly parts: (f: Formula) => readonly Part[];
}

/** The leading number of a figure, and its interval where it is a share. */
interface Headline {
  readonly value: number | undefined;
  readonly interval: Interval | undefined;
}

export interface FormulaComputation<T extends FormulaType> {
  readonly type: T;
  readonly compute: (f: FormulaOf<T>, c: FigureContext) => FigureOf<T>;
  readonly headline: (figure: FigureOf<T>) => Headline;
}

/** A computation as the registry holds it. */
export interface AnyFormulaComputation {
  readonly type: FormulaType;
  readonly compute: (f: Formula, c: FigureContext) => Figure;
  readonly headline: (figure: Figure) => Headline;
}
