import type { QueryInterface } from "sequelize";

const SQL = `
create table standards (
  id serial primary key,
  type text not null check (length(type) between 1 and 40),
  version integer not null,
  backup_id integer not null references backups,
  note text not null default '' check (length(note) <= 400),
  made_by text not null,
  made_at timestamptz not null default now(),
  unique (type, version)
);
create table backup_notes (
  id serial primary key,
  backup_id integer not null references backups,
  kind text not null check (kind in ('note', 'wiring')),
  text text not null check (length(text) between 1 and 4000),
  account text not null,
  at timestamptz not null default now()
);
create index backup_notes_backup on backup_notes (backup_id, id);
create index backups_sha on backups (sha256);

-- derived, and made again whenever the catalogue changes: what a text means, for many at a time
create table read_texts (
  sha256 char(64) not null references blobs,
  stamp text not null,
  vector jsonb not null,
  primary key (sha256)
);

create trigger standards_stay before update or delete or truncate on standards for each statement execute function refuse_change();
create trigger backup_notes_stay before update or delete or truncate on backup_notes for each statement execute function refuse_change();

alter table backups drop constraint backups_source_check;
alter table backups add constraint backups_source_check check (source in ('job', 'bay', 'file', 'rescue', 'merged'));
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
