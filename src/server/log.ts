/** The log: lines of JSON, each with the request that it belongs to. Neither keys nor values of messages are in it. */
import { AsyncLocalStorage } from 'node:async_hooks';
import pino from 'pino';
import { DatabaseError } from '../db/database';

const requests = new AsyncLocalStorage<string>();

/** Runs the work of a request; what is logged meanwhile has its ID. */
export const asRequest = <T>(id: string, work: () => T): T => requests.run(id, work);

/** The ID of the request that is worked on. */
export const requestId = (): string | undefined => requests.getStore();

/** An error without what was sent: the database quotes rows in its messages and details. */
const bare = (e: unknown): Record<string, unknown> => {
  if (e instanceof DatabaseError) {
    const { code, routine, table, constraint } = e;
    return { type: 'database', code, routine, table, constraint, stack: e.stack?.split('\n').slice(1, 12).join('\n') };
  }
  if (e instanceof Error) return { type: e.name, message: e.message, code: (e as { code?: string }).code, stack: e.stack };
  return { message: String(e) };
};

export const log = pino(
  {
    level: process.env['LOG_LEVEL'] ?? 'info',
    base: { pid: process.pid },
    timestamp: pino.stdTimeFunctions.isoTime,
    serializers: { err: bare },
    mixin: () => {
      const request = requests.getStore();
      return !request ? {} : { request };
    },
  },
  pino.destination({ fd: 2, sync: false }),
);

/** Something that was not expected. */
export const logError = (err: unknown, what = 'unexpected error'): void => log.error({ err }, what);
