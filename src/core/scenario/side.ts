/** One scenario over the recorded messages: what is found, who is counted, what each question's figure and signal are. */
import { manyGroups, groupFindings, type FindingGroup } from '../arrival/finding-group';
import type { IntakeDay } from '../arrival/intake-totals';
import { clearanceOf } from '../clearance/clearance';
import { clearanceContext } from '../clearance/context';
import type { Signal } from '../clearance/gate';
import { wantedOf } from '../clearance/wanted';
import { figureOfQuestion } from '../questions/question-figure';
import type { Waiver } from '../clearance/waiver';
import type { Persons } from '../identity/persons';
import { sideOf, type Side as PersonsSide } from '../identity/what-if';
import { entries, type Id, type Plan } from '../plan/plan';
import type { Watch } from '../plan/watch';
import { headlineOf } from '../questions/formulas/computations';
import type { Interval } from '../stats/wilson';
import type { MessageTable } from '../table/message-table';

/** A plan, the messages as it names and judges them, and the persons in them under its rules. */
export interface Scenario {
  readonly plan: Plan;
  /** The table of the persons, with what this plan's checks find on its rows. */
  readonly table: MessageTable;
  readonly persons: Persons;
  readonly watch: Watch;
  readonly number: number;
  readonly publishedAt: number;
  /** Gates that somebody answers for, by question. */
  readonly waivers?: ReadonlyMap<Id, readonly Waiver[]>;
}

export interface QuestionSide {
  readonly text: string;
  readonly headline: number | undefined;
  readonly interval: Interval | undefined;
  readonly isShare: boolean;
  readonly signal: Signal;
}

export interface Worked {
  readonly groups: readonly FindingGroup[];
  readonly persons: PersonsSide;
  readonly questions: ReadonlyMap<Id, QuestionSide>;
}

/** Works a scenario out, a step for each check over many and for each question: between two steps the caller may report, or stop.
 *  Shape: questions without a complete formula, and those that ask for what is not kept, have no number.
 */
export function* worked(s: Scenario, now: number, intake: readonly IntakeDay[]): Generator<void, Worked> {
  const { plan, persons, watch } = s;
  const many = yield* manyGroups({ plan, people: persons, now, watch, intake });
  const groups = groupFindings(s.table, many, now);
  yield;
  const judged = clearanceContext({
    published: { plan, number: s.number, publishedAt: s.publishedAt, watch },
    persons,
    table: s.table,
    groups,
    now,
  });
  const context = judged.figures!('fully linked');
  const questions = new Map<Id, QuestionSide>();
  for (const [id, q] of entries(plan, 'question')) {
    yield;
    const { signal } = clearanceOf(q, judged, s.waivers?.get(id));
    const figure = figureOfQuestion(plan, q, context);
    const { value, interval } = figure ? headlineOf(figure) : { value: undefined, interval: undefined };
    questions.set(id, { text: q.text, headline: value, interval, isShare: wantedOf(q.formula) === 'share', signal });
  }
  return { groups, persons: sideOf(persons), questions };
}
