/** The findings on what arrived, grouped by cause, with where each stands. */
import { z } from 'zod';
import { groupFindings, messagesOfFinding } from '../core/arrival/finding-group';
import { arrivalMatrix } from '../core/arrival/matrix';
import { retestsOf } from '../core/arrival/retests';
import { triaged } from '../core/arrival/triage';
import { settingsOf } from '../core/plan/plan';
import { trafficText } from '../core/table/traffic';
import { acknowledge, acknowledgements, withdrawAcknowledgement } from '../db/acknowledgement-store';
import { intakeTotals, messagesBySeq } from '../db/message-store';
import { answering, json, problem, readJson } from '../server/answer';
import { author } from '../server/author-shape';
import { heldState } from './columns';
import { database } from '../server/context';
import { toLiveMessage } from '../core/arrival/live-message';
import { manyFindings, manyFindingsIn } from './many-findings';
import { currentWatch, publishedScope } from './scope';

const HOUR_MS = 3_600_000;
const DEFAULT_SETTLING_HOURS = 48;
/** So many are shown at once; more are asked for. */
const SAMPLES = 5;

const current = async (url: URL) => {
  const scope = publishedScope(url);
  const { version, table, traffic } = scope;
  const now = Date.now();
  const isCounted = trafficText(traffic) === '';
  const many = version && (await (isCounted ? manyFindings(version, table.lastSeq) : manyFindingsIn(scope)));
  const groups = groupFindings(table, many?.groups ?? [], now);
  const settlingHours = version ? settingsOf(version.plan).settlingHours : DEFAULT_SETTLING_HOURS;
  return { ...scope, now, many, triaged: triaged(groups, await acknowledgements(database()), table, now, settlingHours * HOUR_MS) };
};

/** `GET /api/findings`: all groups under the version in force, and what each source sent. */
export const findings = (url: URL): Promise<Response> =>
  answering(async () => {
    const { table, many, triaged: all } = await current(url);
    const groups = all.map((g) => ({ ...g, samples: g.samples.slice(0, SAMPLES) }));
    // Nothing that counts, and nothing at all, are two things.
    const received = heldState().table.length;
    return json({ groups, messages: table.length, received, manyAt: many?.at ?? null, totals: await intakeTotals(database()) });
  });

/** `GET /api/finding-messages?key=…`: the newest messages of one finding, newest first. */
export const findingMessages = (url: URL): Promise<Response> =>
  answering(async () => {
    const wanted = url.searchParams.get('key') ?? '';
    const { table, many, triaged: all } = await current(url);
    const group = all.find((g) => g.key === wanted);
    if (!group) return problem(404, 'no such finding', 'This finding no longer exists, or a new version is in force.');
    const isOverMany = many?.groups.some((g) => g.key === wanted) ?? false;
    return json((await messagesBySeq(database(), isOverMany ? group.samples : messagesOfFinding(table, wanted))).map(toLiveMessage));
  });

/** `GET /api/retests`: what is to be followed up. */
export const retests = (url: URL): Promise<Response> =>
  answering(async () => {
    const { version, plan, table, triaged: groups, now } = await current(url);
    if (!version) return json([]);
    return json(retestsOf(plan, arrivalMatrix(plan, table, now, await currentWatch(version)), groups, now));
  });

const key = z.string().min(1).max(3000);

/** `POST /api/findings`: a finding is acknowledged with a reason and an end, or that is taken back. */
export const triage = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(
      request,
      z.union([
        z.object({
          key,
          reason: z.string().trim().min(1, { error: 'Say why it is left as it is.' }).max(2000),
          until: z.number().int().positive(),
          assignee: z.string().trim().max(200).default(''),
          author,
        }),
        z.object({ key, open: z.literal(true), author }),
      ]),
    );
    if (!body.ok) return body.response;
    if ('open' in body.value) await withdrawAcknowledgement(database(), body.value.key);
    else {
      const { triaged: all } = await current(new URL(request.url));
      const g = all.find((x) => x.key === (body.value as { key: string }).key);
      await acknowledge(database(), { ...body.value, releases: g?.releases, share: g && g.of > 0 ? g.count / g.of : undefined });
    }
    return json({ ok: true });
  });
