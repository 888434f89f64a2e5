import { sql, type Kysely } from 'kysely';

const statements = [
  // Runs of messages as columns, so that a new process need not read every message again. A cache: whoever empties it loses time alone.
  `create table column_segments (
    workspace_id integer not null references workspaces(id) on delete cascade,
    after bigint not null,
    up_to bigint not null,
    rows integer not null,
    format integer not null,
    bytes bytea not null,
    primary key (workspace_id, after))`,
  // They are packed as they are: PostgreSQL need not try.
  `alter table column_segments alter column bytes set storage external`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
