# Shared by bin/backup and bin/restore. Sourced after common.sh, never run.
OWN_DB=0 SCRATCH=""
# The workshop's database, started if it does not run; it is stopped again by whoever started it.
open_database() {
  BIN="$({ ls -d /usr/lib/postgresql/*/bin 2>/dev/null || true; } | sort -V | tail -n 1)"
  # whoever owns the tables reads and makes them
  DATABASE_URL="${DATABASE_OWNER_URL:-${DATABASE_URL:-}}"
  if [ -z "$DATABASE_URL" ]; then
    "$ROOT/bin/lib/postgres.sh" running main || OWN_DB=1
    "$ROOT/bin/lib/postgres.sh" start main >/dev/null
    DATABASE_URL="$("$ROOT/bin/lib/postgres.sh" address main owner)"
    BIN="$({ ls -d /usr/lib/postgresql/*/bin; } | sort -V | tail -n 1)"
  fi
  ARCHIVER="$(echo "$BIN"/pg_d?mp)" # the counterpart of pg_restore
  [ -x "$ARCHIVER" ] || fail "PostgreSQL's own tools are missing" "run once as root: apt-get install postgresql-client"
  export DATABASE_URL
  local password; password="$(url_part password)"
  [ -z "$password" ] || export PGPASSWORD="$password"
  ADDRESS="$(url_part address)"
}
# url_part password|address|scratch: of DATABASE_URL. Nothing with the password in it becomes an argument, which all may see.
url_part() {
  PART="$1" SCRATCH="$SCRATCH" node -e 'const u=new URL(process.env.DATABASE_URL),{PART,SCRATCH}=process.env;
    if(PART==="scratch")u.pathname="/"+SCRATCH;
    const password=decodeURIComponent(u.password);
    if(PART==="address")u.password="";
    process.stdout.write(PART==="password"?password:u.href)'
}
close_database() { if [ "$OWN_DB" = 1 ]; then "$ROOT/bin/lib/postgres.sh" stop main || true; fi; }
make_scratch() {
  SCRATCH="fresh_start_check_$$"
  "$BIN/psql" -Xq "$ADDRESS" -c "create database $SCRATCH" || { SCRATCH=""; fail "no database can be made to read the copy back" "nothing was kept; give the account the right to make one"; }
  SCRATCH_URL="$(url_part scratch)"
  SCRATCH_ADDRESS="$(DATABASE_URL="$SCRATCH_URL" url_part address)"
}
# whoever looks into it at the same moment, as the database's own vacuum does, is waited for
drop_scratch() {
  [ -n "$SCRATCH" ] || return 0
  local try
  for try in 1 2 3; do
    "$BIN/psql" -Xq "$ADDRESS" -c "drop database if exists $SCRATCH with (force)" && return 0
    sleep "$try"
  done
  say "the database $SCRATCH, in which the copy was read back, could not be dropped"
}
# check_content URL: a line that says what is in it; fails, naming what is damaged
check_content() { (cd "$ROOT" && DATABASE_URL="$1" node --import tsx src/server/admin/check.ts); }
