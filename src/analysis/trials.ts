/** A run of a trial while it goes on: the tester's messages out of the columns, judged step by step; and how far everything is. */
import { progress } from '../core/api/hand-off';
import { trialRun } from '../core/api/trials';
import { compileChecker } from '../core/arrival/compile';
import { readMessage } from '../core/arrival/message';
import { newestReleaseFrom, seenFrom } from '../core/arrival/seen';
import { contentHash } from '../core/plan/content-hash';
import { DEFAULT_SETTINGS } from '../core/plan/defaults';
import { emptyPlan, type Plan } from '../core/plan/plan';
import { userKindOf } from '../core/plan/user-kind';
import { progressOf } from '../core/hand-off/progress';
import type { TrialMessage } from '../core/trial/run';
import { identifierOn, mayMissValue, rowsOfTester, rowsWithValue, testerSeen, type TesterSeen } from '../core/trial/tester';
import { trialMessage } from '../core/trial/trial-message';
import { judgeTrial } from '../core/trial/verdict';
import { testerText, testerWarnings, type TrialEvidence, type TrialRunView } from '../core/trial/trial-run';
import { handOvers } from '../db/hand-over-store';
import { messagesBySeq, type ReadMessage } from '../db/message-store';
import { loadVersion } from '../db/plan-store';
import { endTrialRun, findTrialRun, noteTrialState, seqsOfSenders, trialEvidenceOf, trialResults, type StoredRun } from '../db/trial-store';
import { problem } from '../server/answer';
import { database } from '../server/context';
import { currentDraft } from '../server/draft';
import { serve } from '../server/serve';
import { heldState } from './columns';
import { draftScope } from './scope';

/** Messages of one tester in a run that are looked at; more is no person at work. */
const MOST = 2000;

const planOf = async (run: StoredRun): Promise<Plan> =>
  run.rules === 'draft'
    ? (await currentDraft()).plan
    : ((await loadVersion(database(), run.planVersion))?.plan ?? emptyPlan(DEFAULT_SETTINGS));

interface RunMessages extends TesterSeen<ReadMessage> {
  /** All of the tester since the run began, wherever; of others; user IDs on the tester's devices. */
  readonly own: number;
  readonly others: number;
  readonly users: number;
}

/** The tester's messages since the run began: told in the columns, however many others came between; only their own are read. */
const messagesOf = async (run: StoredRun, plan: Plan): Promise<RunMessages> => {
  const { table } = heldState();
  const from = table.rowOf(run.fromSeq + 1);
  const { tester } = run;
  const sure =
    tester.by === 'identifier'
      ? []
      : tester.by === 'property'
        ? rowsWithValue(table, from, tester.name, tester.value)
        : (await seqsOfSenders(database(), run.id, run.fromSeq)).map((seq) => table.rowOf(seq)).filter((row) => row < table.length);
  const known = tester.by === 'identifier' ? tester.value : identifierOn(table, sure);
  const { rows, users } = known === undefined ? { rows: sure, users: 0 } : rowsOfTester(table, from, known, userKindOf(plan));
  const own = await messagesBySeq(
    database(),
    rows.slice(-MOST).map((row) => table.seq.get(row)),
  );
  own.sort((x, y) => x.seq - y.seq);
  return { ...testerSeen(plan, own, run.environment), own: rows.length, others: table.length - from - rows.length, users };
};

const judgedMessages = (plan: Plan, messages: readonly ReadMessage[]): TrialMessage[] => {
  const checker = compileChecker(plan);
  return messages.flatMap((m) => {
    const read = readMessage(m.body);
    return read.ok ? [trialMessage(checker, read.message, m)] : [];
  });
};

const isPublished = async (run: StoredRun, plan: Plan): Promise<boolean> =>
  run.rules === 'published' || contentHash(plan) === (await loadVersion(database(), run.planVersion))?.contentHash;

const evidenceOf = async (run: StoredRun): Promise<TrialEvidence & { readonly published: boolean }> => {
  const plan = await planOf(run);
  const seen = await messagesOf(run, plan);
  const messages = judgedMessages(plan, seen.mine);
  const verdict = judgeTrial(run, messages, plan, Date.now());
  const published = await isPublished(run, plan);
  const releases = [
    ...new Set(messages.map((m) => `${plan.source[m.sourceId]?.name ?? m.sourceId} ${m.release || 'without a release'}`)),
  ].sort();
  const newest = heldState().version;
  return {
    verdict,
    messages,
    published,
    facts: [
      `Tester: ${testerText(run.tester)}, ${run.environment}; run by ${run.author}`,
      `From ${new Date(run.startedAt).toISOString()} to ${new Date(run.marks.find((m) => m.step === 'end')?.at ?? Date.now()).toISOString()}`,
      published
        ? `Plan: version ${run.planVersion}`
        : `Plan: the draft, not published${run.planVersion > 0 ? ` (after version ${run.planVersion})` : ''}`,
      `Releases: ${releases.join(', ') || 'none seen'}`,
    ],
    warnings: [
      ...(published ? [] : ['Not published: a pass does not count for the plan in force, and verifies nothing.']),
      ...(run.rules === 'published' && newest && newest.number > run.planVersion
        ? [`Version ${newest.number} was published since; this run is judged by version ${run.planVersion}.`]
        : []),
      ...(seen.own > MOST ? [`${seen.own} messages of the tester arrived; the newest ${MOST} are judged.`] : []),
      ...(run.tester.by === 'property' && mayMissValue(heldState().table, run.tester.name)
        ? [
            `Objects at “${run.tester.name}” hold more than is kept in memory: messages of the tester may be missing here. Be told by another property.`,
          ]
        : []),
      ...testerWarnings(plan, run.tester, { ...seen, mine: seen.mine.length }),
    ],
  };
};

const viewOf = async (run: StoredRun): Promise<TrialRunView> => {
  const kept = run.endedAt === null ? undefined : await trialEvidenceOf(database(), run.id);
  if (kept) return { run, ...kept };
  const { published, ...evidence } = await evidenceOf(run);
  // Whoever looks first at a run that is over keeps its evidence.
  if (run.marks.some((m) => m.step === 'end')) {
    await endTrialRun(database(), run, evidence, published);
    const ended = (await findTrialRun(database(), run.id)) ?? run;
    return { run: ended, ...((await trialEvidenceOf(database(), run.id)) ?? evidence) };
  }
  await noteTrialState(database(), run.id, evidence.verdict.state);
  return { run: { ...run, state: evidence.verdict.state }, ...evidence };
};

const noRun = (): Response => problem(404, 'no such run', 'There is no run of this ID.');

export const TRIAL_VIEWS = [
  serve(trialRun, async ({ body: { id } }) => {
    const run = await findTrialRun(database(), id);
    return run ? viewOf(run) : noRun();
  }),
  serve(progress, async ({ url }) => {
    const { plan } = await draftScope(url);
    const { table } = heldState();
    return progressOf(plan, {
      seenOf: (name, source) => seenFrom(table, name, source),
      newestReleaseOf: (name, source) => newestReleaseFrom(table, name, source),
      handOvers: await handOvers(database()),
      tried: await trialResults(database()),
    });
  }),
];
