/** Write keys. */
import { keys } from '../core/api/keys';
import { newKey } from '../core/api/new-key';
import { createWriteKey, endKey, keysOf } from '../db/key-store';
import { currentDraft } from './draft';
import { problem } from './answer';
import { database } from './context';
import { HOUR_MS } from '../core/time';
import { serve } from './serve';

export const KEYS = [
  serve(keys, ({ query }) => keysOf(database(), query.source)),
  serve(newKey, async ({ body }) => {
    if ('end' in body)
      return (await endKey(database(), body.end, body.hours))
        ? { ok: true as const }
        : problem(404, 'no such key', 'This key has ended already.');
    const { sourceId, label, hours, perMinute } = body;
    const { plan } = await currentDraft();
    if (!Object.hasOwn(plan.source, sourceId)) return problem(404, 'no such source', `The plan has no source “${sourceId}”.`);
    const expiresAt = hours === undefined ? null : new Date(Date.now() + hours * HOUR_MS);
    return { key: await createWriteKey(database(), sourceId, label, expiresAt, perMinute ?? null) };
  }),
];
