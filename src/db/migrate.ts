/** Migrations, forward only. Several processes may call this at once: the first one works, the others wait. */
import { Migrator, type Kysely, type Migration } from 'kysely';
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

/** Brings the database to the newest schema, or to the one of a name; the names of the migrations that were carried out.
 *  Errors: throws when a migration fails; what it began is rolled back.
 *  Kysely's PostgreSQL adapter holds an advisory lock for the whole run.
 */
export const migrate = async (db: Kysely<Schema>, upTo?: string): Promise<string[]> => {
  const migrator = new Migrator({ db, provider: { getMigrations: () => Promise.resolve(MIGRATIONS) } });
  const { error, results } = await (upTo === undefined ? migrator.migrateToLatest() : migrator.migrateTo(upTo));
  if (error) throw error instanceof Error ? error : new Error('migration failed', { cause: error });
  return (results ?? []).map((r) => r.migrationName);
};
