/** A change of the plan, tried over the recorded messages before it is published. Nothing of it is stored. */
import { dryRun } from '../core/api/dry-run';
import { keptRun } from '../core/api/kept-run';
import { compileChecker } from '../core/arrival/compile';
import { readMessage } from '../core/arrival/message';
import { personRulesOf } from '../core/identity/person-rules';
import { parseEdit } from '../core/plan/document-schema';
import { applyEdits, type Edit } from '../core/plan/edit';
import { entries, settingsOf, type Plan } from '../core/plan/plan';
import type { PublishedPlan } from '../core/plan/version';
import { dryRunOf, type DryRun } from '../core/scenario/dry-run';
import { fallingSignOffs } from '../core/scenario/falling';
import { touchedRules } from '../core/scenario/touched-rules';
import { isRejudged, judgedTable, judgesAnew, rejudged, type Rejudged } from '../core/scenario/rejudged';
import { resolvePersons, type Persons } from '../core/identity/persons';
import { worked, type Scenario, type Worked } from '../core/scenario/side';
import type { MessageTable } from '../core/table/message-table';
import { verdictOf, type Verdict } from '../core/table/row-verdicts';
import { stretchOfDays, type Stretch } from '../core/scenario/stretch';
import { withPresentNames } from '../core/plan/rename';
import { projected, projectedWithin } from '../core/table/projection';
import { readTraffic, type Traffic } from '../core/table/traffic';
import { intakeDays, messagesToJudge } from '../db/message-store';
import { alertRules } from '../db/alert-rule-store';
import { findProposal, keepRun, proposalEdits } from '../db/proposal-store';
import { holdingSignOffs } from '../db/sign-off-store';
import { holdingWaivers } from '../db/waiver-store';
import { problem, Told } from '../server/answer';
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
  upTo: number,
): AsyncGenerator<Progress, { found: Map<number, readonly Verdict[]>; judged: number }> {
  const found = new Map<number, readonly Verdict[]>();
  const checker = compileChecker(plan);
  const arrived = table.names.values.filter((n) => isRejudged(r, 'event', n));
  let judged = 0;
  if (!r.all && arrived.length === 0) return { found, judged };
  for (let after = 0; ;) {
    const page = await messagesToJudge(database(), { after, upTo, limit: PAGE, names: r.all ? undefined : arrived });
    for (const m of page) {
      if (!isRejudged(r, m.kind, m.name) || table.seq.get(table.rowOf(m.seq)) !== m.seq) continue;
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

/** What the version in force comes to, as it was found for who tried something last: of one state of the persons, for a minute. */
interface InForce {
  readonly key: string;
  readonly now: number;
  readonly side: Worked;
}
const known = new WeakMap<Persons, InForce>();
const KNOWN_FOR_MS = 60_000;

interface Wanted {
  readonly version: PublishedPlan;
  readonly plan: Plan;
  readonly traffic: Traffic;
  /** All history where there is none. */
  readonly stretch?: Stretch | undefined;
}

async function* run({ version, plan: wanted, traffic, stretch }: Wanted): AsyncGenerator<Progress, DryRun> {
  const plan = withPresentNames(wanted);
  const { table } = heldState();
  const watch = await currentWatch(version);
  // What the intake counted is of whole days of receipt, which a stretch of the messages' own time does not add up to.
  const intake = stretch ? [] : await intakeDays(database());
  const seenBy = (p: Plan): MessageTable => (stretch ? projectedWithin(table, p, traffic, stretch) : projected(table, p, traffic));
  const [seenBefore, seenAfter] = [seenBy(version.plan), seenBy(plan)];
  // A stretch is looked at once: it must not drive out the persons that are carried on.
  const personsIn = (seen: MessageTable, p: Plan): Persons => (stretch ? resolvePersons : currentPersons)(seen, personRulesOf(p));
  const persons = personsIn(seenBefore, version.plan);
  const remembered = known.get(persons);
  const waivers = await holdingWaivers(database(), Date.now());
  const key = JSON.stringify([version.number, intake, [...waivers]]);
  const before = remembered?.key === key && Date.now() - remembered.now < KNOWN_FOR_MS ? remembered : undefined;
  // Both sides are looked at at one moment, and a stretch as it was when it ended.
  const now = before?.now ?? Math.min(Date.now(), stretch?.to ?? Infinity);
  const r = rejudged(version.plan, plan);
  const { found, judged } = judgesAnew(r)
    ? yield* judgedUnder(plan, r, stretch ? seenAfter : table, table.lastSeq)
    : { found: new Map<number, readonly Verdict[]>(), judged: 0 };
  const scenarios: readonly Scenario[] = [
    {
      plan: version.plan,
      table: seenBefore,
      persons,
      watch,
      number: version.number,
      publishedAt: version.at,
      waivers,
    },
    {
      plan,
      table: judgedTable(seenAfter, plan, r, found),
      persons: personsIn(seenAfter, plan),
      watch: watch.followedBy(plan, now),
      number: version.number + 1,
      publishedAt: now,
      waivers,
    },
  ];
  const total = 2 * (stepsOf(version.plan) + stepsOf(plan));
  let done = total / 2;
  const sides: Worked[] = before ? [before.side] : [];
  for (const s of scenarios.slice(sides.length)) {
    const work = worked(s, now, intake);
    for (let next = work.next(); ; next = work.next()) {
      if (next.done) {
        sides.push(next.value);
        break;
      }
      yield { done: Math.min(total, ++done), total };
    }
  }
  if (!stretch) known.set(persons, { key, now, side: sides[0]! });
  const whole = dryRunOf(version.number, judged, [version.plan, plan], sides[0]!, sides[1]!);
  const signOffs = fallingSignOffs(await holdingSignOffs(database()), [version.plan, plan], whole.questions);
  const alerts = touchedRules(await alertRules(database()), [version.plan, plan], whole.touched);
  return { ...whole, signOffs, alerts, ...(stretch ? { stretch } : {}) };
}

/** What it is compared with, or why that cannot be. */
const inForce = (): PublishedPlan | Response => {
  const { version, recheckOpen } = heldState();
  if (!version)
    return problem(409, 'nothing published', 'No version is published yet, so there is nothing to compare with. Publish a first one.');
  return recheckOpen
    ? problem(
        409,
        'being checked',
        `Recorded messages are still being checked against version ${version.number}. Try again when that is done.`,
      )
    : version;
};

const stretchIn = (
  { plan }: PublishedPlan,
  { from, through }: { from?: string | undefined; through?: string | undefined },
): Stretch | undefined | Response => {
  if (from === undefined && through === undefined) return undefined;
  if (from === undefined || through === undefined)
    return problem(400, 'half a stretch', 'A stretch has a first day, `from`, and a last one, `through`.');
  const stretch = stretchOfDays(from, through, settingsOf(plan).timeZone);
  return typeof stretch === 'string' ? problem(400, 'no stretch', stretch) : stretch;
};

const noProposal = (): Response => problem(404, 'no such proposal', 'There is no proposal of this id.');

/** Runs, and keeps what comes of it. */
async function* kept(wanted: Wanted, proposal: string, lastChange: number, author: string): AsyncGenerator<Progress, DryRun> {
  const whole = yield* run(wanted);
  // A proposal is decided by what changes most.
  const found = { ...whole, findings: whole.findings.slice(0, MOST_KEPT) };
  switch (await keepRun(database(), proposal, lastChange, author, found)) {
    case 'closed':
      throw new Told('The proposal was decided meanwhile; nothing was kept with it.');
    case 'edited':
      throw new Told('The proposal was edited while it was tried; nothing was kept. Try it again.');
    default:
      return found;
  }
}

const MOST_KEPT = 500;

export const DRY_RUN = [
  serveSteps(dryRun, async ({ url, body }) => {
    const version = inForce();
    if (version instanceof Response) return version;
    const stretch = stretchIn(version, body);
    if (stretch instanceof Response) return stretch;
    const base = body.proposal === undefined ? (await currentDraft()).plan : await planWithProposal(body.proposal, version.plan);
    if (!base) return noProposal();
    const edits: Edit[] = [];
    for (const [i, e] of body.edits.entries()) {
      const parsed = parseEdit(e);
      if (!parsed.ok) return problem(400, 'edit rejected', `Edit ${i + 1}: ${parsed.detail}`);
      edits.push(parsed.value);
    }
    const applied = applyEdits(base, edits);
    if (!applied.ok) return problem(409, 'edits do not fit', 'Somebody changed this meanwhile. Reload, and try again.');
    return run({ version, plan: applied.plan, traffic: readTraffic(url.searchParams.get('traffic')), stretch });
  }),
  serveSteps(keptRun, async ({ url, body }) => {
    const version = inForce();
    if (version instanceof Response) return version;
    const stretch = stretchIn(version, body);
    if (stretch instanceof Response) return stretch;
    const found = await findProposal(database(), body.proposal);
    // What is edited from here on is seen as an edit meanwhile.
    const { lastChange } = await proposalEdits(database(), body.proposal);
    const plan = found && (await planWithProposal(body.proposal, version.plan));
    if (!found || !plan) return noProposal();
    if (found.status !== 'open')
      return problem(409, 'proposal closed', `“${found.name}” is ${found.status}; what it would do is no longer kept.`);
    return kept({ version, plan, traffic: readTraffic(url.searchParams.get('traffic')), stretch }, body.proposal, lastChange, body.author);
  }),
];
