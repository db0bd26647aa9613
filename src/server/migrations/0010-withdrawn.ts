import type { QueryInterface } from "sequelize";

const SQL = `
-- a document is taken out of use, and into it again: the newest row of it counts
create table document_standings (
  id serial primary key,
  kind text not null check (length(kind) between 1 and 40),
  document_id text not null check (length(document_id) between 1 and 80),
  used boolean not null,
  reason text not null check (length(reason) <= 400),
  account text not null,
  at timestamptz not null default now()
);
create index document_standings_document on document_standings (kind, document_id, id desc);

-- where a version came from, when it came in a pack
create table document_origins (
  id serial primary key,
  catalogue_document_id integer not null references catalogue_documents,
  pack_sha256 char(64) not null,
  family text not null check (length(family) between 1 and 80),
  made_at timestamptz not null,
  made_by text not null check (length(made_by) between 1 and 80),
  version_there integer not null check (version_there > 0),
  account text not null,
  at timestamptz not null default now()
);
create index document_origins_document on document_origins (catalogue_document_id);

-- what somebody said that a text is: the newest row of its bytes counts
create table read_as (
  id serial primary key,
  sha256 char(64) not null references blobs,
  release_id text not null check (length(release_id) between 1 and 80),
  extent text check (extent in ('all', 'moved')),
  account text not null,
  at timestamptz not null default now()
);
create index read_as_text on read_as (sha256, id desc);

create view withdrawn_documents as
  select kind, document_id, reason, account, at from (
    select distinct on (kind, document_id) * from document_standings order by kind, document_id, id desc) s
  where not s.used;

create trigger document_standings_stay before update or delete or truncate on document_standings for each statement execute function refuse_change();
create trigger document_origins_stay before update or delete or truncate on document_origins for each statement execute function refuse_change();
create trigger read_as_stay before update or delete or truncate on read_as for each statement execute function refuse_change();
create constraint trigger read_as_sealed after insert on read_as deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger document_standings_sealed after insert on document_standings deferrable initially deferred for each row execute function seal_row('id', '');
create constraint trigger document_origins_sealed after insert on document_origins deferrable initially deferred for each row execute function seal_row('id', '');
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SQL);
};
