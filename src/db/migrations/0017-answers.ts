import { sql, type Kysely } from 'kysely';

// What was last worked out for readers, a row a question; and the tokens with which other pages read it.
const statements = [
  `create table answers (
     workspace_id integer not null references workspaces,
     question_id text not null,
     place integer not null,
     version integer not null,
     at timestamptz not null,
     body jsonb not null,
     primary key (workspace_id, question_id)
   )`,
  `create table read_tokens (
     id bigint generated always as identity primary key,
     workspace_id integer not null references workspaces,
     hash bytea not null unique,
     label text not null,
     author text not null,
     created_at timestamptz not null default now(),
     revoked_at timestamptz,
     last_used_at timestamptz
   )`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
