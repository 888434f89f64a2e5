/** A run of a trial while it goes on: the tester's messages out of the columns, judged step by step; and how far everything is. */
import { progress } from '../core/api/hand-off';
import { trialRun } from '../core/api/trials';
import { compileChecker } from '../core/arrival/compile';
import { environmentOf } from '../core/arrival/live-filter';
import { identifiersOf, identifiersOfMe, isMine } from '../core/arrival/me';
import { readMessage } from '../core/arrival/message';
import { saidBy } from '../core/arrival/message-finding';
import { newestReleaseFrom, seenFrom } from '../core/arrival/seen';
import { findingSentence } from '../core/arrival/words';
import { contentHash } from '../core/plan/content-hash';
import { DEFAULT_SETTINGS } from '../core/plan/defaults';
import { emptyPlan, type Plan } from '../core/plan/plan';
import { valueAt } from '../core/plan/property-path';
import { progressOf } from '../core/hand-off/progress';
import { userKindOf } from '../core/plan/user-kind';
import type { MessageTable } from '../core/table/message-table';
import type { TrialMessage } from '../core/trial/run';
import { judgeTrial } from '../core/trial/verdict';
import { testerText, testerWarnings, type TrialEvidence, type TrialRunView } from '../core/trial/trial-run';
import { handOvers } from '../db/hand-over-store';
import { messagesBySeq, type ReadMessage } from '../db/message-store';
import { loadVersion } from '../db/plan-store';
import { allVerified, endTrialRun, findTrialRun, noteTrialState, sendersOf, trialEvidenceOf, type StoredRun } from '../db/trial-store';
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

/** The rows since the run began that have an identifier of the tester, or one that was beside such a one. */
const rowsOfTester = (table: MessageTable, from: number, start: ReadonlySet<number>): number[] => {
  const mine = new Set(start);
  const columns = [...table.ids.values()];
  const taken = new Set<number>();
  for (let size = -1; size < mine.size;) {
    size = mine.size;
    for (let row = from; row < table.length; row++) {
      if (taken.has(row) || !columns.some((c) => mine.has(c.get(row)))) continue;
      taken.add(row);
      for (const c of columns) if (c.get(row) >= 0) mine.add(c.get(row));
    }
  }
  return [...taken].sort((a, b) => a - b);
};

interface Seen {
  readonly mine: readonly ReadMessage[];
  readonly others: number;
  readonly elsewhere: ReadonlyMap<string, number>;
  readonly kinds: ReadonlySet<string>;
  readonly users: number;
}

const carries =
  (name: string, value: string) =>
  (m: ReadMessage): boolean => {
    const properties = m.body['properties'];
    if (typeof properties !== 'object' || properties === null) return false;
    const own = properties as Record<string, unknown>;
    const v = valueAt(own, name) ?? valueAt(own, name.split('.'));
    return v !== undefined && (typeof v === 'string' ? v : JSON.stringify(v)) === value;
  };

const fromAddress = async (runId: string): Promise<(m: ReadMessage) => boolean> => {
  const senders = await sendersOf(database(), runId);
  return (m) => senders.get(m.sourceId)?.has(m.messageId) === true;
};

/** The tester's messages since the run began. */
const messagesOf = async (run: StoredRun, plan: Plan): Promise<Seen> => {
  const { table } = heldState();
  const from = table.rowOf(run.fromSeq + 1);
  const { tester } = run;
  const userKind = userKindOf(plan);
  let rows: number[] = [];
  let start = tester.value;
  if (tester.by === 'identifier') {
    const nodes = new Set([...table.ids.keys()].map((kind) => table.findNode(kind, tester.value)).filter((n) => n >= 0));
    rows = rowsOfTester(table, from, nodes);
  } else for (let row = from; row < table.length; row++) rows.push(row);
  const all = await messagesBySeq(
    database(),
    rows.slice(-MOST).map((row) => table.seq.get(row)),
  );
  all.sort((a, b) => a.seq - b.seq);
  if (tester.by !== 'identifier') {
    // The messages that are surely the tester's say which identifiers are theirs.
    const isSurely = tester.by === 'property' ? carries(tester.name, tester.value) : await fromAddress(run.id);
    const first = all.find((m) => isSurely(m) && Object.keys(identifiersOf(m)).length > 0);
    start = Object.values(identifiersOf(first ?? { body: {} }))[0] ?? '';
    if (!first) return { mine: all.filter(isSurely), others: rows.length, elsewhere: new Map(), kinds: new Set(), users: 0 };
  }
  const ids = identifiersOfMe(start, all, userKind);
  const own = all.filter((m) => isMine(ids, m, userKind));
  const here = own.filter((m) => environmentOf(plan, m) === run.environment);
  const elsewhere = new Map<string, number>();
  for (const m of own) {
    const environment = environmentOf(plan, m);
    if (environment !== run.environment) elsewhere.set(environment, (elsewhere.get(environment) ?? 0) + 1);
  }
  const users = new Set(all.map((m) => identifiersOf(m)[userKind]).filter((u) => u !== undefined));
  return {
    mine: here,
    others: table.length - from - own.length,
    elsewhere,
    kinds: new Set(here.flatMap((m) => Object.keys(identifiersOf(m)))),
    users: users.size,
  };
};

const judgedMessages = (plan: Plan, messages: readonly ReadMessage[]): TrialMessage[] => {
  const checker = compileChecker(plan);
  return messages.flatMap((m): TrialMessage[] => {
    const read = readMessage(m.body);
    if (!read.ok) return [];
    const { ids, properties, page } = read.message;
    return [
      {
        seq: m.seq,
        messageId: m.messageId,
        kind: m.kind,
        name: m.name,
        sourceId: m.sourceId,
        release: m.release,
        occurredAt: m.occurredAt,
        receivedAt: m.receivedAt,
        ids,
        properties,
        page,
        findings: checker
          .check(read.message)
          .map((f) => ({ code: f.code, severity: f.severity, sentence: findingSentence(saidBy(f), m.name) })),
      },
    ];
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
      verified: await allVerified(database()),
    });
  }),
];
