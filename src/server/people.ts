/** Who is here, and what they say. */
import { comments } from '../core/api/comments';
import { people } from '../core/api/people';
import { presence } from '../core/api/presence';
import { addComment, listComments, settleComment } from '../db/comment-store';
import { leavePresence, notePresence, presentPeople } from '../db/presence-store';
import { problem } from './answer';
import { database } from './context';
import { serve } from './serve';

export const PEOPLE = [
  serve(people, async () => ({ present: await presentPeople(database()), comments: await listComments(database()) })),
  serve(presence, async ({ body }) => {
    if (body.place === '') await leavePresence(database(), body.session);
    else await notePresence(database(), body);
    return { ok: true as const };
  }),
  serve(comments, async ({ body }) => {
    if ('body' in body) return { id: await addComment(database(), body) };
    const found = await settleComment(database(), body.id, body.author, body.settled);
    return found ? { ok: true as const } : problem(404, 'no such comment', 'There is no comment of this number.');
  }),
];
