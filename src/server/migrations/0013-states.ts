import type { QueryInterface } from "sequelize";

/**
 * What may change, and says who may what or whose something is, is sealed each time that it does: a row must be what its last
 * seal says. Columns that follow from what is sealed already are left out.
 */
const STATES = `
create function seal_state() returns trigger language plpgsql security definer set search_path = public, pg_temp set timezone to 'UTC' as $$
declare
  free text[] := string_to_array(tg_argv[1], ' ');
  kept jsonb := to_jsonb(new) - free;
  key text;
begin
  if tg_op = 'UPDATE' and to_jsonb(old) - free = kept then return null; end if;
  select string_agg(kept ->> part, '/' order by place) into key from unnest(string_to_array(tg_argv[0], ' ')) with ordinality as t (part, place);
  perform seal(tg_table_name || '-is', key, kept);
  return null;
end $$;

create constraint trigger accounts_state after insert or update on accounts deferrable initially deferred for each row execute function seal_state('id', 'second_step');
create constraint trigger aircraft_state after insert or update on aircraft deferrable initially deferred for each row execute function seal_state('id', 'state state_reason complete_id complete_at last_verdict last_at');
create constraint trigger boards_state after insert or update on boards deferrable initially deferred for each row execute function seal_state('id', '');
create constraint trigger campaigns_state after insert or update on campaigns deferrable initially deferred for each row execute function seal_state('id', '');
create constraint trigger campaign_members_state after insert or update on campaign_members deferrable initially deferred for each row execute function seal_state('campaign_id aircraft_id', '');
create constraint trigger sign_ins_sealed after insert on sign_ins deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger keeping_sealed after insert on keeping deferrable initially deferred for each row execute function seal_row('id', '');
`;

/** As they are now. */
const SEAL_WHAT_IS_THERE = `
do $$
declare
  each record;
begin
  for each in
    select * from (
      select 'accounts-is' as kind, id::text as key, to_jsonb(t) - array['second_step'] as kept from accounts t
      union all select 'aircraft-is', id::text, to_jsonb(t) - array['state', 'state_reason', 'complete_id', 'complete_at', 'last_verdict', 'last_at'] from aircraft t
      union all select 'boards-is', id::text, to_jsonb(t) from boards t
      union all select 'campaigns-is', id::text, to_jsonb(t) from campaigns t
      union all select 'campaign_members-is', campaign_id || '/' || aircraft_id, to_jsonb(t) from campaign_members t
      union all select 'sign_ins', id::text, to_jsonb(t) from sign_ins t
      union all select 'keeping', id::text, to_jsonb(t) from keeping t
    ) s order by kind, length(key), key
  loop
    perform seal(each.kind, each.key, each.kept);
  end loop;
  -- from here on, rows of these are sealed as they are made
  perform seal('chain', 'states', '{}');
end $$;
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  for (const part of [STATES, SEAL_WHAT_IS_THERE]) await context.sequelize.query(part);
};
