import { sql, type Kysely } from 'kysely';

const statements = [
  // What the checks over many messages found under a version, and up to which message they looked.
  `create table many_findings (
     workspace_id integer not null references workspaces, plan_version integer not null, up_to bigint not null,
     found_at timestamptz not null, groups jsonb not null, primary key (workspace_id, plan_version))`,
  // Findings to look at again: asked for with a date, or because a wait came to its end.
  `create table retests (
     workspace_id integer not null references workspaces, id bigint generated always as identity primary key,
     key text not null, title text not null, due_at timestamptz not null, asked_by text not null,
     asked_at timestamptz not null default now(), done_at timestamptz, outcome text not null default '')`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
