import { sql, type Kysely } from 'kysely';

const statements = [
  `create table workspaces (
     id integer generated always as identity primary key, name text not null,
     published_version integer, created_at timestamptz not null default now())`,
  `create table write_keys (
     id bigint generated always as identity primary key, workspace_id integer not null references workspaces,
     source_id text not null, hash bytea not null unique, label text not null,
     created_at timestamptz not null default now(), expires_at timestamptz, revoked_at timestamptz)`,
  `create table plan_entities (
     workspace_id integer not null references workspaces, kind text not null, id text not null,
     rev integer not null, body jsonb not null, updated_at timestamptz not null default now(),
     primary key (workspace_id, kind, id))`,
  `create view questions as
     select workspace_id, id, body ->> 'text' as text, body ->> 'owner' as owner, body -> 'formula' as formula
     from plan_entities where kind = 'question'`,
  `create table plan_changes (
     seq bigint generated always as identity primary key, workspace_id integer not null references workspaces,
     at timestamptz not null default now(), author text not null, label text not null, edits jsonb not null)`,
  `create table plan_versions (
     workspace_id integer not null references workspaces, number integer not null, document jsonb not null,
     content_hash text not null, note text not null, author text not null, at timestamptz not null default now(),
     primary key (workspace_id, number))`,
  // Who wins when a message comes twice. Apart from the messages, since a unique index on a partitioned table must hold the partition key.
  `create table message_keys (workspace_id integer not null, message_id text not null, primary key (workspace_id, message_id))`,
  `create table messages (
     seq bigint generated always as identity, workspace_id integer not null, message_id text not null, source_id text not null,
     kind text not null, name text not null, release text not null, occurred_at timestamptz not null,
     received_at timestamptz not null, body json not null, primary key (seq, received_at)) partition by range (received_at)`,
  `create function ensure_message_partition(at timestamptz) returns void language plpgsql as $$
   declare first timestamptz := date_trunc('month', at at time zone 'UTC') at time zone 'UTC';
           next timestamptz := (date_trunc('month', at at time zone 'UTC') + interval '1 month') at time zone 'UTC';
           name text := 'messages_' || to_char(at at time zone 'UTC', 'YYYY_MM');
   begin
     if to_regclass(name) is not null then return; end if;
     perform pg_advisory_xact_lock(7351002);
     execute format('create table if not exists %I partition of messages for values from (%L) to (%L)', name, first, next);
   end $$`,
  `create table verdicts (
     workspace_id integer not null, plan_version integer not null, seq bigint not null, findings json not null,
     primary key (workspace_id, plan_version, seq))`,
  `create table findings (
     workspace_id integer not null, plan_version integer not null, code text not null, event_name text not null,
     field text not null, source_id text not null, release text not null, severity text not null, params json not null,
     count bigint not null, first_at timestamptz not null, last_at timestamptz not null, samples bigint[] not null,
     primary key (workspace_id, plan_version, code, event_name, field, source_id, release))`,
  `create table intake_counts (
     workspace_id integer not null, source_id text not null, day date not null, accepted bigint not null,
     duplicates bigint not null, refused bigint not null, primary key (workspace_id, source_id, day))`,
  `create table rechecks (
     workspace_id integer not null, plan_version integer not null, up_to bigint not null, done bigint not null,
     finished_at timestamptz, primary key (workspace_id, plan_version))`,
  `create table identifiers (
     id bigint generated always as identity primary key, workspace_id integer not null, kind text not null, value text not null)`,
  `create unique index identifiers_value on identifiers (workspace_id, kind, md5(value))`,
  `create table links (
     workspace_id integer not null, a bigint not null references identifiers on delete cascade,
     b bigint not null references identifiers on delete cascade, first_at timestamptz not null, refused text,
     primary key (workspace_id, a, b))`,
  `create table persons (
     workspace_id integer not null, identifier_id bigint not null references identifiers on delete cascade, person bigint not null,
     primary key (workspace_id, identifier_id))`,
  `create table sign_offs (
     id bigint generated always as identity primary key, workspace_id integer not null references workspaces,
     question_id text not null, plan_version integer not null, author text not null, note text not null,
     at timestamptz not null default now(), fell_at timestamptz, fell_because text)`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
