/** Who is here, and what they say. */
import { z } from 'zod';
import { KINDS } from '../core/plan/plan';
import { addComment, listComments, settleComment } from '../db/comment-store';
import { leavePresence, notePresence, presentPeople } from '../db/presence-store';
import { answering, json, problem, readJson } from './answer';
import { author } from './author-shape';
import { database } from './context';

/** `GET /api/people`: those who are looking, and all comments. */
export const people = (): Promise<Response> =>
  answering(async () => json({ present: await presentPeople(database()), comments: await listComments(database()) }));

/** `POST /api/presence`: here I am; with an empty place: I am going. */
export const presence = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, z.object({ session: z.string().min(1).max(60), author, place: z.string().max(300) }));
    if (!body.ok) return body.response;
    if (body.value.place === '') await leavePresence(database(), body.value.session);
    else await notePresence(database(), body.value);
    return json({ ok: true });
  });

/** `POST /api/comments`: a new comment, or one that is settled or opened again. */
export const comment = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(
      request,
      z.union([
        z.object({
          kind: z.enum([...KINDS, 'proposal']),
          entityId: z.string().min(1).max(100),
          proposalId: z.string().max(100).nullable().default(null),
          body: z.string().trim().min(1, { error: 'A comment has words.' }).max(5000),
          author,
        }),
        z.object({ id: z.number().int(), settled: z.boolean(), author }),
      ]),
    );
    if (!body.ok) return body.response;
    if ('body' in body.value) return json({ id: await addComment(database(), body.value) }, 201);
    const found = await settleComment(database(), body.value.id, body.value.author, body.value.settled);
    return found ? json({ ok: true }) : problem(404, 'no such comment', 'There is no comment of this number.');
  });
