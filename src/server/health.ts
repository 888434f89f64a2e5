/** Whether this process can serve: the database answers. */
import { answering, json } from './answer';
import { database } from './context';

export const health = (): Promise<Response> =>
  answering(async () => {
    await database().pool.query('select 1');
    return json({ ok: true });
  });
