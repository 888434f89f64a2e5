import { sql, type Kysely } from 'kysely';

// They were a copy of what is worked out over the columns, and nothing read them.
const statements = [`drop table persons`, `drop table links`, `drop table identifiers`];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
