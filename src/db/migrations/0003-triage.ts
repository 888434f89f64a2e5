import { sql, type Kysely } from 'kysely';

const statements = [
  // A finding is told by its key, whichever plan version found it.
  `create table acknowledgements (
     workspace_id integer not null references workspaces, finding_key text not null, reason text not null,
     until timestamptz not null, assignee text not null, author text not null, at timestamptz not null default now(),
     primary key (workspace_id, finding_key))`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
