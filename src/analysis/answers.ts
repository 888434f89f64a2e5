/** What readers are given: worked out in the background after each look at the signals, and kept, so that a page of theirs waits for nobody. */
import { answerOf, type Answer } from '../core/clearance/answer';
import type { Bridge } from '../core/clearance/bridge';
import { rememberedBridge } from '../core/clearance/remembered-bridge';
import type { QuestionClearance } from '../core/clearance/question-clearance';
import { entries } from '../core/plan/plan';
import { personsWith } from '../core/definitions/defined-events';
import { countedFormula } from '../core/questions/question-figure';
import { keepAnswers } from '../db/answer-store';
import { newestSignOffs } from '../db/sign-off-store';
import type { PublishedPlan } from '../core/plan/version';
import { database } from '../server/context';
import { inBackground, PAUSE_FACTOR } from './background';
import { isWaitedFor, onOneState } from './columns';
import { currentFindings } from './findings';
import { publishedScope } from './scope';

type Corrected = Pick<Bridge, 'asItWouldBe' | 'steps' | 'bound'> & { readonly at: number };

/** A figure as it would be has its people worked out anew for each correction: that has a part of the time at most. */
let known: { readonly number: number; readonly bridges: ReadonlyMap<string, Corrected>; readonly until: number } | undefined;

/** Works the figures out as they would be, one after the other, each on the state of its moment: nothing that comes waits for all of them. Whether it was time
 *  to do so.
 */
export const correctAnew = async ({ plan, number }: PublishedPlan): Promise<boolean> => {
  const from = Date.now();
  if (known?.number === number && from < known.until) return false;
  const found = new Map<string, Corrected>();
  let ms = 0;
  for (const [questionId, question] of entries(plan, 'question'))
    await onOneState(async () => {
      const { persons, version } = publishedScope();
      // A version that comes in between has a look of its own.
      if (version?.number !== number || !countedFormula(plan, question, persons.table)) return;
      const at = Date.now();
      const done = await inBackground(
        rememberedBridge(plan, questionId, question, persons, at, undefined, personsWith(persons, plan).table),
        isWaitedFor,
      );
      ms += done.ms;
      found.set(questionId, { ...done.value, at });
    });
  known = { number, bridges: found, until: Date.now() + ms * PAUSE_FACTOR };
  return true;
};

/** Makes the answers and keeps them, with the figures as they would be as far as they were worked out. `plain`: an address that chooses nothing. */
export const makeAnswers = async (version: PublishedPlan, all: readonly QuestionClearance[], now: number, plain: URL): Promise<void> => {
  const { plan, number } = version;
  const { table } = publishedScope();
  const groups = (await currentFindings(plain)).triaged;
  const signOffs = await newestSignOffs(database());
  const corrected = known?.number === number ? known.bridges : new Map<string, Corrected>();
  const byId = new Map(all.map((c) => [c.questionId, c]));
  const answers = entries(plan, 'question')
    .sort(([, a], [, b]) => a.order - b.order)
    .flatMap(([questionId, question]): Answer[] => {
      const clearance = byId.get(questionId);
      if (!clearance) return [];
      const bridge = corrected.get(questionId);
      const signOff = signOffs.get(questionId);
      return [answerOf({ plan, table, groups, questionId, question, clearance, figure: clearance.figure, bridge, since: clearance.since, signOff })]; // prettier-ignore
    });
  await keepAnswers(database(), { version: number, at: now, answers });
};
