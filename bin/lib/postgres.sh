#!/usr/bin/env bash
# A private PostgreSQL cluster on loopback, one for each NAME ("main", "test").
#   bin/lib/postgres.sh start|stop|running|holds|where NAME
#   bin/lib/postgres.sh address NAME keeper|owner|app
# `start` prints the cluster's address. The passwords are made at the first start and kept in .data/NAME.postgres; when that
# file is lost, the cluster's owner sets others. Nothing here deletes a cluster: what cannot be used is left as it is.
# `holds` and `running` tell by their exit code whether there is a cluster, and whether it runs; `where` prints its folder.
# `address`: for the keeper of the cluster, who may do anything; for the owner of the tables, who changes the schema and
# makes copies; for the application, which can neither drop nor switch off what guards them.
# PG_FAST=1: no fsync, for tests.
set -euo pipefail
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"
NAME="${2:-main}" USR=fresh_start DB=fresh_start HOST=127.0.0.1
OWNS=fresh_start_owner RUNS=fresh_start_app
[[ "$NAME" =~ ^[a-z][a-z0-9-]*$ ]] || fail "“$NAME” cannot be a cluster's name" "small letters, digits and hyphens"
FACTS="$DATA/$NAME.postgres"
mkdir -p "$DATA"
# PostgreSQL refuses to run as root: its own account does it then
OWNER="$(id -un)"; [ "$(id -u)" = 0 ] && OWNER=postgres
as() { if [ "$(id -un)" = "$OWNER" ]; then "$@"; else (cd / && runuser -u "$OWNER" -- "$@"); fi; }
note() { printf '%s\n' "$*" >&2; }

newest_bin() { { ls -d /usr/lib/postgresql/*/bin 2>/dev/null || true; } | sort -V | tail -n 1; }
ensure_bin() {
  BIN="$(newest_bin)"
  [ -n "$BIN" ] && [ -x "$BIN/initdb" ] && return
  [ "$(id -u)" = 0 ] || fail "PostgreSQL is not installed" "run once as root: apt-get install postgresql"
  note "Installing PostgreSQL"
  # keep Debian from making and starting a cluster of its own
  mkdir -p /etc/postgresql-common/createcluster.d
  [ -e /etc/postgresql-common/createcluster.d/no-main.conf ] || echo 'create_main_cluster = false' > /etc/postgresql-common/createcluster.d/no-main.conf
  { DEBIAN_FRONTEND=noninteractive apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends postgresql; } >&2 \
    || fail "Debian's package postgresql could not be installed" "look at the lines above"
  BIN="$(newest_bin)"
}
# <project>/.data/postgres-NAME, unless the cluster's account cannot get there (a project under a closed folder such as /root)
locate() {
  if as test -x "$DATA"; then BASE="$DATA/postgres-$NAME"
  else BASE="/var/lib/postgresql/fresh-start-$NAME-$(printf %s "$ROOT" | sha256sum | cut -c1-10)"; fi
  CLUSTER="$BASE/data"; LOG="$BASE/postgres.log"
}
# Anything in the cluster's folder counts: what looks broken may still be saved by somebody.
holds() { [ -d "$CLUSTER" ] && [ -n "$(ls -A "$CLUSTER")" ]; }
# A cluster runs under the major version that made it, whatever else was installed since.
bin_of_cluster() {
  local made=""
  [ -r "$CLUSTER/PG_VERSION" ] && made="$(head -n 1 "$CLUSTER/PG_VERSION")"
  [[ "$made" =~ ^[0-9.]+$ ]] || fail "$CLUSTER holds something that is not a whole PostgreSQL cluster" \
    "it is left as it is: put the missing files back (PG_VERSION is the first that is looked for), or move the folder away to begin with an empty workshop"
  [ -x "/usr/lib/postgresql/$made/bin/pg_ctl" ] || fail "the cluster in $CLUSTER was made by PostgreSQL $made, which is not installed" \
    "it is left as it is: install postgresql-$made, or carry its content over into an empty workshop with pg_dumpall of that version"
  BIN="/usr/lib/postgresql/$made/bin"
}
fact() { sed -n "s/^$1=\([A-Za-z0-9_-]\{16,\}\)\$/\1/p" "$FACTS" 2>/dev/null | head -n 1 || true; }
# Read, not sourced: a damaged file must not be run.
facts() {
  PASS="$(fact PASS)" OWNER_PASS="$(fact OWNER_PASS)" APP_PASS="$(fact APP_PASS)"
  PORT="$(sed -n 's/^PORT=\([0-9]\{1,5\}\)$/\1/p' "$FACTS" 2>/dev/null | head -n 1)" || PORT=""
  { [ -n "$PORT" ] && [ "$PORT" -ge 1024 ] && [ "$PORT" -le 65535 ]; } || PORT=""
}
# Whole or not at all: the new file takes the old one's place when it is on the disk.
keep_facts() {
  local new; new="$(mktemp "$FACTS.XXXXXX")"
  printf 'PASS=%s\nPORT=%s\nOWNER_PASS=%s\nAPP_PASS=%s\n' "$PASS" "$PORT" "$OWNER_PASS" "$APP_PASS" > "$new"
  chmod 600 "$new"; sync "$new"; mv -f "$new" "$FACTS"
}
new_password() { node -e 'console.log(require("crypto").randomBytes(24).toString("base64url"))'; }
sql() { PGPASSWORD="$PASS" PGCONNECT_TIMEOUT=3 "$BIN/psql" -XqtA -v ON_ERROR_STOP=1 -h "$HOST" -p "$PORT" -U "$USR" "$@"; }
ours() { [ -n "$PORT" ] && [ -n "$PASS" ] && [ "$(sql -d postgres -c 'show data_directory' 2>/dev/null)" = "$CLUSTER" ]; }
# The lock file alone does not tell: in a copied folder it speaks of the original's server, after a crash of any program.
running() {
  local lock="$CLUSTER/postmaster.pid" pid exe
  [ -s "$lock" ] || return 1
  pid="$(sed -n 1p "$lock")"; exe="$(readlink "/proc/$pid/exe" 2>/dev/null || as readlink "/proc/$pid/exe" 2>/dev/null || true)"
  [ "$(sed -n 2p "$lock")" = "$CLUSTER" ] && [ "${exe##*/}" = postgres ] && as "$BIN/pg_ctl" -D "$CLUSTER" status >/dev/null 2>&1
}
drop_foreign_lock() {
  local lock="$CLUSTER/postmaster.pid"
  if [ -s "$lock" ] && [ "$(sed -n 2p "$lock")" != "$CLUSTER" ]; then as mv "$lock" "$lock.copied"; fi
}
in_use() { # by a process of this project's bin/start
  local part pid
  for part in web bench keeper; do
    pid="$(cat "$DATA/$part.pid" 2>/dev/null || true)"
    [[ "$pid" =~ ^[0-9]+$ ]] && kill -0 "$pid" 2>/dev/null && return 0
  done
  return 1
}

make_cluster() {
  local pw making
  check_disk 300
  note "Making a PostgreSQL cluster in $CLUSTER"
  mkdir -p "$BASE"; chown "$OWNER" "$BASE"; chmod 700 "$BASE"
  # under another name until it is whole: a making that was cut off is no cluster, and is never taken for one
  making="$(as mktemp -d "$BASE/making.XXXXXX")"
  PASS="$(new_password)" PORT="$(free_port)"
  pw="$(mktemp)"; printf '%s\n' "$PASS" > "$pw"; chown "$OWNER" "$pw"
  as "$BIN/initdb" -D "$making" -U "$USR" --pwfile="$pw" -A scram-sha-256 --data-checksums -E UTF8 --locale=C.UTF-8 --no-instructions >"$DATA/initdb.log" 2>&1 \
    || { cat "$DATA/initdb.log" >&2; rm -f "$pw"; fail "the PostgreSQL cluster could not be made"; }
  rm -f "$pw"
  keep_facts
  [ ! -d "$CLUSTER" ] || as rmdir "$CLUSTER" # an empty folder only: rmdir refuses any other
  as mv -T "$making" "$CLUSTER"
}
# In single-user mode the cluster's owner needs no password (PostgreSQL, reference page of postgres).
set_password() {
  note "The password of the database is lost: its owner sets another. Nothing else in it is touched."
  PASS="$(new_password)"
  printf "alter role \"%s\" password '%s'\n" "$USR" "$PASS" | as "$BIN/postgres" --single -D "$CLUSTER" -c log_min_messages=error postgres >"$DATA/set-password.log" 2>&1 \
    || { cat "$DATA/set-password.log" >&2; fail "the database's password could not be set anew" "the cluster in $CLUSTER is left as it is; see .data/set-password.log"; }
  [ -n "$PORT" ] || PORT="$(free_port)"
  keep_facts
}
gets_in() { [ -n "$2" ] && [ "$(USR="$1" PASS="$2" sql -d postgres -c 'select 1' 2>/dev/null)" = 1 ]; }
# The accounts of the database, each with what it needs. A workshop made before there were any is handed over.
ensure_accounts() {
  if ! { gets_in "$OWNS" "$OWNER_PASS" && gets_in "$RUNS" "$APP_PASS"; }; then
    OWNER_PASS="$(new_password)" APP_PASS="$(new_password)"
    keep_facts
    sql -d postgres <<SQL
select format('create role %I login', r) from unnest(array['$OWNS', '$RUNS']) r where r not in (select rolname from pg_roles) \gexec
alter role $OWNS login createdb nosuperuser password '$OWNER_PASS';
alter role $RUNS login nocreatedb nosuperuser password '$APP_PASS';
SQL
  fi
  [ "$(sql -d postgres -c "select pg_get_userbyid(datdba) from pg_database where datname='$DB'")" = "$OWNS" ] && return
  sql -d "$DB" <<SQL
alter database "$DB" owner to $OWNS;
select format('alter table %s owner to $OWNS', oid::regclass) from pg_class where relnamespace = 'public'::regnamespace and relkind in ('r', 'v', 'p') \gexec
select format('alter function %s owner to $OWNS', oid::regprocedure) from pg_proc where pronamespace = 'public'::regnamespace \gexec
SQL
}
address() {
  locate; facts
  case "$1" in
    keeper) printf 'postgres://%s:%s@%s:%s/%s\n' "$USR" "$PASS" "$HOST" "$PORT" "$DB" ;;
    owner) printf 'postgres://%s:%s@%s:%s/%s\n' "$OWNS" "$OWNER_PASS" "$HOST" "$PORT" "$DB" ;;
    app) printf 'postgres://%s:%s@%s:%s/%s\n' "$RUNS" "$APP_PASS" "$HOST" "$PORT" "$DB" ;;
    *) fail "there is no account “$1”" "keeper, owner or app" ;;
  esac
}
stop_server() { as "$BIN/pg_ctl" -D "$CLUSTER" -m fast -w -t 60 stop >/dev/null; }
start_server() {
  if port_taken "$PORT"; then PORT="$(free_port)"; keep_facts; fi # somebody else took the port since: move
  local opts="-h $HOST -p $PORT -k '' -c max_connections=100" # no unix socket: no limit on the path's length
  [ "${PG_FAST:-}" = 1 ] && opts="$opts -c fsync=off -c synchronous_commit=off -c full_page_writes=off"
  local was; was="$(as stat -c %s "$LOG" 2>/dev/null || echo 0)"
  # shown is what this start said, not what others said before it
  as "$BIN/pg_ctl" -D "$CLUSTER" -l "$LOG" -o "$opts" -w -t 60 start >/dev/null 9>&- \
    || { as tail -c "+$((was + 1))" "$LOG" 2>/dev/null | tail -n 20 >&2; fail "PostgreSQL did not start" "the cluster is left as it is; see $LOG. What cannot be saved of it is in the last copy: bin/restore"; }
  for _ in $(seq 1 100); do "$BIN/pg_isready" -q -h "$HOST" -p "$PORT" && return; sleep 0.1; done
}

start() {
  ensure_bin; locate
  exec 9>"$DATA/$NAME.lock"; flock -w 120 9 || fail "another start has held the lock on .data for two minutes"
  facts
  if holds; then bin_of_cluster; drop_foreign_lock; else make_cluster; fi
  if running; then
    # it says itself where it listens (postmaster.pid, line 4)
    local at; at="$(sed -n 4p "$CLUSTER/postmaster.pid")"
    [ "$at" = "$PORT" ] || { PORT="$at"; [ -z "$PASS" ] || keep_facts; }
    if ! ours; then
      [ "$NAME" = main ] && in_use && fail "the database's password is lost while Fresh Start is running" "stop it (Ctrl-C where it was started), then start it again: the password is set anew then"
      stop_server
      set_password
      start_server
    fi
  else
    [ -n "$PASS" ] || set_password
    [ -n "$PORT" ] || PORT="$(free_port)"
    start_server
    ours || { stop_server; set_password; start_server; }
  fi
  ours || fail "the database in $CLUSTER refuses the password that was just set" "it is left as it is; see $LOG"
  [ "$(sql -d postgres -c "select 1 from pg_database where datname='$DB'")" = 1 ] || sql -d postgres -c "create database \"$DB\""
  ensure_accounts
  printf 'postgres://%s:%s@%s:%s/%s\n' "$USR" "$PASS" "$HOST" "$PORT" "$DB"
}
stop() {
  BIN="$(newest_bin)"; locate
  { [ -n "$BIN" ] && holds; } || return 0
  bin_of_cluster
  if running; then stop_server; fi
}
case "${1:-}" in
  start) start ;;
  stop) stop ;;
  running) locate; holds && bin_of_cluster && running ;;
  holds) locate; holds ;;
  where) locate; printf '%s\n' "$BASE" ;;
  address) address "${3:-}" ;;
  *) echo "use: $0 start|stop|running|holds|where NAME, or address NAME keeper|owner|app" >&2; exit 2 ;;
esac
