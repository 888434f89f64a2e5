/** Messages out of a file, imported by somebody at the workplace. */
import { backfill, type BackfillAnswer } from '../core/api/backfill';
import { parseInstant } from '../core/plan/property-type';
import { historyYearsOf } from '../core/plan/plan';
import { json, problem, readJson } from './answer';
import { serveRaw } from './serve';
import { currentDraft } from './draft';
import { ahead } from './ahead';
import { BATCHES_AT_ONCE, knownKey, takeIn } from './intake';
import { BadBody, Hold, isNdjson, parseLine, readLines, TooMuchHeld, type RawMessage } from './intake-body';
import { TooBusy } from './writer';

const YEAR_MS = 365.25 * 86_400_000;
/** A clock that runs ahead by a day and two hours is no other date: there are zones. */
const AHEAD_MS = 26 * 3_600_000;

/** A line with when it counts as received: when it happened, since a history that is imported was not late. What cannot have happened then is
 *  rejected, or a slip in a column would make figures of another century.
 */
const dated = (line: RawMessage, now: number, years: number): RawMessage => {
  const { value } = line;
  const time = typeof value === 'object' && value !== null ? (value as { time?: unknown }).time : undefined;
  const at = typeof time === 'string' ? parseInstant(time) : undefined;
  if (at === undefined) return { ...line, receivedAt: now };
  if (at < now - years * YEAR_MS || at > now + AHEAD_MS)
    return {
      ...line,
      rejected: `It says that it happened at ${String(time).slice(0, 40)}, ${at < now ? `more than ${years} years ago` : 'which is yet to come'}. Look at the column of the time, or set how far back files reach (Plan, Workspace).`,
    };
  return { ...line, receivedAt: Math.min(at, now) };
};

/** `POST /api/backfill`: texts of messages, each a JSON object, or NDJSON of any length, as from the source of a write key, which goes along as it does to the intake. */
const take = async (request: Request): Promise<Response> => {
  const key = await knownKey(request.headers.get('authorization'));
  if (!key)
    return problem(
      401,
      'wrong key',
      'A file is imported with a write key of its source: “Authorization: Bearer …”. Make one at the Hand-off station.',
    );
  const now = Date.now();
  const years = historyYearsOf((await currentDraft()).plan);
  if (isNdjson(request.headers)) return backfillLines(request, key.sourceId, now, years);
  const body = await readJson(request, backfill.body);
  if (!body.ok) return body.response;
  const lines = body.value.texts.map((text) => dated(parseLine(text), now, years));
  const answers = await takeIn(lines, key.sourceId, now);
  const sum = new Backfilled();
  sum.add(answers);
  return json(sum.said());
};

export const BACKFILL = [serveRaw(backfill, take)];

type Answers = Awaited<ReturnType<typeof takeIn>>;

/** So many rejections are told one by one. */
const MAX_TOLD = 10_000;

/** What became of the lines of a file. */
class Backfilled {
  private lines = 0;
  private accepted = 0;
  private withFindings = 0;
  private duplicates = 0;
  private rejectedCount = 0;
  private readonly rejected: BackfillAnswer['rejected'][number][] = [];

  add(answers: Answers): void {
    for (const a of answers) {
      if (a.answer === 'duplicate') this.duplicates++;
      else if (a.answer === 'rejected') {
        this.rejectedCount++;
        if (this.rejected.length < MAX_TOLD) this.rejected.push({ index: this.lines + a.index, detail: a.detail });
      } else {
        this.accepted++;
        if (a.answer === 'accepted with findings') this.withFindings++;
      }
    }
    this.lines += answers.length;
  }

  get taken(): number {
    return this.lines;
  }

  said(): BackfillAnswer {
    const { accepted, withFindings, duplicates, rejected, rejectedCount } = this;
    return { accepted, withFindings, duplicates, rejected, ...(rejectedCount > rejected.length ? { rejectedCount } : {}) };
  }
}

/** A file of any length, one message a line, as it comes. */
const backfillLines = async (request: Request, sourceId: string, now: number, years: number): Promise<Response> => {
  const hold = new Hold();
  const sum = new Backfilled();
  try {
    const batches = ahead(readLines(request, hold), BATCHES_AT_ONCE, async ({ lines, done }) => {
      const answers = await takeIn(
        lines.map((line) => dated(line, now, years)),
        sourceId,
        now,
      );
      done();
      return answers;
    });
    for await (const answers of batches) sum.add(answers);
    return json(sum.said());
  } catch (e) {
    const before = sum.taken === 0 ? '' : `The first ${sum.taken.toLocaleString('en-GB')} lines are taken in; sent again they count once. `;
    if (e instanceof BadBody) return problem(e.status, e.title, before + e.message, { connection: 'close' });
    if (e instanceof TooBusy || e instanceof TooMuchHeld)
      return problem(503, 'busy', `${before}More messages wait than can be written just now; send the rest in a few seconds.`, {
        'retry-after': '2',
        connection: 'close',
      });
    throw e;
  } finally {
    hold.release();
  }
};
