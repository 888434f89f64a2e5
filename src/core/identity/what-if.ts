/** The same messages under two sets of identity rules: persons and every figure, before and after. */
import { entries, type Plan } from '../plan/plan';
import { coverageOf } from '../questions/coverage';
import { typedFormula } from '../questions/typed-conditions';
import { figureOf } from '../questions/compute-figure';
import { headlineOf } from '../questions/formulas/computations';
import type { MessageTable } from '../table/message-table';
import { identityReport } from './report';
import { figureContext } from '../scenario/figure-context';
import type { CountingBasis } from './counting-basis';
import type { PersonRules } from './person-rules';
import { resolvePersons, type Persons } from './persons';

export interface Side {
  readonly persons: number;
  readonly links: number;
  readonly refused: number;
  readonly orphans: number;
  readonly unattributed: number;
  /** The most identifiers in one person. */
  readonly largest: number;
}

export interface FigureBothWays {
  readonly questionId: string;
  readonly text: string;
  /** A share is shown in per cent. */
  readonly isShare: boolean;
  readonly before: number | undefined;
  readonly after: number | undefined;
  /** The figure of the rules as they are to be, under the other counting bases. */
  readonly deviceOnly: number | undefined;
  readonly userIdFirst: number | undefined;
}

export interface WhatIf {
  readonly before: Side;
  readonly after: Side;
  readonly figures: readonly FigureBothWays[];
  /** Why the rules to be should not be published as they are. */
  readonly warnings: readonly string[];
}

/** From this share of all identifiers in one person on, a rule links what should be apart. */
const TOO_LARGE = 0.2;
const MIN_IDENTIFIERS = 20;

export const sideOf = (persons: Persons): Side => {
  const report = identityReport(persons);
  const members = new Int32Array(persons.count);
  for (const p of persons.personOfNode) if (p >= 0) members[p]!++;
  const linked = report.bases.find((b) => b.basis === 'fully linked')!;
  return {
    persons: linked.persons,
    links: report.links,
    refused: report.refusedCount,
    orphans: report.orphans,
    unattributed: linked.unattributed,
    largest: members.reduce((a, b) => Math.max(a, b), 0),
  };
};

/** Works both sides out, a step for each question: between two steps the caller may report progress, or stop.
 *  Shape: `before` are rules in force, `after` those to be; figures in the order of the questions, those that cannot be counted left out.
 */
export function* whatIf(
  plan: Plan,
  table: MessageTable,
  before: PersonRules,
  after: PersonRules,
  now: number,
): Generator<{ done: number; total: number }, WhatIf> {
  const questions = entries(plan, 'question')
    .filter(([, q]) => q.formula && coverageOf(plan, q).state !== 'undefined')
    .sort(([, a], [, b]) => a.order - b.order);
  const of = questions.length + 2;
  const old = resolvePersons(table, before);
  yield { done: 1, total: of };
  const next = resolvePersons(table, after);
  yield { done: 2, total: of };
  const figures: FigureBothWays[] = [];
  for (const [questionId, q] of questions) {
    const value = (persons: Persons, basis?: CountingBasis) =>
      headlineOf(figureOf(typedFormula(plan, q.formula!).formula, figureContext(plan, persons, now, { basis })));
    const [b, a] = [value(old), value(next)];
    figures.push({
      questionId,
      text: q.text,
      isShare: a.interval !== undefined || b.interval !== undefined,
      before: b.value,
      after: a.value,
      deviceOnly: value(next, 'device only').value,
      userIdFirst: value(next, 'user ID first').value,
    });
    yield { done: 2 + figures.length, total: of };
  }
  const [sideBefore, sideAfter] = [sideOf(old), sideOf(next)];
  const usable = table.nodes.length;
  const warnings = [
    ...(usable >= MIN_IDENTIFIERS && sideAfter.largest > usable * TOO_LARGE
      ? [`One person would hold ${sideAfter.largest} of all ${usable} identifiers: the rules link what should be apart.`]
      : []),
    ...(!after.linking && before.linking ? ['Nothing would be linked: every device and every user ID is a person of its own.'] : []),
  ];
  return { before: sideBefore, after: sideAfter, figures, warnings };
}
