import { sql, type Kysely } from 'kysely';

const statements = [
  // The processes that run now, and what each does: each says so every few seconds, by the clock of the database.
  `create table processes (id uuid primary key, roles text[] not null, address text not null, seen_at timestamptz not null default now())`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
