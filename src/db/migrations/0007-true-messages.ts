import { sql, type Kysely } from 'kysely';

const statements = [
  // A message ID that comes again with other content is another message: both are kept. Empty for the first one of an ID.
  `alter table message_keys add column content text collate "C" not null default ''`,
  // Where the message is: an ID that comes again is compared with what it said first.
  `alter table message_keys add column seq bigint`,
  `update message_keys k set seq = m.seq from messages m where m.workspace_id = k.workspace_id and m.message_id collate "C" = k.message_id`,
  `alter table message_keys drop constraint message_keys_pkey`,
  `alter table message_keys add primary key (workspace_id, message_id, content)`,
  `create index message_keys_reused on message_keys (seq) where content <> ''`,
  // Findings on messages are counted out of the columns.
  `drop table findings`,
  // What a finding was when it was acknowledged: it opens again when it spreads.
  `alter table acknowledgements add column releases text[], add column share double precision`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
