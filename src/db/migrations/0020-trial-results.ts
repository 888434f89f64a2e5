import { sql, type Kysely } from 'kysely';

// What a trial refuted is kept beside what it verified: a failed one takes back what an earlier one of the same release showed.
const statements = [
  `alter table trial_verified rename to trial_results`,
  `alter index trial_verified_of rename to trial_results_of`,
  `alter table trial_results add column passed boolean not null default true`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
