/** A connection that does not come in time: whether the database is away, or whoever waits had no time to listen. */
import { createServer, type AddressInfo } from 'node:net';
import { expect, test } from 'vitest';
import { isUnavailable, openDatabase } from '../../src/db/database';
import { testDatabase } from '../build/database';

/** Far longer than a connection on loopback takes. */
const WITHIN_MS = 1500;

/** Computes without a pause, as a check over many may. */
const compute = (ms: number): void => {
  const until = Date.now() + ms;
  while (Date.now() < until);
};

test('a thread that computed while it waited asks again, by statement, by connection and by several at once', async () => {
  const database = openDatabase(await testDatabase('patient_pool', 'bare'), WITHIN_MS);
  try {
    const asked = [
      database.pool.query<{ n: number }>('select 1 as n').then(({ rows }) => rows[0]!.n),
      database.pool.connect().then(async (client) => {
        const { rows } = await client.query<{ n: number }>('select 2 as n');
        client.release();
        return rows[0]!.n;
      }),
      database.db
        .selectNoFrom((e) => e.lit(3).as('n'))
        .executeTakeFirstOrThrow()
        .then(({ n }) => n),
    ];
    await new Promise((next) => setImmediate(next));
    compute(WITHIN_MS * 1.2);
    expect(await Promise.all(asked)).toEqual([1, 2, 3]);
    // What was given back is there for others.
    expect([database.pool.waitingCount, database.pool.idleCount]).toEqual([0, database.pool.totalCount]);
  } finally {
    await database.pool.end();
  }
});

test('a database that says nothing is away, as soon as it has had its time', async () => {
  let asked = 0;
  const silent = createServer((socket) => {
    asked++;
    socket.on('error', () => undefined);
  });
  await new Promise<void>((up) => silent.listen(0, '127.0.0.1', up));
  const database = openDatabase(`postgres://nobody@127.0.0.1:${(silent.address() as AddressInfo).port}/nothing`, 300);
  try {
    const told = await database.pool.query('select 1').then(
      () => undefined,
      (e: unknown) => e,
    );
    expect([isUnavailable(told), asked]).toEqual([true, 1]);
  } finally {
    await database.pool.end();
    silent.close();
  }
});
