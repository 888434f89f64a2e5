/** A change of the plan, tried over the recorded messages before it is published. Nothing of it is stored. */
import { dryRun } from '../core/api/dry-run';
import { compileChecker } from '../core/arrival/compile';
import { readMessage } from '../core/arrival/message';
import { personRulesOf } from '../core/identity/person-rules';
import { parseEdit } from '../core/plan/document-schema';
import { applyEdits, type Edit } from '../core/plan/edit';
import { entries, type Plan } from '../core/plan/plan';
import type { PublishedPlan } from '../core/plan/version';
import { dryRunOf, type DryRun } from '../core/scenario/dry-run';
import { isRejudged, judgedTable, judgesAnew, rejudged, type Rejudged } from '../core/scenario/rejudged';
import { worked, type Scenario } from '../core/scenario/side';
import { verdictOf, type MessageTable, type Verdict } from '../core/table/message-table';
import { projected } from '../core/table/projection';
import { readTraffic, type Traffic } from '../core/table/traffic';
import { intakeDays, messagesToJudge } from '../db/message-store';
import { problem } from '../server/answer';
import { currentDraft } from '../server/draft';
import { database } from '../server/context';
import { planWithProposal } from '../server/proposals';
import { serveSteps } from '../server/serve';
import { currentPersons, heldState } from './columns';
import { currentWatch } from './scope';

const PAGE = 5000;

interface Progress {
  readonly done: number;
  readonly total: number;
}

/** What another plan's checks find on the messages that it may judge otherwise: sequence number → findings. */
async function* judgedUnder(
  plan: Plan,
  r: Rejudged,
  table: MessageTable,
): AsyncGenerator<Progress, { found: Map<number, readonly Verdict[]>; judged: number }> {
  const found = new Map<number, readonly Verdict[]>();
  const checker = compileChecker(plan);
  const arrived = table.names.values.filter((n) => isRejudged(r, 'event', n));
  let judged = 0;
  const upTo = table.lastSeq;
  if (!r.all && arrived.length === 0) return { found, judged };
  for (let after = 0; ;) {
    const page = await messagesToJudge(database(), { after, upTo, limit: PAGE, names: r.all ? undefined : arrived });
    for (const m of page) {
      if (!isRejudged(r, m.kind, m.name)) continue;
      judged++;
      const read = readMessage(m.body);
      const findings = read.ok ? checker.check(read.message) : [];
      if (findings.length > 0) found.set(m.seq, findings.map(verdictOf));
    }
    if (page.length < PAGE) return { found, judged };
    after = page.at(-1)!.seq;
    yield { done: after, total: upTo * 2 };
  }
}

/** Steps of a side, so that progress can be told: one for each question and some for the checks over many. */
const stepsOf = (plan: Plan): number => entries(plan, 'question').length + 20;

async function* run(version: PublishedPlan, plan: Plan, traffic: Traffic): AsyncGenerator<Progress, DryRun> {
  const now = Date.now();
  const { table } = heldState();
  const watch = await currentWatch(version);
  const intake = await intakeDays(database());
  const r = rejudged(version.plan, plan);
  const { found, judged } = judgesAnew(r)
    ? yield* judgedUnder(plan, r, table)
    : { found: new Map<number, readonly Verdict[]>(), judged: 0 };
  const [seenBefore, seenAfter] = [projected(table, version.plan, traffic), projected(table, plan, traffic)];
  const scenarios: readonly Scenario[] = [
    {
      plan: version.plan,
      table: seenBefore,
      persons: currentPersons(seenBefore, personRulesOf(version.plan)),
      watch,
      number: version.number,
      publishedAt: version.at,
    },
    {
      plan,
      table: judgedTable(seenAfter, plan, r, found),
      persons: currentPersons(seenAfter, personRulesOf(plan)),
      watch: watch.followedBy(plan, now),
      number: version.number + 1,
      publishedAt: now,
    },
  ];
  const total = 2 * (stepsOf(version.plan) + stepsOf(plan));
  let done = total / 2;
  const sides = [];
  for (const s of scenarios) {
    const work = worked(s, now, intake);
    for (let next = work.next(); ; next = work.next()) {
      if (next.done) {
        sides.push(next.value);
        break;
      }
      yield { done: Math.min(total, ++done), total };
    }
  }
  return dryRunOf(version.number, judged, [version.plan, plan], sides[0]!, sides[1]!);
}

export const DRY_RUN = [
  serveSteps(dryRun, async ({ url, body }) => {
    const { version, recheckOpen } = heldState();
    if (!version)
      return problem(409, 'nothing published', 'No version is published yet, so there is nothing to compare with. Publish a first one.');
    if (recheckOpen)
      return problem(
        409,
        'being checked',
        `Recorded messages are still being checked against version ${version.number}. Try again when that is done.`,
      );
    const base = body.proposal === undefined ? (await currentDraft()).plan : await planWithProposal(body.proposal, version.plan);
    if (!base) return problem(404, 'no such proposal', 'There is no proposal of this id.');
    const edits: Edit[] = [];
    for (const [i, e] of body.edits.entries()) {
      const parsed = parseEdit(e);
      if (!parsed.ok) return problem(400, 'edit rejected', `Edit ${i + 1}: ${parsed.detail}`);
      edits.push(parsed.value);
    }
    const applied = applyEdits(base, edits);
    if (!applied.ok) return problem(409, 'edits do not fit', 'Somebody changed this meanwhile. Reload, and try again.');
    return run(version, applied.plan, readTraffic(url.searchParams.get('traffic')));
  }),
];
