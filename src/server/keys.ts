/** Write keys. */
import { z } from 'zod';
import { createWriteKey } from '../db/workspace-store';
import { currentDraft } from './draft';
import { answering, json, problem, readJson } from './answer';
import { database } from './context';

const shape = z.object({
  sourceId: z.string().min(1),
  label: z.string().trim().min(1).max(100),
  hours: z.number().positive().max(8760).optional(),
});

/** `POST /api/keys`: a new write key for a source, shown this once. With `hours` it runs out by itself. */
export const newKey = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, shape);
    if (!body.ok) return body.response;
    const { sourceId, label, hours } = body.value;
    const { plan } = await currentDraft();
    if (!plan.source[sourceId]) return problem(404, 'no such source', `The plan has no source “${sourceId}”.`);
    const expiresAt = hours === undefined ? null : new Date(Date.now() + hours * 3_600_000);
    return json({ key: await createWriteKey(database(), sourceId, label, expiresAt) });
  });
