import { sql, type Kysely } from 'kysely';

// What is told to whom: rules, what was seen at the last look, what happened, and what is on its way.
const statements = [
  `create table alert_rules (
     id bigint generated always as identity primary key,
     workspace_id integer not null references workspaces,
     body jsonb not null,
     rev integer not null default 1,
     secret text not null,
     author text not null,
     at timestamptz not null default now(),
     removed_at timestamptz
   )`,
  `create table alert_state (
     workspace_id integer primary key references workspaces,
     look bigint not null,
     at timestamptz not null,
     body jsonb not null
   )`,
  `create table alerts (
     id bigint generated always as identity primary key,
     workspace_id integer not null references workspaces,
     cause text not null,
     kind text not null,
     severity text not null,
     body jsonb not null,
     at timestamptz not null,
     done_at timestamptz,
     done_by text,
     snoozed_until timestamptz,
     unique (workspace_id, cause)
   )`,
  `create index alerts_open on alerts (workspace_id, id desc) where done_at is null`,
  `create table deliveries (
     id uuid primary key,
     workspace_id integer not null references workspaces,
     rule_id bigint not null references alert_rules,
     rule_name text not null,
     by text not null,
     target text not null,
     told jsonb not null,
     made_at timestamptz not null default now(),
     next_at timestamptz not null,
     claimed_until timestamptz,
     tries integer not null default 0,
     state text not null default 'waiting',
     status integer,
     error text,
     done_at timestamptz
   )`,
  `create index deliveries_waiting on deliveries (next_at) where state = 'waiting'`,
  // What the stand-in receiver of webhooks and the stand-in mailbox were sent.
  `create table stand_in_post (
     id bigint generated always as identity primary key,
     at timestamptz not null default now(),
     kind text not null,
     head jsonb not null,
     body text not null
   )`,
  `create index deliveries_newest on deliveries (workspace_id, made_at desc)`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
