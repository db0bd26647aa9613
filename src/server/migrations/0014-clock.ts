import type { QueryInterface } from "sequelize";

/**
 * A clock that was set back is sealed as that, before the first thing that happened after it: whatever else goes back in time
 * was back-dated.
 */
const SQL = `
create function seal_next(kind text, key text, hash text, moment timestamptz) returns void language plpgsql security definer set search_path = public, pg_temp set timezone to 'UTC' as $$
declare
  head seal_head%rowtype;
  next_no bigint;
  link text;
begin
  select * into head from seal_head for update;
  next_no := head.no + 1;
  link := encode(sha256(convert_to(concat_ws(E'\\n', head.sha256, next_no, kind, key, to_char(moment, 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"'), hash), 'UTF8')), 'hex');
  insert into seals values (next_no, kind, key, moment, hash, head.sha256, link);
  update seal_head set no = next_no, sha256 = link;
end $$;
revoke all on function seal_next(text, text, text, timestamptz) from public;

create or replace function seal(kind text, key text, kept jsonb) returns void language plpgsql security definer set search_path = public, pg_temp set timezone to 'UTC' as $$
declare
  hash text := encode(sha256(convert_to(seal_text(kept), 'UTF8')), 'hex');
  moment timestamptz;
  before timestamptz;
begin
  -- one after the other: the head is held from here on
  perform from seal_head for update;
  moment := clock_timestamp();
  select at into before from seals where no = (select no from seal_head);
  if moment < before - interval '2 minutes' then
    perform seal_next('chain', 'clock set back from ' || to_char(before, 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') || ' to ' || to_char(moment, 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"'),
      encode(sha256(convert_to(seal_text('{}'), 'UTF8')), 'hex'), moment);
  end if;
  perform seal_next(kind, key, hash, moment);
end $$;
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
