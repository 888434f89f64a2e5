/** What is written into statements and rows, read back by PostgreSQL itself. */
import fc from 'fast-check';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { BinaryWriter } from '../../src/db/binary';
import { inlined, literal, sendWithCopy, textArrayLiteral } from '../../src/db/one-message';
import { testDatabase } from '../build/database';

let pool: pg.Pool;
let client: pg.PoolClient;
beforeAll(async () => {
  pool = new pg.Pool({ connectionString: await testDatabase('one_message_test', 'bare') });
  client = await pool.connect();
});
afterAll(async () => {
  client.release();
  await pool.end();
});

/** Any text that PostgreSQL holds, with what could break out of a literal in it more often than chance would have it. */
const text = fc
  .array(
    fc.oneof(
      fc.constantFrom("'", '"', '\\', '{', '}', ',', '$1', "''", "\\'", '\n', '\t', 'NULL', '--', '/*', ';'),
      fc.string({ unit: 'grapheme' }),
    ),
    {
      maxLength: 8,
    },
  )
  .map((parts) =>
    parts
      .join('')
      .replaceAll('\0', '')
      .replace(/[\ud800-\udfff]/gu, ''),
  );

test('texts as literals, alone, in arrays and as parameters, come back as they were', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(text, { maxLength: 6 }), text, fc.integer(), async (texts, own, n) => {
      const { rows } = await client.query<{ list: string[]; own: string; n: string; again: string; nothing: null }>(
        `select ${textArrayLiteral(texts)} as list, ${literal(own)} as own, ${inlined({ text: '$2::bigint as n, $1 as again, $3::text as nothing', values: [own, n, null] })}`,
      );
      expect(rows).toEqual([{ list: texts, own, n: String(n), again: own, nothing: null }]);
    }),
    { seed: 8, numRuns: 400 },
  );
});

test('rows in binary, with numbers, instants and texts from end to end of their ranges, come back as they were', async () => {
  await client.query('create temporary table round_trip (n bigint, small integer, at timestamptz, name text, body json)');
  const row = fc.record({
    n: fc.oneof(fc.maxSafeInteger(), fc.integer()),
    small: fc.integer(),
    // RFC 3339 has the years 0 to 9999.
    at: fc
      .date({ min: new Date('0001-01-01T00:00:00Z'), max: new Date('9999-12-31T23:59:59.999Z'), noInvalidDate: true })
      .map((d) => d.getTime()),
    name: fc.oneof(
      text,
      fc.string({ unit: 'grapheme', minLength: 60, maxLength: 90 }).map((s) => s.replaceAll('\0', '').replace(/[\ud800-\udfff]/gu, '')),
    ),
    body: fc.jsonValue({ maxDepth: 2 }),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(row, { minLength: 1, maxLength: 12 }), async (rows) => {
      const w = new BinaryWriter();
      for (const r of rows) {
        w.int16(5);
        w.bigint(0);
        w.patch64(w.length - 8, r.n);
        w.integer(r.small);
        w.instant(r.at);
        w.text(r.name);
        w.raw(Buffer.from(JSON.stringify(r.body)));
      }
      await client.query('truncate round_trip');
      await sendWithCopy(client, ['begin', 'copy round_trip from stdin (format binary)', 'commit'], [w.slice()]);
      const back = await client.query<{ n: string; small: number; at: string; name: string; body: string }>(
        'select n, small, (extract(epoch from at) * 1000)::bigint as at, name, body::text as body from round_trip order by ctid',
      );
      expect(back.rows).toEqual(
        rows.map((r) => ({ n: String(r.n), small: r.small, at: String(r.at), name: r.name, body: JSON.stringify(r.body) })),
      );
    }),
    { seed: 6, numRuns: 150 },
  );
});

test('what the database refuses, before or after the rows, rejects and leaves the connection usable', async () => {
  await client.query('create temporary table few (n bigint primary key)');
  const one = (): Buffer => {
    const w = new BinaryWriter();
    w.int16(1);
    w.bigint(7);
    return w.slice();
  };
  const copy = 'copy few from stdin (format binary)';
  await expect(sendWithCopy(client, ['begin', 'select 1 / 0', copy, 'commit'], [one()])).rejects.toThrow('division by zero');
  await client.query('rollback');
  await expect(sendWithCopy(client, ['begin', copy, 'insert into few values (7)', 'commit'], [one()])).rejects.toThrow('duplicate key');
  await client.query('rollback');
  await sendWithCopy(client, ['begin', copy, 'commit'], [one()]);
  expect((await client.query('select n from few')).rows).toEqual([{ n: '7' }]);
});
