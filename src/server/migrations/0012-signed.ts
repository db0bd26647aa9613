import type { QueryInterface } from "sequelize";

/** What signs, and what is signed: keys of the workshop, and one statement of each visit that has ended. */
const SIGNED = `
-- what only this workshop knows; it is in its copies, and comes back with them
create table secrets (
  name text primary key check (length(name) <= 60),
  value text not null check (length(value) <= 4000),
  made_at timestamptz not null default now()
);
create trigger secrets_stay before update or delete or truncate on secrets for each statement execute function refuse_change();

-- public halves of the keys that signed, the one that signs now last; name: which secret holds the other half
create table signing_keys (
  id serial primary key,
  name text not null unique references secrets,
  thumbprint text not null unique check (length(thumbprint) = 43),
  x text not null check (length(x) = 43),
  made_by text not null check (length(made_by) <= 80),
  made_at timestamptz not null default now(),
  reason text not null default '' check (length(reason) <= 400)
);
create trigger signing_keys_stay before update or delete or truncate on signing_keys for each statement execute function refuse_change();
create constraint trigger signing_keys_sealed after insert on signing_keys deferrable initially deferred for each row execute function seal_row('id', '');

create table visit_statements (
  job_id integer primary key references jobs,
  says jsonb not null,
  made_at timestamptz not null default now()
);
create trigger visit_statements_stay before update or delete or truncate on visit_statements for each statement execute function refuse_change();
create constraint trigger visit_statements_sealed after insert on visit_statements deferrable initially deferred for each row execute function seal_row('job_id', '');
`;

export const up = async ({ context }: { context: QueryInterface }): Promise<void> => {
  await context.sequelize.query(SIGNED);
};
