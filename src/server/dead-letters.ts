/** What the intake could not read: looked through, mended, sent again. */
import { z } from 'zod';
import { deadLetters, deadLetterSource, markReplayed } from '../db/dead-letter-store';
import { answering, json, problem, readJson } from './answer';
import { database } from './context';
import { takeIn } from './intake';
import { parseLine } from './intake-body';

const SHOWN = 200;
const MOST_TEXT = 300;

/** `GET /api/dead-letters?like=…`: the newest that hold a text. */
export const list = (url: URL): Promise<Response> =>
  answering(async () => json(await deadLetters(database(), (url.searchParams.get('like') ?? '').slice(0, MOST_TEXT), SHOWN)));

/** `POST /api/dead-letters`: a text in place of what was refused, as from the same source. What is refused again stays as it was. */
export const replay = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, z.object({ id: z.number().int().positive(), text: z.string().min(1).max(2_000_000) }));
    if (!body.ok) return body.response;
    const { id, text } = body.value;
    const sourceId = await deadLetterSource(database(), id);
    if (sourceId === undefined) return problem(404, 'gone', 'It is not there any more.');
    const [answer] = await takeIn([parseLine(text)], sourceId, Date.now(), false);
    if (answer!.answer === 'refused') return problem(422, answer!.reason, answer!.detail);
    await markReplayed(database(), id);
    return json(answer);
  });
