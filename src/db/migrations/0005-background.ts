import { sql, type Kysely } from 'kysely';

const statements = [
  // What the checks over many messages found under a version, and up to which message they looked.
  `create table many_findings (
     workspace_id integer not null references workspaces, plan_version integer not null, up_to bigint not null,
     found_at timestamptz not null, groups jsonb not null, primary key (workspace_id, plan_version))`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
