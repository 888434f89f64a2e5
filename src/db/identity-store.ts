/** Identifiers, links and persons, as computed by the core, for look-ups by SQL. */
import { storableJson } from '../core/arrival/judged-message';
import { withClient } from './checkout';
import type { Database } from './database';
import { THE_WORKSPACE } from './workspace-store';

export interface IdentityRows {
  readonly identifiers: readonly { readonly kind: string; readonly value: string; readonly person: number }[];
  /** Indices into `identifiers`. */
  readonly links: readonly { readonly a: number; readonly b: number; readonly firstAt: number; readonly refused: string | null }[];
}

const IDENTITY_LOCK = 7351003;

/** Replaces the stored identity by this one, in one transaction. Identifiers keep their numbers. */
export const storeIdentity = (database: Database, { identifiers, links }: IdentityRows): Promise<void> =>
  withClient(database, async (client) => {
    await client.query('begin');
    await client.query(`select pg_advisory_xact_lock(${IDENTITY_LOCK})`);
    await client.query(
      'create temporary table if not exists identity_in (n integer, kind text, value text, person bigint) on commit delete rows',
    );
    await client.query(
      'insert into identity_in select n, left(kind, 400), value, person from json_to_recordset($1) as t(n integer, kind text, value text, person bigint)',
      [storableJson(identifiers.map((i, n) => ({ n, ...i })))],
    );
    await client.query(
      'insert into identifiers (workspace_id, kind, value) select $1, kind, value from identity_in order by kind, value on conflict do nothing',
      [THE_WORKSPACE],
    );
    await client.query('delete from links where workspace_id = $1', [THE_WORKSPACE]);
    await client.query('delete from persons where workspace_id = $1', [THE_WORKSPACE]);
    const join = 'join identifiers d on d.workspace_id = $1 and d.kind = i.kind and md5(d.value) = md5(i.value)';
    await client.query(`insert into persons select $1, d.id, i.person from identity_in i ${join} where i.person >= 0`, [THE_WORKSPACE]);
    await client.query(
      `with known as (select i.n, d.id from identity_in i ${join})
       insert into links select $1, ka.id, kb.id, to_timestamp(l.at / 1000.0), l.refused
       from json_to_recordset($2) as l(a integer, b integer, at float8, refused text) join known ka on ka.n = l.a join known kb on kb.n = l.b`,
      [THE_WORKSPACE, JSON.stringify(links.map((l) => ({ a: l.a, b: l.b, at: l.firstAt, refused: l.refused })))],
    );
    await client.query('commit');
  });
