/** Migrations, forward only. Several processes may call this at once: the first one works, the others wait. */
import { Migrator, sql, type Kysely, type Migration } from 'kysely';
import { alone } from './checkout';
import type { Database } from './database';
import { LOCKS } from './locks';
import type { Schema } from './schema';
import * as first from './migrations/0001-first';
import * as review from './migrations/0002-review';
import * as triage from './migrations/0003-triage';
import * as intake from './migrations/0004-intake';
import * as background from './migrations/0005-background';
import * as idsByByte from './migrations/0006-ids-by-byte';
import * as trueMessages from './migrations/0007-true-messages';
import * as idsBySource from './migrations/0008-ids-by-source';
import * as boundedPartitions from './migrations/0009-bounded-partitions';
import * as oneKeyAnId from './migrations/0010-one-key-an-id';
import * as processes from './migrations/0011-processes';
import * as noIdentityTables from './migrations/0013-no-identity-tables';
import * as columnSegments from './migrations/0012-column-segments';
import * as keptRuns from './migrations/0014-kept-runs';
import * as signOffs from './migrations/0015-sign-offs';
import * as waivers from './migrations/0016-waivers';
import * as answers from './migrations/0017-answers';
import * as alerts from './migrations/0018-alerts';
import * as trials from './migrations/0019-trials';
import * as trialResults from './migrations/0020-trial-results';

const MIGRATIONS: Record<string, Migration> = {
  '0001-first': first,
  '0002-review': review,
  '0003-triage': triage,
  '0004-intake': intake,
  '0005-background': background,
  '0006-ids-by-byte': idsByByte,
  '0007-true-messages': trueMessages,
  '0008-ids-by-source': idsBySource,
  '0009-bounded-partitions': boundedPartitions,
  '0010-one-key-an-id': oneKeyAnId,
  '0011-processes': processes,
  '0012-column-segments': columnSegments,
  '0013-no-identity-tables': noIdentityTables,
  '0014-kept-runs': keptRuns,
  '0015-sign-offs': signOffs,
  '0016-waivers': waivers,
  '0017-answers': answers,
  '0018-alerts': alerts,
  '0019-trials': trials,
  '0020-trial-results': trialResults,
};

/** All of them, in order. */
export const MIGRATION_NAMES: readonly string[] = Object.keys(MIGRATIONS);

/** The database was brought further than this program knows. */
export class NewerSchema extends Error {
  constructor(readonly unknown: readonly string[]) {
    super(
      `A newer version of this program has changed this database: it has ${unknown.join(', ')}, and this version ends with ${MIGRATION_NAMES.at(-1)!}. Start that newer version, or give this one a copy of the database from before; nothing was changed.`,
    );
  }
}

/** Names of the migrations that a database has; none where it has no schema yet. */
export const migrationsOf = async (db: Kysely<Schema>): Promise<string[]> => {
  const { rows } = await sql<{ there: boolean }>`select to_regclass('kysely_migration') is not null as there`.execute(db);
  if (!rows[0]!.there) return [];
  return (await sql<{ name: string }>`select name from kysely_migration order by name`.execute(db)).rows.map((r) => r.name);
};

/** Where one of several migrations begins: which, how many were done before it, and of how many. */
export type Tell = (name: string, before: number, of: number) => void;

/** Names of the migrations that a database lacks, up to one. Errors: `NewerSchema` where it has one that this program does not know. */
const lacking = async (db: Kysely<Schema>, upTo: string): Promise<string[]> => {
  const before = await migrationsOf(db);
  const unknown = before.filter((name) => !(name in MIGRATIONS));
  if (unknown.length > 0) throw new NewerSchema(unknown);
  return MIGRATION_NAMES.filter((name) => name <= upTo && !before.includes(name));
};

/** Brings the database to the newest schema, or to the one of a name, step by step; the names of the migrations that were carried out. What was done stays
 *  done when a later one fails, and the next call goes on from there.
 *  Errors: `NewerSchema` where the database is further than this program; throws when a migration fails; what that one began is rolled back.
 *  A lock is held from the first look to the last step: Kysely's own is taken only after it has looked at every table there is, and that look fails where
 *  another process renames or drops one meanwhile.
 */
export const migrate = async (
  database: Pick<Database, 'db' | 'pool'>,
  upTo: string = MIGRATION_NAMES.at(-1)!,
  tell?: Tell,
): Promise<string[]> => {
  const { db } = database;
  if ((await lacking(db, upTo)).length === 0) return [];
  return alone(database, LOCKS.schema, async () => {
    const migrator = new Migrator({ db, provider: { getMigrations: () => Promise.resolve(MIGRATIONS) } });
    const carriedOut: string[] = [];
    // Another process may have done all of it, or a part, before the lock was given.
    const missing = await lacking(db, upTo);
    for (const [before, name] of missing.entries()) {
      tell?.(name, before, missing.length);
      const { error, results } = await migrator.migrateUp();
      if (error) throw error instanceof Error ? error : new Error('migration failed', { cause: error });
      carriedOut.push(...(results ?? []).map((r) => r.migrationName));
    }
    return carriedOut;
  });
};
