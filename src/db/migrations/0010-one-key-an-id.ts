import { sql, type Kysely } from 'kysely';

const statements = [
  // The source moves into what tells messages under one ID apart, so that the index says by itself when an ID is taken, whoever has it: nothing is looked up
  // for a message whose ID is new.
  `update message_keys k set content = k.content || '@' || k.source_id from (
     select distinct on (workspace_id, message_id) workspace_id, message_id, source_id from message_keys
     order by workspace_id, message_id, content <> '', seq nulls first) first
   where k.workspace_id = first.workspace_id and k.message_id = first.message_id and k.source_id <> first.source_id`,
  `alter table message_keys drop constraint message_keys_pkey`,
  `alter table message_keys add primary key (workspace_id, message_id, content)`,
  `drop index message_keys_reused`,
  `create index message_keys_reused on message_keys (seq) where content <> '' and content not like '@%'`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
