/** Messages out of a file, brought in by somebody at the workplace. */
import { z } from 'zod';
import { parseInstant } from '../core/plan/property-type';
import { answering, json, readJson } from './answer';
import { takeIn } from './intake';
import { parseLine } from './intake-body';

const MOST = 5000;

/** When a message of a file counts as received: when it happened, since a history that is brought in was not late. */
const receiptOf = (value: unknown, now: number): number => {
  const time = typeof value === 'object' && value !== null ? (value as { time?: unknown }).time : undefined;
  const at = typeof time === 'string' ? parseInstant(time) : undefined;
  return at !== undefined && at < now ? at : now;
};

/** `POST /api/backfill`: texts of messages, each a JSON object, as from one source. */
export const backfill = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(
      request,
      z.object({ sourceId: z.string().min(1).max(200), texts: z.array(z.string().max(2_000_000)).min(1).max(MOST) }),
    );
    if (!body.ok) return body.response;
    const { sourceId, texts } = body.value;
    const now = Date.now();
    const lines = texts.map(parseLine);
    const answers = await takeIn(
      lines.map((l) => ({ ...l, receivedAt: receiptOf(l.value, now) })),
      sourceId,
      now,
    );
    const count = (a: string): number => answers.filter((x) => x.answer === a).length;
    return json({
      accepted: count('accepted') + count('accepted with findings'),
      withFindings: count('accepted with findings'),
      duplicates: count('duplicate'),
      refused: answers.flatMap((a) => (a.answer === 'refused' ? [{ index: a.index, detail: a.detail }] : [])),
    });
  });
