import { sql, type Kysely } from 'kysely';

// What a proposal would do, as it was found at a time: evidence for who decides it.
const statements = [
  `create table proposal_runs (
     id bigint generated always as identity primary key,
     proposal_id text not null references proposals (id) on delete cascade,
     at timestamptz not null default now(),
     author text not null,
     last_change bigint not null,
     run jsonb not null
   )`,
  `create index proposal_runs_of on proposal_runs (proposal_id, id desc)`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
