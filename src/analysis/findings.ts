/** The findings on what arrived, grouped by cause, with where each is. */
import { acknowledge } from '../core/api/acknowledge';
import { findingMessages } from '../core/api/finding-messages';
import { findings } from '../core/api/findings';
import { followUps } from '../core/api/follow-ups';
import { groupFindings, messagesOfFinding } from '../core/arrival/finding-group';
import { arrivalMatrix } from '../core/arrival/matrix';
import { followUpsOf } from '../core/arrival/follow-ups';
import { triaged } from '../core/arrival/triage';
import { settingsOf } from '../core/plan/plan';
import { trafficText } from '../core/table/traffic';
import { acknowledge as keepAcknowledgement, acknowledgements, withdrawAcknowledgement } from '../db/acknowledgement-store';
import { intakeTotals, messagesBySeq } from '../db/message-store';
import { problem } from '../server/answer';
import { serve } from '../server/serve';
import { heldState } from './columns';
import { database } from '../server/context';
import { toLiveMessage } from '../core/arrival/live-message';
import { afterFirstLook, manyFindings, manyFindingsIn } from './many-findings';
import { HOUR_MS } from '../core/time';
import { currentWatch, publishedScope } from './scope';

const DEFAULT_SETTLING_HOURS = 48;
/** So many are shown at once; more are asked for. */
const SAMPLES = 5;

/** The findings as somebody sees them now. `many`: what the checks over many found; `undefined` where they have not looked, which is no all-clear. */
export const currentFindings = async (url: URL) => {
  const scope = publishedScope(url);
  const { version, table, traffic } = scope;
  const now = Date.now();
  const isCounted = trafficText(traffic) === '';
  const many = version && (await (isCounted ? manyFindings(version, table.lastSeq) : manyFindingsIn(scope)));
  const groups = groupFindings(table, many?.groups ?? [], now);
  const settlingHours = version ? settingsOf(version.plan).settlingHours : DEFAULT_SETTLING_HOURS;
  return { ...scope, now, many, triaged: triaged(groups, await acknowledgements(database()), table, now, settlingHours * HOUR_MS) };
};

/** The same for who asks for a view: after a version that was just published they have a moment to look. */
const findingsShown = async (url: URL) => {
  await afterFirstLook();
  return currentFindings(url);
};

export const FINDINGS = [
  serve(findings, async ({ url }) => {
    const { table, many, triaged: all } = await findingsShown(url);
    const groups = all.map((g) => ({ ...g, samples: g.samples.slice(0, SAMPLES) }));
    // Nothing that counts, and nothing at all, are two things.
    const received = heldState().table.length;
    return { groups, messages: table.length, received, manyAt: many?.at ?? null, totals: await intakeTotals(database()) };
  }),
  serve(findingMessages, async ({ url, query: { key: wanted } }) => {
    const { table, many, triaged: all } = await findingsShown(url);
    const group = all.find((g) => g.key === wanted);
    if (!group) return problem(404, 'no such finding', 'This finding no longer exists, or a new version is in force.');
    const isOverMany = many?.groups.some((g) => g.key === wanted) ?? false;
    return (await messagesBySeq(database(), isOverMany ? group.samples : messagesOfFinding(table, wanted))).map(toLiveMessage);
  }),
  serve(followUps, async ({ url }) => {
    const { version, plan, table, triaged: groups, now } = await findingsShown(url);
    if (!version) return [];
    return followUpsOf(plan, arrivalMatrix(plan, table, now, await currentWatch(version)), groups, now);
  }),
  serve(acknowledge, async ({ url, body }) => {
    if ('open' in body) await withdrawAcknowledgement(database(), body.key);
    else {
      if (body.until <= Date.now()) return problem(400, 'day gone by', 'The day has gone by; choose a later one.');
      const { triaged: all } = await findingsShown(url);
      const g = all.find((x) => x.key === body.key);
      if (!g) return problem(404, 'no such finding', 'Nothing is found under this key now, so there is nothing to acknowledge.');
      await keepAcknowledgement(database(), { ...body, releases: g.releases, share: g.outOf > 0 ? g.count / g.outOf : undefined });
    }
    return { ok: true as const };
  }),
];
