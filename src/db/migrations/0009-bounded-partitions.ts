import { sql, type Kysely } from 'kysely';

const statements = [
  // What is older than the months that have a table of their own, and whatever else has none. However odd the times are that come, there are
  // no more tables than months of twenty years.
  `create table if not exists messages_other partition of messages default`,
  `create or replace function ensure_message_partition(at timestamptz) returns void language plpgsql as $$
   declare first timestamptz := date_trunc('month', at at time zone 'UTC') at time zone 'UTC';
           next timestamptz := (date_trunc('month', at at time zone 'UTC') + interval '1 month') at time zone 'UTC';
           name text := 'messages_' || to_char(at at time zone 'UTC', 'YYYY_MM');
   begin
     if at < now() - interval '20 years' or at > now() + interval '2 months' then return; end if;
     if to_regclass(name) is not null then return; end if;
     perform pg_advisory_xact_lock(7351002);
     -- A month for which rows lie in the other table already goes on there.
     if exists (select from messages_other where received_at >= first and received_at < next) then return; end if;
     execute format('create table if not exists %I partition of messages for values from (%L) to (%L)', name, first, next);
   end $$`,
];

export const up = async (db: Kysely<unknown>): Promise<void> => {
  for (const statement of statements) await sql.raw(statement).execute(db);
};
