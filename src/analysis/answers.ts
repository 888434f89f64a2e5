/** What readers are given: worked out in the background after each look at the signals, and kept, so that a page of theirs waits for nobody. */
import { answerOf, type Answer } from '../core/clearance/answer';
import { bridgeOf, type Bridge } from '../core/clearance/bridge';
import type { QuestionClearance } from '../core/clearance/question-clearance';
import { entries } from '../core/plan/plan';
import { personsWith } from '../core/definitions/defined-events';
import { keepAnswers } from '../db/answer-store';
import { newestSignOffs } from '../db/sign-off-store';
import type { PublishedPlan } from '../core/plan/version';
import { database } from '../server/context';
import { inBackground } from './background';
import { isWaitedFor } from './columns';
import { currentFindings } from './findings';
import { publishedScope } from './scope';

type Corrections = ReadonlyMap<string, Pick<Bridge, 'asItWouldBe' | 'steps' | 'bound'>>;

/** A figure as it would be has its people worked out anew for each correction: that has this part of the time at most. */
const PAUSE_FACTOR = 9;
let known: { readonly number: number; readonly bridges: Corrections; readonly until: number } | undefined;

/** The figures as they would be, as they were found a while ago where that took long. */
const bridges = async (version: PublishedPlan, all: readonly QuestionClearance[], now: number): Promise<Corrections> => {
  if (known?.number === version.number && now < known.until) return known.bridges;
  const { persons } = publishedScope();
  const { table } = personsWith(persons, version.plan);
  const found = new Map<string, Bridge>();
  let ms = 0;
  for (const { questionId, figure } of all) {
    const question = version.plan.question[questionId];
    if (!question || !figure) continue;
    const done = await inBackground(bridgeOf(version.plan, questionId, question, persons, now, undefined, table), isWaitedFor);
    ms += done.ms;
    found.set(questionId, done.value);
  }
  known = { number: version.number, bridges: found, until: now + ms * PAUSE_FACTOR };
  return found;
};

/** Works the answers out and keeps them. `plain`: an address that chooses nothing. */
export const makeAnswers = async (version: PublishedPlan, all: readonly QuestionClearance[], now: number, plain: URL): Promise<void> => {
  const { plan, number } = version;
  const { table } = publishedScope();
  const groups = (await currentFindings(plain)).triaged;
  const signOffs = await newestSignOffs(database());
  const corrected = await bridges(version, all, now);
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
