import { sql, type Kysely } from 'kysely';

const statements = [
  // Message IDs are told apart, not sorted for people: by byte is the fastest order, and the same in every database.
  `alter table message_keys alter column message_id type text collate "C"`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
