/** Write keys. */
import { z } from 'zod';
import { createWriteKey, endKey, keysOf } from '../db/key-store';
import { currentDraft } from './draft';
import { answering, json, problem, readJson } from './answer';
import { database } from './context';

const shape = z.union([
  z.object({
    sourceId: z.string().min(1),
    label: z.string().trim().min(1).max(100),
    hours: z.number().positive().max(8760).optional(),
    perMinute: z.number().int().positive().max(10_000_000).optional(),
  }),
  /** Ends a key: at once, or after some hours, so that a new one can take its place without a gap. */
  z.object({ end: z.number().int().positive(), hours: z.number().int().min(0).max(8760) }),
]);

/** `POST /api/keys`: a new write key for a source, shown this once, or the end of one. With `hours` a new one runs out by itself. */
export const newKey = (request: Request): Promise<Response> =>
  answering(async () => {
    const body = await readJson(request, shape);
    if (!body.ok) return body.response;
    if ('end' in body.value)
      return (await endKey(database(), body.value.end, body.value.hours))
        ? json({ ok: true })
        : problem(404, 'no such key', 'This key has ended already.');
    const { sourceId, label, hours, perMinute } = body.value;
    const { plan } = await currentDraft();
    if (!Object.hasOwn(plan.source, sourceId)) return problem(404, 'no such source', `The plan has no source “${sourceId}”.`);
    const expiresAt = hours === undefined ? null : new Date(Date.now() + hours * 3_600_000);
    return json({ key: await createWriteKey(database(), sourceId, label, expiresAt, perMinute ?? null) });
  });

/** `GET /api/keys?source=…`: the keys of a source that are in use; never the keys themselves. */
export const keys = (url: URL): Promise<Response> =>
  answering(async () => json(await keysOf(database(), url.searchParams.get('source') ?? '')));
