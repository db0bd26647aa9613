import type { QueryInterface } from "sequelize";

const SQL = `
-- one goal for every aircraft of a type
create table campaigns (
  id serial primary key,
  type text not null check (length(type) between 1 and 40),
  title text not null check (length(title) between 1 and 120),
  goal jsonb not null,
  note text not null default '' check (length(note) <= 400),
  made_by text not null,
  made_at timestamptz not null default now(),
  state text not null default 'open' check (state in ('open', 'paused', 'ended')),
  state_reason text not null default '' check (length(state_reason) <= 400),
  changed_by text,
  changed_at timestamptz
);
create table campaign_members (
  campaign_id integer not null references campaigns,
  aircraft_id integer not null references aircraft,
  place integer not null check (place > 0),
  left_out text check (length(left_out) between 1 and 400),
  left_out_by text,
  left_out_at timestamptz,
  primary key (campaign_id, aircraft_id)
);
-- the newest of a key counts; the older ones stay
create table campaign_decisions (
  id serial primary key,
  campaign_id integer not null references campaigns,
  key text not null check (length(key) between 1 and 4000),
  choice_id text not null check (length(choice_id) between 1 and 200),
  account text not null,
  at timestamptz not null default now()
);
create index campaign_decisions_campaign on campaign_decisions (campaign_id, id);
create table campaign_jobs (
  job_id integer primary key references jobs,
  campaign_id integer not null references campaigns
);
create index campaign_jobs_campaign on campaign_jobs (campaign_id);

-- differences from its standard that a type may have
create table allowances (
  id serial primary key,
  type text not null check (length(type) between 1 and 40),
  kind text not null check (kind in ('area', 'place')),
  name text not null check (length(name) between 1 and 200),
  aircraft_id integer references aircraft,
  reason text not null check (length(reason) between 1 and 400),
  made_by text not null,
  made_at timestamptz not null default now(),
  ended_by text,
  ended_at timestamptz
);
create index allowances_type on allowances (type) where ended_at is null;

create trigger campaigns_stay before delete or truncate on campaigns for each statement execute function refuse_change();
create trigger campaign_members_stay before delete or truncate on campaign_members for each statement execute function refuse_change();
create trigger campaign_decisions_stay before update or delete or truncate on campaign_decisions for each statement execute function refuse_change();
create trigger campaign_jobs_stay before update or delete or truncate on campaign_jobs for each statement execute function refuse_change();
create trigger allowances_stay before delete or truncate on allowances for each statement execute function refuse_change();
create trigger allowances_keep before update on allowances for each row execute function refuse_rewriting('ended_by ended_at', 'ended_at');
create trigger campaigns_keep before update on campaigns for each row execute function refuse_rewriting('state state_reason changed_by changed_at');

create constraint trigger campaigns_sealed after insert on campaigns deferrable initially deferred for each row execute function seal_row('id', 'state state_reason changed_by changed_at');
create constraint trigger campaign_decisions_sealed after insert on campaign_decisions deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger allowances_sealed after insert on allowances deferrable initially deferred for each row execute function seal_row('id', 'ended_by ended_at');
create constraint trigger allowances_ended after update on allowances deferrable initially deferred for each row when (new.ended_at is not null) execute function seal_row('id', '');
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
