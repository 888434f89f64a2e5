/** Whether this process can serve: the database answers. */
import { ping } from '../db/database';
import { answering, json } from './answer';
import { database } from './context';

export const health = (): Promise<Response> =>
  answering(async () => {
    await ping(database());
    return json({ ok: true });
  });
