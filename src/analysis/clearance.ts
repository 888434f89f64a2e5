/** Clearance of every question, with its figure; who signs one off, and how signals go. */
import { clearance } from '../core/api/clearance';
import { signOff as signOffEndpoint } from '../core/api/sign-off';
import { waive as waiveEndpoint } from '../core/api/waive';
import { clearanceOf } from '../core/clearance/clearance';
import { clearanceContext } from '../core/clearance/context';
import type { ClearanceContext } from '../core/clearance/gate';
import type { QuestionClearance } from '../core/clearance/question-clearance';
import { fallOf, meaningOfQuestion, type SignOff } from '../core/clearance/sign-off';
import { whyNotSigned } from '../core/clearance/sign-off-shown';
import { canBeWaived } from '../core/clearance/waiver';
import { sinceOf, type NotedSignals } from '../core/clearance/since';
import { entityOf, entries, type Plan } from '../core/plan/plan';
import { withPresentNames } from '../core/plan/rename';
import type { PublishedPlan } from '../core/plan/version';
import { trafficText } from '../core/table/traffic';
import { headlineOf } from '../core/questions/formulas/computations';
import { figureOfQuestion } from '../core/questions/question-figure';
import { holdingSignOffs, letFall, notedSignals, noteSignals, signOff, signOffsOf, SIGNALS_SHOWN_MS } from '../db/sign-off-store';
import { endWaiver, holdingWaivers, waive } from '../db/waiver-store';
import { inBetween, problem } from '../server/answer';
import { database } from '../server/context';
import { currentDraft } from '../server/draft';
import { recheckUnderWay } from '../server/recheck';
import { serve } from '../server/serve';
import { inBackground } from './background';
import { isWaitedFor, onOneState, waitsForOne } from './columns';
import { lookForAlerts } from './alerts';
import { correctAnew, makeAnswers } from './answers';
import { figureContextOf } from './figure-context';
import { currentFindings } from './findings';
import { defineJob } from './jobs';
import { afterFirstLook, isLookedUnder, lookUnderNewest } from './many-findings';
import { whenSignalsMayDiffer } from './signals-asked';
import { inForceScope, currentWatch } from './scope';

const withSince = (c: QuestionClearance, noted: readonly NotedSignals[] = []): QuestionClearance => {
  const since = sinceOf(noted, { signal: c.signal, gates: Object.fromEntries(c.gates.map((g) => [g.gate, g])) });
  return {
    ...c,
    ...(since.signal === undefined ? {} : { since: since.signal }),
    gates: c.gates.map((g) => (since.gates[g.gate] === undefined ? g : { ...g, since: since.gates[g.gate]! })),
  };
};

/** Runs a computation step by step, with whatever else waits in between. */
type Steps = (steps: Generator<void, QuestionClearance[]>) => Promise<QuestionClearance[]>;

/** Gates and figures of questions. Both are under the version in force: its names, its identity rules. Before anything is published figures are under the
 *  draft. One question after the other, so that nobody waits for all of them; until `isEnough` says so.
 */
const clearancesOf = async (
  url: URL,
  questionsOf: (inForce: Plan) => Promise<Plan> | Plan,
  run: Steps = inBetween,
  isEnough: () => boolean = () => false,
): Promise<QuestionClearance[]> => {
  const now = Date.now();
  const recheck = await recheckUnderWay();
  const scope = await inForceScope(url);
  const { version, plan } = scope;
  const found = version && (await currentFindings(url));
  const context: ClearanceContext = version
    ? clearanceContext({
        published: { plan: version.plan, number: version.number, publishedAt: version.at, watch: await currentWatch(version) },
        persons: scope.persons,
        groups: found?.many ? found.triaged : undefined,
        now,
      })
    : { published: undefined, table: scope.table, reconciled: [], now };
  const waivers = await holdingWaivers(database(), now);
  const figures = context.figures?.('fully linked') ?? figureContextOf(scope, now);
  // What is followed is the traffic that counts.
  const noted = trafficText(scope.traffic) === '' ? await notedSignals(database(), now - SIGNALS_SHOWN_MS) : undefined;
  const questions = entries(await questionsOf(plan), 'question');
  const steps = function* (): Generator<void, QuestionClearance[]> {
    const all: QuestionClearance[] = [];
    for (const [questionId, question] of questions) {
      const c = clearanceOf(question, { ...context, recheck }, waivers.get(questionId));
      yield;
      all.push(withSince({ questionId, ...c, figure: figureOfQuestion(plan, question, figures) }, noted?.get(questionId)));
      if (isEnough()) return all;
      yield;
    }
    return all;
  };
  return run(steps());
};

/** While somebody else waits it takes a part of the time; whoever waits for the state that it holds is not kept. */
const behind: Steps = (steps) => inBackground(steps, isWaitedFor).then((done) => done.value);

/** As everybody sees it who chooses nothing. */
const PLAIN = new URL('http://localhost/');

const gatesOf = ({ gates }: QuestionClearance): SignOff['gates'] =>
  Object.fromEntries(gates.map(({ gate, signal, evidence }) => [gate, { signal, evidence }]));

interface Judged {
  readonly version: PublishedPlan;
  readonly all: QuestionClearance[];
}

/** All questions of the newest version, on one state until something waits to be added to it: the next ones are judged by what there is with that. */
const judgeAll = async (): Promise<Judged | undefined> => {
  let judged: Judged | undefined;
  for (let isOver = false; !isOver;)
    await onOneState(async () => {
      const { version } = await inForceScope(PLAIN);
      // What the checks over many have not looked at is judged when they have.
      if (!version || !(await isLookedUnder(version.number))) {
        if (version) await lookUnderNewest();
        judged = undefined;
        isOver = true;
        return;
      }
      if (judged?.version.number !== version.number) judged = { version, all: [] };
      const { all } = judged;
      const known = new Set(all.map((c) => c.questionId));
      const left = Object.fromEntries(entries(version.plan, 'question').filter(([id]) => !known.has(id)));
      all.push(...(await clearancesOf(PLAIN, () => ({ ...version.plan, question: left }), behind, waitsForOne)));
      isOver = all.length >= entries(version.plan, 'question').length;
    });
  return judged;
};

/** Notes what became of each question's signal, and lets sign-offs fall that no longer hold. Whether this is still the version in force. */
const look = async ({ version, all }: Judged): Promise<boolean> => {
  if ((await inForceScope(PLAIN)).version?.number !== version.number) return false;
  const now = Date.now();
  const byId = new Map(all.map((c) => [c.questionId, c]));
  await noteSignals(database(), now, version.number, all.map((c) => ({ questionId: c.questionId, signal: c.signal, gates: gatesOf(c) }))); // prettier-ignore
  for (const s of await holdingSignOffs(database())) {
    const question = version.plan.question[s.questionId];
    const because = fallOf(
      s,
      {
        version: version.number,
        meaning: question && meaningOfQuestion(version.plan, question),
        clearance: byId.get(s.questionId),
      },
      now,
    );
    if (because !== undefined) await letFall(database(), s.id, because, new Date(now));
  }
  await lookForAlerts(version, all, now, PLAIN);
  const noted = await notedSignals(database(), now - SIGNALS_SHOWN_MS);
  await makeAnswers(version, all.map((c) => withSince(c, noted.get(c.questionId))), now, PLAIN); // prettier-ignore
  return true;
};

/** Looks at what is in force when it is over. */
const lookAtAll = async (): Promise<PublishedPlan | undefined> => {
  for (;;) {
    const judged = await judgeAll();
    if (!judged || (await onOneState(() => look(judged)))) return judged?.version;
  }
};

let looking: Promise<void> = Promise.resolve();
const oneLook = (): Promise<void> => {
  const mine = looking.then(async () => {
    const version = await lookAtAll();
    // What would be is said as soon as it is known.
    if (version && (await correctAnew(version))) await lookAtAll();
  });
  looking = mine.catch(() => undefined);
  return mine;
};
const job = defineJob('signals', oneLook, '*/5 * * * *');

// A look comes soon after what they hang on was looked at.
whenSignalsMayDiffer(() => void job.ask(2).catch(() => undefined));

export const CLEARANCE = [
  serve(clearance, async ({ url }) => {
    await afterFirstLook();
    return clearancesOf(url, async () => withPresentNames((await currentDraft()).plan));
  }),
  serve(signOffEndpoint, async ({ body }) => {
    const { questionId, author } = body;
    if ('withdraw' in body) {
      const [held] = await signOffsOf(database(), questionId);
      if (!held || held.fellAt !== null) return problem(404, 'nothing signed', 'This question is not signed off.');
      await letFall(database(), held.id, `Taken back by ${author}: ${body.withdraw}`);
      await job.ask();
      return { ok: true as const };
    }
    if (body.until !== null && body.until <= Date.now())
      return problem(400, 'end in the past', 'The end date has gone by; choose a later one.');
    await afterFirstLook();
    const { version } = await inForceScope(PLAIN);
    if (!version) return problem(409, 'nothing published', 'A question is signed off for a published version. Publish the plan first.');
    const question = entityOf(version.plan, 'question', questionId);
    if (!question) return problem(404, 'no such question', `Version ${version.number} does not have this question. Publish it first.`);
    const now = (await clearancesOf(PLAIN, () => version.plan)).find((c) => c.questionId === questionId)!;
    const why = whyNotSigned(now);
    if (why !== undefined) return problem(409, 'not to be relied on', why);
    // What was signed is in the history, whenever it is looked at next.
    await noteSignals(database(), Date.now(), version.number, [{ questionId, signal: now.signal, gates: gatesOf(now) }]);
    await signOff(database(), {
      questionId,
      version: version.number,
      author,
      note: body.note,
      signal: now.signal,
      gates: gatesOf(now),
      headline: now.figure ? (headlineOf(now.figure).value ?? null) : null,
      meaning: meaningOfQuestion(version.plan, question),
      until: body.until,
    });
    await job.ask();
    return { ok: true as const };
  }),
  serve(waiveEndpoint, async ({ body }) => {
    const { questionId, gate, author } = body;
    if ('withdraw' in body) {
      const had = await endWaiver(database(), questionId, gate, `Taken back by ${author}: ${body.withdraw}`);
      if (!had) return problem(404, 'nothing waived', `The gate ${gate} of this question is not waived.`);
      await job.ask();
      return { ok: true as const };
    }
    if (body.until <= Date.now()) return problem(400, 'end in the past', 'The end date has gone by; choose a later one.');
    await afterFirstLook();
    const { version } = await inForceScope(PLAIN);
    if (!version) return problem(409, 'nothing published', 'Gates are judged by a published version. Publish the plan first.');
    if (!entityOf(version.plan, 'question', questionId))
      return problem(404, 'no such question', `Version ${version.number} does not have this question. Publish it first.`);
    const judged = (await clearancesOf(PLAIN, () => version.plan))
      .find((c) => c.questionId === questionId)!
      .gates.find((g) => g.gate === gate)!;
    // Who waives again says so anew: with another reason, or for longer.
    if (!judged.waived && !canBeWaived(judged))
      return problem(409, 'nothing to waive', `The gate ${gate} is at ${judged.signal}: it does not hold the question up.`);
    await waive(database(), { questionId, gate, author, reason: body.reason, until: body.until });
    await job.ask();
    return { ok: true as const };
  }),
];
