import type { QueryInterface } from "sequelize";

/**
 * Read-outs of the parts behind a board, with the read-out of the board that they were taken with; and what is fitted to an
 * aircraft beside its board. Rows of before are of main parts, and their seals hold: what is null was never sealed.
 */
const SQL = `
alter table backups
  add part text check (length(part) <= 80),
  add place text check (length(place) <= 80),
  add with_id integer references backups;
create index backups_with on backups (with_id) where with_id is not null;
create index backups_parts on backups (aircraft_id, part, taken_at desc, id desc) where part is not null;

-- the register speaks of main parts
drop trigger backups_filed on backups;
create trigger backups_filed after insert on backups for each row when (new.aircraft_id is not null and new.part is null) execute function backup_filed();

-- of a kind of part the newest row counts; without places there is none
create table fittings (
  id serial primary key,
  aircraft_id integer not null references aircraft,
  part text not null check (length(part) <= 80),
  mount jsonb not null,
  account text not null check (length(account) <= 80),
  at timestamptz not null default now()
);
create index fittings_aircraft on fittings (aircraft_id, id desc);
create trigger fittings_stay before update or delete or truncate on fittings for each statement execute function refuse_change();
create constraint trigger fittings_sealed after insert on fittings deferrable initially deferred for each row execute function seal_row('id', '');
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
