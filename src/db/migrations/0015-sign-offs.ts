import { sql, type Kysely } from 'kysely';

// What each question's signal was, from when on; and who said when that it may be relied on.
const statements = [
  // Of the first versions; nothing ever wrote to it.
  `drop table if exists sign_offs`,
  `create table signals (
     id bigint generated always as identity primary key,
     workspace_id integer not null references workspaces,
     question_id text not null,
     at timestamptz not null,
     version integer not null,
     signal text not null,
     gates jsonb not null
   )`,
  `create index signals_of on signals (workspace_id, question_id, id desc)`,
  `create table sign_offs (
     id bigint generated always as identity primary key,
     workspace_id integer not null references workspaces,
     question_id text not null,
     version integer not null,
     at timestamptz not null default now(),
     author text not null,
     note text not null,
     signal text not null,
     gates jsonb not null,
     headline double precision,
     meaning text not null,
     until timestamptz,
     fell_at timestamptz,
     because text
   )`,
  `create index sign_offs_of on sign_offs (workspace_id, question_id, id desc)`,
  // One word at a time: who signs anew takes the place of who signed before.
  `create unique index sign_offs_holding on sign_offs (workspace_id, question_id) where fell_at is null`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
