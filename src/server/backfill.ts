/** Messages out of a file, brought in by somebody at the workplace. */
import { z } from 'zod';
import { parseInstant } from '../core/plan/property-type';
import { historyYearsOf } from '../core/plan/plan';
import { answering, json, problem, readJson } from './answer';
import { currentDraft } from './draft';
import { knownKey, takeIn } from './intake';
import { parseLine, type RawMessage } from './intake-body';

const MOST = 5000;
const YEAR_MS = 365.25 * 86_400_000;
/** A clock that runs ahead by a day and two hours is no other date: there are zones. */
const AHEAD_MS = 26 * 3_600_000;

/** A line with when it counts as received: when it happened, since a history that is brought in was not late. What cannot have happened then is
 *  refused, or a slip in a column would make figures of another century.
 */
const dated = (line: RawMessage, now: number, years: number): RawMessage => {
  const { value } = line;
  const time = typeof value === 'object' && value !== null ? (value as { time?: unknown }).time : undefined;
  const at = typeof time === 'string' ? parseInstant(time) : undefined;
  if (at === undefined) return { ...line, receivedAt: now };
  if (at < now - years * YEAR_MS || at > now + AHEAD_MS)
    return {
      ...line,
      refused: `It says that it happened at ${String(time).slice(0, 40)}, ${at < now ? `more than ${years} years ago` : 'which is yet to come'}. Look at the column of the time, or set how far back files reach (Plan, Workspace).`,
    };
  return { ...line, receivedAt: Math.min(at, now) };
};

/** `POST /api/backfill`: texts of messages, each a JSON object, as from the source of a write key, which goes along as it does to the intake. */
export const backfill = (request: Request): Promise<Response> =>
  answering(async () => {
    const key = await knownKey(request.headers.get('authorization'));
    if (!key)
      return problem(
        401,
        'wrong key',
        'A file is brought in with a write key of its source: “Authorization: Bearer …”. Make one at the Hand-off station.',
      );
    const body = await readJson(request, z.object({ texts: z.array(z.string().max(2_000_000)).min(1).max(MOST) }));
    if (!body.ok) return body.response;
    const now = Date.now();
    const years = historyYearsOf((await currentDraft()).plan);
    const lines = body.value.texts.map((text) => dated(parseLine(text), now, years));
    const answers = await takeIn(lines, key.sourceId, now);
    const count = (a: string): number => answers.filter((x) => x.answer === a).length;
    return json({
      accepted: count('accepted') + count('accepted with findings'),
      withFindings: count('accepted with findings'),
      duplicates: count('duplicate'),
      refused: answers.flatMap((a) => (a.answer === 'refused' ? [{ index: a.index, detail: a.detail }] : [])),
    });
  });
