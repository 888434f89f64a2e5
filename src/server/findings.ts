/** The findings on what arrived, grouped by cause, with where each stands. */
import { z } from 'zod';
import { groupFindings, messagesOfFinding } from '../core/arrival/finding-group';
import { arrivalMatrix } from '../core/arrival/matrix';
import { retestsOf } from '../core/arrival/retests';
import { triaged } from '../core/arrival/triage';
import { settingsOf } from '../core/plan/plan';
import { acknowledge, acknowledgements, withdrawAcknowledgement } from '../db/acknowledgement-store';
import { findingCounts } from '../db/finding-store';
import { intakeTotals } from '../db/message-store';
import { answering, json, problem, readJson } from './answer';
import { author } from './author-shape';
import { currentTable } from './columns';
import { database } from './context';
import { bySeq } from './live';
import { manyFindings } from './many-findings';
import { newestVersion } from './published';

const HOUR_MS = 3_600_000;
const DEFAULT_SETTLING_HOURS = 48;
/** So many are shown at once; more are asked for. */
const SAMPLES = 5;

const current = async () => {
  const version = await newestVersion();
  const table = await currentTable();
  const counts = await findingCounts(database(), version?.number ?? 0);
  const many = version && (await manyFindings(version, table.lastSeq));
  const groups = groupFindings(counts, table, many?.groups ?? [], Date.now());
  const settlingHours = version ? settingsOf(version.plan).settlingHours : DEFAULT_SETTLING_HOURS;
  return { version, table, many, triaged: triaged(groups, await acknowledgements(database()), table, Date.now(), settlingHours * HOUR_MS) };
};

/** `GET /api/findings`: all groups under the version in force, and what each source sent. */
export const findings = (): Promise<Response> =>
  answering(async () => {
    const { table, many, triaged: all } = await current();
    const groups = all.map((g) => ({ ...g, samples: g.samples.slice(0, SAMPLES) }));
    return json({ groups, messages: table.length, manyAt: many?.at ?? null, totals: await intakeTotals(database()) });
  });

/** `GET /api/finding-messages?key=…`: the newest messages of one finding, newest first. */
export const findingMessages = (url: URL): Promise<Response> =>
  answering(async () => {
    const wanted = url.searchParams.get('key') ?? '';
    const { table, many, triaged: all } = await current();
    const group = all.find((g) => g.key === wanted);
    if (!group) return problem(404, 'no such finding', 'This finding is not there any more, or a new version is in force.');
    const isOverMany = many?.groups.some((g) => g.key === wanted) ?? false;
    return json(await bySeq(isOverMany ? group.samples : messagesOfFinding(table, wanted)));
  });

/** `GET /api/retests`: what waits to be looked at again. */
export const retests = (): Promise<Response> =>
  answering(async () => {
    const { version, table, triaged: groups } = await current();
    if (!version) return json([]);
    const now = Date.now();
    return json(retestsOf(version.plan, arrivalMatrix(version.plan, table, now, version.at), groups, version.at, now));
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
    else await acknowledge(database(), body.value);
    return json({ ok: true });
  });
