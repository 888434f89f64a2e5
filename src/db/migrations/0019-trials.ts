import { sql, type Kysely } from 'kysely';

// Runs of trials with their evidence, what they verified, and what was handed over to whoever builds.
const statements = [
  `create table trial_runs (
     id uuid primary key,
     workspace_id integer not null references workspaces,
     trial_id text not null,
     script jsonb not null,
     rules text not null,
     plan_version integer not null,
     plan_hash text not null,
     tester jsonb not null,
     environment text not null,
     author text not null,
     marks jsonb not null default '[]',
     from_seq bigint not null,
     started_at timestamptz not null default now(),
     touched_at timestamptz not null default now(),
     ended_at timestamptz,
     state text not null default 'not begun',
     evidence jsonb
   )`,
  `create index trial_runs_newest on trial_runs (workspace_id, started_at desc)`,
  `create table trial_verified (
     run_id uuid not null references trial_runs on delete cascade,
     workspace_id integer not null references workspaces,
     event_name text not null,
     source_id text not null,
     release text not null,
     plan_version integer not null,
     author text not null,
     at timestamptz not null default now(),
     primary key (run_id, event_name, source_id, release)
   )`,
  `create index trial_verified_of on trial_verified (workspace_id, event_name, source_id, at desc)`,
  // Messages of a run whose tester is told by an address; the address is not kept with any message.
  `create table trial_senders (
     run_id uuid not null references trial_runs on delete cascade,
     source_id text not null,
     message_id text not null,
     primary key (run_id, source_id, message_id)
   )`,
  `create table hand_overs (
     id bigint generated always as identity primary key,
     workspace_id integer not null references workspaces,
     event_id text not null,
     source_id text not null,
     plan_version integer not null,
     address text not null default '',
     author text not null,
     at timestamptz not null default now()
   )`,
  `create index hand_overs_of on hand_overs (workspace_id, event_id, source_id, id desc)`,
  `create table trackers (
     workspace_id integer primary key references workspaces,
     address text not null,
     secret text not null,
     author text not null,
     at timestamptz not null default now()
   )`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
