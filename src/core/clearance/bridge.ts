/** From a figure as it arrived to the figure as it would be, correction by correction. */
import type { Persons } from '../identity/persons';
import type { Resolved } from '../identity/persons-otherwise';
import type { Id, Plan, Question } from '../plan/plan';
import { needsOf } from '../questions/coverage';
import { headlineOf } from '../questions/formulas/computations';
import { rememberedFigure } from '../questions/remembered-figure';
import { typedFormula } from '../questions/typed-conditions';
import { figureContext } from '../scenario/figure-context';
import type { MessageTable } from '../table/message-table';
import { CORRECTIONS, type CorrectionId } from './correction-names';
import { corrected, correctable, countsOf, type Corrected } from './corrections';
import { affectedBy } from './lowering';
import { countsPeople } from './reach';
import { unlinkedBound, type Bound } from './unlinked';

export interface BridgeStep {
  readonly id: CorrectionId;
  readonly title: string;
  /** Messages that it touches. */
  readonly messages: number;
  /** The figure with all before it put right, and with this too. */
  readonly before: number | undefined;
  readonly after: number | undefined;
}

export interface Bridge {
  readonly questionId: Id;
  /** `undefined` where there is no number. */
  readonly asItArrived: number | undefined;
  readonly steps: readonly BridgeStep[];
  readonly asItWouldBe: number | undefined;
  /** What nobody can know: between what and what the figure as it would be lies. */
  readonly bound?: Bound;
}

/** Works a question's bridge out; steps between which the caller may report, or stop, and all else may have its turn.
 *  Shape: corrections in their order, each on top of those before it; those that touch no message of the question are left out. `table` are the
 *  messages as they are judged, where they are others than those of the persons.
 */
export function* bridgeOf(
  plan: Plan,
  questionId: Id,
  question: Question,
  persons: Persons,
  now: number,
  on: ReadonlySet<CorrectionId> = new Set(CORRECTIONS.map((c) => c.id)),
  table: MessageTable = persons.table,
): Generator<void, Bridge> {
  if (!question.formula) return { questionId, asItArrived: undefined, steps: [], asItWouldBe: undefined };
  const { formula } = typedFormula(plan, question.formula);
  const numberOf = (p: Plan, who: Resolved): number | undefined => headlineOf(rememberedFigure(formula, figureContext(p, who, now))).value;
  const { names } = affectedBy(plan, table, needsOf(question));
  yield;
  const found = correctable(plan, persons, names, now, countsPeople(formula));
  const counts = countsOf(persons.table, found);
  yield;
  const asItArrived = numberOf(plan, persons);
  const done = new Set<CorrectionId>();
  let last: Corrected = { plan, persons, people: undefined };
  const steps: BridgeStep[] = [];
  for (const { id, title } of CORRECTIONS) {
    if (!on.has(id) || counts[id] === 0) continue;
    yield;
    done.add(id);
    const c = (last = corrected(plan, persons, found, done, last));
    yield;
    steps.push({ id, title, messages: counts[id], before: steps.at(-1)?.after ?? asItArrived, after: numberOf(c.plan, c.persons) });
  }
  yield;
  const bound = unlinkedBound(formula, figureContext(last.plan, last.persons, now), last.persons);
  return {
    questionId,
    asItArrived,
    steps,
    asItWouldBe: steps.length === 0 ? asItArrived : steps.at(-1)!.after,
    ...(bound ? { bound } : {}),
  };
}
