import type { QueryInterface } from "sequelize";

const TABLES = `
create table accounts (
  id serial primary key,
  name text not null unique check (length(name) between 1 and 40),
  role text not null check (role in ('lead', 'technician', 'observer')),
  password_hash text not null,
  created_at timestamptz not null default now()
);
create table sign_in_failures (
  id bigserial primary key,
  who text not null,
  at timestamptz not null default now()
);
create index sign_in_failures_who on sign_in_failures (who, at);

create table blobs (
  sha256 char(64) primary key,
  bytes bytea not null,
  size_bytes integer not null
);
create table catalogue_documents (
  id serial primary key,
  kind text not null,
  document_id text not null,
  version integer not null,
  text text not null,
  sha256 char(64) not null,
  imported_by text not null,
  imported_at timestamptz not null default now(),
  unique (kind, document_id, version)
);
create table images (
  id serial primary key,
  release_id text not null,
  target text not null,
  sha256 char(64) not null references blobs,
  length_bytes integer not null,
  imported_by text not null,
  imported_at timestamptz not null default now(),
  unique (release_id, target)
);

create table aircraft (
  id serial primary key,
  tag text not null unique check (tag ~ '^[A-Z0-9][A-Z0-9-]{0,15}$'),
  label text not null default '' check (length(label) <= 80),
  type text not null check (length(type) between 1 and 40),
  state text not null check (state in ('in-service', 'out-of-service', 'on-bench')),
  state_reason text not null default '',
  added_at timestamptz not null default now()
);
create table boards (
  id serial primary key,
  chip_id text not null,
  model_id text not null,
  target text not null,
  release_id text,
  aircraft_id integer references aircraft
);
create index boards_chip on boards (chip_id);

create table benches (
  id serial primary key,
  name text not null unique,
  fence bigint not null default 0,
  next_no bigint not null default 1,
  clock_factor real not null default 8 check (clock_factor > 0 and clock_factor <= 1000),
  seen_at timestamptz
);
create table bays (
  bench_id integer not null references benches,
  no integer not null,
  live jsonb not null default '{}',
  primary key (bench_id, no)
);
create table jobs (
  id serial primary key,
  bench_id integer not null references benches,
  bay_no integer not null,
  aircraft_id integer not null references aircraft,
  chip_id text not null,
  goal jsonb not null,
  steps jsonb not null,
  state text not null default 'open' check (state in ('open', 'finished', 'stopped')),
  headline text not null default '',
  ordered_by text not null,
  ordered_at timestamptz not null default now(),
  ended_at timestamptz
);
create unique index jobs_one_a_bay on jobs (bench_id, bay_no) where state = 'open';
create unique index jobs_one_an_aircraft on jobs (aircraft_id) where state = 'open';

create table backups (
  id serial primary key,
  aircraft_id integer references aircraft,
  job_id integer references jobs,
  chip_id text,
  sha256 char(64) not null references blobs,
  source text not null check (source in ('job', 'file', 'rescue')),
  name text not null,
  release_id text,
  target text,
  verdict text not null check (verdict in ('complete', 'moved-only', 'incomplete', 'raw')),
  findings jsonb not null default '[]',
  taken_by text not null,
  taken_at timestamptz not null default now()
);
create index backups_aircraft on backups (aircraft_id, taken_at desc);

create table journal (
  bench_id integer not null references benches,
  no bigint not null,
  at timestamptz not null default now(),
  job_id integer references jobs,
  bay_no integer,
  account text,
  entry jsonb not null,
  primary key (bench_id, no)
);
create index journal_job on journal (job_id, no);

create table orders (
  id bigserial primary key,
  bench_id integer not null references benches,
  bay_no integer not null,
  job_id integer references jobs,
  body jsonb not null,
  account text not null,
  created_at timestamptz not null default now(),
  state text not null default 'waiting' check (state in ('waiting', 'done', 'refused')),
  problem jsonb,
  done_at timestamptz
);
create index orders_waiting on orders (bench_id, id) where state = 'waiting';

create table sim_boards (
  id serial primary key,
  label text not null,
  chip_id text not null,
  model_id text not null,
  first_port integer not null,
  bench_id integer references benches,
  bay_no integer,
  clock_us bigint not null default 0,
  snapshot jsonb not null default '{}'
);
create table sim_flash (
  board_id integer not null references sim_boards,
  chunk integer not null,
  bytes bytea not null,
  primary key (board_id, chunk)
);
`;

/** What must never change is guarded by the database itself, whoever writes. */
const GUARDS = `
create function refuse_change() returns trigger language plpgsql as $$
begin
  raise exception '% is append-only: % refused', tg_table_name, lower(tg_op) using errcode = 'restrict_violation';
end $$;
create trigger backups_stay before update or delete or truncate on backups for each statement execute function refuse_change();
create trigger journal_stays before update or delete or truncate on journal for each statement execute function refuse_change();
create trigger blobs_stay before update or delete or truncate on blobs for each statement execute function refuse_change();
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(TABLES);
  await context.sequelize.query(GUARDS);
};
