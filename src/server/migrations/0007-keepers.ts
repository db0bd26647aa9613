import type { QueryInterface } from "sequelize";

/** Who may come in, who is in, and who tried. */
const KEEPERS = `
alter table accounts
  add person text not null default '' check (length(person) <= 80),
  add password_temporary boolean not null default false,
  add disabled_at timestamptz;

-- id: SHA-256 of the token that only the browser holds
create table sessions (
  id char(64) primary key,
  account_id integer not null references accounts,
  address text not null check (length(address) <= 60),
  browser text not null check (length(browser) <= 200),
  created_at timestamptz not null default now(),
  seen_at timestamptz not null default now(),
  ended_at timestamptz,
  ended_why text
);
create index sessions_open on sessions (account_id) where ended_at is null;

-- who: a keyed hash of the name as it was typed, which may have been a password
create table sign_ins (
  id bigserial primary key,
  at timestamptz not null default now(),
  account_id integer references accounts,
  who char(32) not null,
  device text not null default '' check (length(device) <= 40),
  address text not null check (length(address) <= 60),
  browser text not null check (length(browser) <= 200),
  outcome text not null check (outcome in ('in', 'refused', 'throttled', 'out', 'unlocked')),
  detail text not null default '' check (length(detail) <= 200)
);
create index sign_ins_who on sign_ins (who, at);
create index sign_ins_address on sign_ins (address, at) where outcome = 'refused';
drop table sign_in_failures;
create trigger sign_ins_stay before update or truncate on sign_ins for each statement execute function refuse_change();
`;

/** What was kept stays: columns that say what was done are not rewritten, and nothing is taken out. */
const GUARDS = `
create trigger documents_stay before update or delete or truncate on catalogue_documents for each statement execute function refuse_change();
create trigger accounts_stay before delete or truncate on accounts for each statement execute function refuse_change();
create trigger jobs_stay before delete or truncate on jobs for each statement execute function refuse_change();
create trigger orders_stay before delete or truncate on orders for each statement execute function refuse_change();
create trigger groundings_stay before delete or truncate on groundings for each statement execute function refuse_change();

create function refuse_rewriting() returns trigger language plpgsql as $$
declare
  before jsonb := to_jsonb(old);
  after jsonb := to_jsonb(new);
  free text[] := string_to_array(tg_argv[0], ' ');
begin
  if before - free is distinct from after - free then
    raise exception '% keeps what it was told: only % may change', tg_table_name, tg_argv[0] using errcode = 'restrict_violation';
  end if;
  if tg_nargs > 1 and before ->> tg_argv[1] is not null then
    raise exception '% has ended: update refused', tg_table_name using errcode = 'restrict_violation';
  end if;
  return new;
end $$;
create trigger jobs_keep before update on jobs for each row execute function refuse_rewriting('state headline chip_id ended_at', 'ended_at');
create trigger orders_keep before update on orders for each row execute function refuse_rewriting('state problem done_at', 'done_at');
create trigger groundings_keep before update on groundings for each row execute function refuse_rewriting('lifted_by lifted_at', 'lifted_at');
`;

/**
 * The chain: each row that is kept for good gets a seal, which holds the hash of the row and of the seal before it. Made
 * when its transaction commits, after all other locks were taken, so that the chain's own lock is always the last.
 */
const CHAIN = `
create table seals (
  no bigint primary key,
  kind text not null,
  key text not null,
  at timestamptz not null,
  row_sha256 char(64) not null,
  before char(64) not null,
  sha256 char(64) not null
);
create index seals_of on seals (kind, key);
create trigger seals_stay before update or delete or truncate on seals for each statement execute function refuse_change();
-- the last seal, in a row of its own that can be locked
create table seal_head (
  one boolean primary key default true check (one),
  no bigint not null,
  sha256 char(64) not null
);
insert into seal_head (no, sha256) values (0, repeat('0', 64));
create trigger seal_head_stays before delete or truncate on seal_head for each statement execute function refuse_change();

create function seal_text(kept jsonb) returns text language sql stable set timezone to 'UTC' as $$ select jsonb_strip_nulls(kept)::text $$;

create function seal(kind text, key text, kept jsonb) returns void language plpgsql security definer set search_path = public, pg_temp set timezone to 'UTC' as $$
declare
  head seal_head%rowtype;
  next_no bigint;
  hash text := encode(sha256(convert_to(seal_text(kept), 'UTF8')), 'hex');
  moment timestamptz := clock_timestamp();
  link text;
begin
  select * into head from seal_head for update;
  next_no := head.no + 1;
  link := encode(sha256(convert_to(concat_ws(E'\\n', head.sha256, next_no, kind, key, to_char(moment, 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"'), hash), 'UTF8')), 'hex');
  insert into seals values (next_no, kind, key, moment, hash, head.sha256, link);
  update seal_head set no = next_no, sha256 = link;
end $$;
revoke all on function seal(text, text, jsonb) from public;

-- arguments: columns that make the key, and columns that may change later and so are left out
create function seal_row() returns trigger language plpgsql security definer set search_path = public, pg_temp set timezone to 'UTC' as $$
declare
  kept jsonb := to_jsonb(new);
  key text;
begin
  select string_agg(kept ->> part, '/' order by place) into key from unnest(string_to_array(tg_argv[0], ' ')) with ordinality as t (part, place);
  if tg_op = 'UPDATE' then perform seal(tg_table_name || '-ended', key, kept);
  else perform seal(tg_table_name, key, kept - string_to_array(tg_argv[1], ' '));
  end if;
  return null;
end $$;

create constraint trigger journal_sealed after insert on journal deferrable initially deferred for each row execute function seal_row('bench_id no', '');
create constraint trigger backups_sealed after insert on backups deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger standards_sealed after insert on standards deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger backup_notes_sealed after insert on backup_notes deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger documents_sealed after insert on catalogue_documents deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger images_sealed after insert on images deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger board_moves_sealed after insert on board_moves deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger groundings_sealed after insert on groundings deferrable initially deferred for each row execute function seal_row('id', 'lifted_by lifted_at');
create constraint trigger groundings_lifted after update on groundings deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger jobs_sealed after insert on jobs deferrable initially deferred for each row execute function seal_row('id', 'state headline chip_id ended_at');
create constraint trigger jobs_ended after update on jobs deferrable initially deferred for each row when (new.ended_at is not null) execute function seal_row('id', '');
`;

/** What was there before there was a chain is sealed as it is now, in the order of its making. */
const SEAL_WHAT_IS_THERE = `
do $$
declare
  each record;
begin
  set constraints all immediate;
  for each in
    select * from (
      select 'journal' as kind, bench_id || '/' || no as key, at as made, to_jsonb(t) as kept from journal t
      union all select 'backups', id::text, taken_at, to_jsonb(t) from backups t
      union all select 'standards', id::text, made_at, to_jsonb(t) from standards t
      union all select 'backup_notes', id::text, at, to_jsonb(t) from backup_notes t
      union all select 'catalogue_documents', id::text, imported_at, to_jsonb(t) from catalogue_documents t
      union all select 'images', id::text, imported_at, to_jsonb(t) from images t
      union all select 'board_moves', id::text, at, to_jsonb(t) from board_moves t
      union all select 'groundings', id::text, at, to_jsonb(t) - array['lifted_by', 'lifted_at'] from groundings t
      union all select 'groundings-ended', id::text, lifted_at, to_jsonb(t) from groundings t where lifted_at is not null
      union all select 'jobs', id::text, ordered_at, to_jsonb(t) - array['state', 'headline', 'chip_id', 'ended_at'] from jobs t
      union all select 'jobs-ended', id::text, ended_at, to_jsonb(t) from jobs t where ended_at is not null
    ) s order by made, kind, length(key), key
  loop
    perform seal(each.kind, each.key, each.kept);
  end loop;
  -- from here on, rows are sealed as they are made
  perform seal('chain', 'began', '{}');
end $$;

-- what the workshop's keeper found and did, newest last: copies, looks at the chain and at stored bytes
create table keeping (
  id bigserial primary key,
  kind text not null check (kind in ('copy', 'chain', 'bytes')),
  at timestamptz not null default now(),
  good boolean not null,
  says text not null check (length(says) <= 1000),
  facts jsonb not null default '{}'
);
create index keeping_kind on keeping (kind, id);
create table damaged_blobs (
  sha256 char(64) primary key references blobs,
  found_at timestamptz not null default now()
);
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  for (const part of [KEEPERS, GUARDS, CHAIN, SEAL_WHAT_IS_THERE]) await context.sequelize.query(part);
};
