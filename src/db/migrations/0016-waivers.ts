import { sql, type Kysely } from 'kysely';

// Gates that somebody answers for, until a day.
const statements = [
  `create table waivers (
     id bigint generated always as identity primary key,
     workspace_id integer not null references workspaces,
     question_id text not null,
     gate text not null,
     reason text not null,
     author text not null,
     at timestamptz not null default now(),
     until timestamptz not null,
     ended_at timestamptz,
     because text
   )`,
  `create index waivers_of on waivers (workspace_id, question_id, id desc)`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
