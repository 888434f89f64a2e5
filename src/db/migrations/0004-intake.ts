import { sql, type Kysely } from 'kysely';

const statements = [
  `alter table write_keys add column per_minute integer, add column last_used_at timestamptz`,
  // How much of its limit a key has used in a minute. It may be lost with a crash: then a minute begins anew.
  `create unlogged table key_usage (key_id bigint not null, minute bigint not null, messages bigint not null, primary key (key_id, minute))`,
  `create table dead_letters (
     id bigint generated always as identity primary key, workspace_id integer not null references workspaces,
     at timestamptz not null default now(), source_id text not null, reason text not null, detail text not null,
     bytes bytea not null, size bigint not null, replayed_at timestamptz)`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
