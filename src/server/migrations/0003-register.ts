import type { QueryInterface } from "sequelize";

const SQL = `
create index boards_aircraft on boards (aircraft_id, id desc);
create index aircraft_type on aircraft (type, tag);
create index jobs_aircraft on jobs (aircraft_id, id desc);

-- what the register says of an aircraft's read-outs; kept as they are filed, because filed backups never change
alter table aircraft
  add complete_id integer references backups,
  add complete_at timestamptz,
  add last_verdict text,
  add last_at timestamptz;

create function backup_filed() returns trigger language plpgsql as $$
begin
  if new.verdict = 'complete' and new.source <> 'merged' then
    update aircraft set complete_id = new.id, complete_at = new.taken_at
    where id = new.aircraft_id and (complete_at is null or complete_at <= new.taken_at);
  end if;
  if new.source in ('job', 'bay', 'file') then
    update aircraft set last_verdict = new.verdict, last_at = new.taken_at
    where id = new.aircraft_id and (last_at is null or last_at <= new.taken_at);
  end if;
  return null;
end $$;
create trigger backups_filed after insert on backups for each row when (new.aircraft_id is not null) execute function backup_filed();

update aircraft a set complete_id = b.id, complete_at = b.taken_at
from (select distinct on (aircraft_id) aircraft_id, id, taken_at from backups
      where verdict = 'complete' and source <> 'merged' order by aircraft_id, taken_at desc) b
where b.aircraft_id = a.id;
update aircraft a set last_verdict = b.verdict, last_at = b.taken_at
from (select distinct on (aircraft_id) aircraft_id, verdict, taken_at from backups
      where source in ('job', 'bay', 'file') order by aircraft_id, taken_at desc) b
where b.aircraft_id = a.id;

-- the state of each aircraft in one word, the most urgent first; a complete backup older than 30 days needs a look
create view register as
select a.id, a.tag, a.label, a.type, a.state, a.state_reason, b.model_id, b.target, b.release_id, b.chip_id,
       a.complete_at, a.complete_id, a.last_verdict, j.id as job_id, j.headline as job_headline,
       s.standing, array_position(array['out-of-service', 'on-bench', 'no-backup', 'old-backup', 'in-service'], s.standing) as urgency
from aircraft a
left join lateral (select * from boards where aircraft_id = a.id order by id desc limit 1) b on true
left join jobs j on j.aircraft_id = a.id and j.state = 'open'
cross join lateral (select case
  when a.state <> 'in-service' then a.state
  when a.complete_at is null then 'no-backup'
  when a.complete_at < now() - interval '30 days' then 'old-backup'
  else 'in-service' end as standing) s;
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
