import type { QueryInterface } from "sequelize";

const SQL = `
-- which aircraft a board was given to, by whom; the first time it came off no other
create table board_moves (
  id serial primary key,
  board_id integer not null references boards,
  aircraft_id integer not null references aircraft,
  from_aircraft_id integer references aircraft,
  chip_id text not null,
  model_id text not null,
  account text not null,
  at timestamptz not null default now()
);
create index board_moves_aircraft on board_moves (aircraft_id, id);
create index board_moves_from on board_moves (from_aircraft_id, id) where from_aircraft_id is not null;
create index backups_ownerless on backups (chip_id) where aircraft_id is null;
create trigger board_moves_stay before update or delete or truncate on board_moves for each statement execute function refuse_change();
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
