import { sql, type Kysely } from 'kysely';

const statements = [
  `create table proposals (
     id text primary key, workspace_id integer not null references workspaces, name text not null, note text not null,
     author text not null, at timestamptz not null default now(), base_version integer not null,
     status text not null default 'open' check (status in ('open', 'accepted', 'declined')),
     decided_by text, decided_at timestamptz, decision_note text)`,
  `create table proposal_changes (
     seq bigint generated always as identity primary key, proposal_id text not null references proposals on delete cascade,
     at timestamptz not null default now(), author text not null, label text not null, edits jsonb not null)`,
  `create index proposal_changes_of on proposal_changes (proposal_id, seq)`,
  `create table comments (
     id bigint generated always as identity primary key, workspace_id integer not null references workspaces,
     proposal_id text references proposals on delete cascade, kind text not null, entity_id text not null,
     author text not null, at timestamptz not null default now(), body text not null,
     resolved_by text, resolved_at timestamptz)`,
  `create index comments_of on comments (workspace_id, kind, entity_id)`,
  // Who is looking: gone after a crash, which is what it should be.
  `create unlogged table presence (
     workspace_id integer not null, session text not null, author text not null, place text not null,
     seen_at timestamptz not null, primary key (workspace_id, session))`,
  `create index plan_changes_at on plan_changes (workspace_id, at)`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
