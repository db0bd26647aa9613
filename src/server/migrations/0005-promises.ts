import type { QueryInterface } from "sequelize";

const SQL = `
-- why an aircraft stays on the ground: each reason stands until it is taken back by name, or a signed-off job answers it
create table groundings (
  id serial primary key,
  aircraft_id integer not null references aircraft,
  cause text not null check (cause in ('person', 'board', 'job')),
  reason text not null check (length(reason) between 1 and 600),
  job_id integer references jobs,
  account text not null,
  at timestamptz not null default now(),
  lifted_by text,
  lifted_at timestamptz
);
create index groundings_open on groundings (aircraft_id, id) where lifted_at is null;
insert into groundings (aircraft_id, cause, reason, account)
select id, case when state_reason like '%was stopped:%' then 'job'
  when state_reason ~ '^(Never had a board|No job was signed off|Its board flies on)' then 'board' else 'person' end,
  case when state_reason = '' then 'Not said' else state_reason end, 'workshop'
from aircraft where state = 'out-of-service';

-- the documents that a job rests on: what it began with is what it ends with
alter table jobs add documents jsonb;

-- images have versions, as documents have: what was flashed stays provable
alter table images drop constraint images_release_id_target_key;
alter table images add version integer not null default 1;
alter table images add constraint images_versions unique (release_id, target, version);
create trigger images_stay before update or delete or truncate on images for each statement execute function refuse_change();

-- an order says how long it is good for; who takes it says so before anything is done
alter table orders drop constraint orders_state_check;
alter table orders add constraint orders_state_check check (state in ('waiting', 'taken', 'done', 'refused'));
alter table orders add good_until timestamptz not null default now() + interval '30 seconds';
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
