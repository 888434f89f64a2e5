import { sql, type Kysely } from 'kysely';

const statements = [
  // Which message it is: its source and its ID. Two sources that count from one do not take each other's messages away.
  `alter table message_keys add column source_id text collate "C" not null default ''`,
  `update message_keys k set source_id = m.source_id from messages m where m.workspace_id = k.workspace_id and m.seq = k.seq`,
  `alter table message_keys drop constraint message_keys_pkey`,
  // What was another content under an ID was perhaps but another source's: the first of each source is the first now.
  `update message_keys k set content = '' from (
     select distinct on (workspace_id, message_id, source_id) workspace_id, message_id, source_id, content from message_keys
     order by workspace_id, message_id, source_id, content <> '', seq) first
   where k.workspace_id = first.workspace_id and k.message_id = first.message_id and k.source_id = first.source_id
     and k.content = first.content and first.content <> ''`,
  `alter table message_keys add primary key (workspace_id, message_id, source_id, content)`,
  // Another source had sent a message under this ID before: both are kept, and it is told.
  `alter table message_keys add column elsewhere boolean not null default false`,
  `update message_keys k set elsewhere = true where exists (select from message_keys o
     where o.workspace_id = k.workspace_id and o.message_id = k.message_id and o.source_id <> k.source_id and o.seq < k.seq)`,
  `create index message_keys_elsewhere on message_keys (seq) where elsewhere`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
