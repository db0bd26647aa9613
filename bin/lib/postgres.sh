#!/usr/bin/env bash
# A private PostgreSQL cluster on loopback, one for each NAME ("main", "test").
#   bin/lib/postgres.sh start|stop|destroy NAME
# `start` prints the cluster's address. The password is made at the first start and kept in .data/NAME.postgres.
# PG_FAST=1: no fsync, for tests.
set -euo pipefail
. "$(dirname "${BASH_SOURCE[0]}")/common.sh"
NAME="${2:-main}" USR=fresh_start DB=fresh_start HOST=127.0.0.1
FACTS="$DATA/$NAME.postgres"
mkdir -p "$DATA"
# PostgreSQL refuses to run as root: its own account does it then
OWNER="$(id -un)"; [ "$(id -u)" = 0 ] && OWNER=postgres
as() { if [ "$(id -un)" = "$OWNER" ]; then "$@"; else (cd / && runuser -u "$OWNER" -- "$@"); fi; }
note() { printf '%s\n' "$*" >&2; }

find_bin() { BIN="$({ ls -d /usr/lib/postgresql/*/bin 2>/dev/null || true; } | sort -V | tail -n 1)"; }
ensure_bin() {
  find_bin
  [ -n "$BIN" ] && [ -x "$BIN/initdb" ] && return
  [ "$(id -u)" = 0 ] || fail "PostgreSQL is not installed" "run once as root: apt-get install postgresql"
  note "Installing PostgreSQL"
  # keep Debian from making and starting a cluster of its own
  mkdir -p /etc/postgresql-common/createcluster.d
  [ -e /etc/postgresql-common/createcluster.d/no-main.conf ] || echo 'create_main_cluster = false' > /etc/postgresql-common/createcluster.d/no-main.conf
  { DEBIAN_FRONTEND=noninteractive apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends postgresql; } >&2 \
    || fail "Debian's package postgresql could not be installed" "look at the lines above"
  find_bin
}
# <project>/.data/postgres-NAME, unless the cluster's account cannot get there (a project under a closed folder such as /root)
locate() {
  if as test -x "$DATA"; then BASE="$DATA/postgres-$NAME"
  else BASE="/var/lib/postgresql/fresh-start-$NAME-$(printf %s "$ROOT" | sha256sum | cut -c1-10)"; fi
  CLUSTER="$BASE/data"; LOG="$BASE/postgres.log"
}
facts() { [ -f "$FACTS" ] && . "$FACTS" || true; }
sql() { PGPASSWORD="$PASS" PGCONNECT_TIMEOUT=3 "$BIN/psql" -XqtA -v ON_ERROR_STOP=1 -h "$HOST" -p "$PORT" -U "$USR" "$@"; }
ours() { [ -n "${PORT:-}" ] && [ "$(sql -d postgres -c 'show data_directory' 2>/dev/null)" = "$CLUSTER" ]; }

start() {
  ensure_bin; locate
  exec 9>"$DATA/$NAME.lock"; flock -w 120 9 || fail "another start has held the lock on .data for two minutes"
  facts
  if [ ! -s "$CLUSTER/PG_VERSION" ] || [ -z "${PASS:-}" ]; then
    check_disk 300
    note "Making a PostgreSQL cluster in $CLUSTER"
    rm -rf "$CLUSTER"; mkdir -p "$BASE"; chown "$OWNER" "$BASE"; chmod 700 "$BASE"
    PASS="$(node -e 'console.log(require("crypto").randomBytes(24).toString("base64url"))')" PORT="$(free_port)"
    (umask 077; printf 'PASS=%s\nPORT=%s\n' "$PASS" "$PORT" > "$FACTS")
    PW="$(mktemp)"; printf '%s\n' "$PASS" > "$PW"; chown "$OWNER" "$PW"
    as "$BIN/initdb" -D "$CLUSTER" -U "$USR" --pwfile="$PW" -A scram-sha-256 -E UTF8 --locale=C.UTF-8 --no-instructions --no-sync >"$DATA/initdb.log" 2>&1 \
      || { cat "$DATA/initdb.log" >&2; rm -f "$PW"; fail "the PostgreSQL cluster could not be made"; }
    rm -f "$PW"
  fi
  if ! ours; then
    if port_taken "$PORT"; then # somebody else took the port since: move
      PORT="$(free_port)"; (umask 077; printf 'PASS=%s\nPORT=%s\n' "$PASS" "$PORT" > "$FACTS")
    fi
    OPTS="-h $HOST -p $PORT -k '' -c max_connections=100" # no unix socket: no limit on the path's length
    [ "${PG_FAST:-}" = 1 ] && OPTS="$OPTS -c fsync=off -c synchronous_commit=off -c full_page_writes=off"
    as "$BIN/pg_ctl" -D "$CLUSTER" -l "$LOG" -o "$OPTS" -w -t 60 start >/dev/null 9>&- \
      || { as tail -n 20 "$LOG" >&2; fail "PostgreSQL did not start" "see $LOG"; }
  fi
  for _ in $(seq 1 100); do "$BIN/pg_isready" -q -h "$HOST" -p "$PORT" && break; sleep 0.1; done
  ours || fail "the server on port $PORT is not ours, or refuses the password" "stop what listens there, or remove .data/$NAME.postgres and the cluster"
  [ "$(sql -d postgres -c "select 1 from pg_database where datname='$DB'")" = 1 ] || sql -d postgres -c "create database \"$DB\""
  printf 'postgres://%s:%s@%s:%s/%s\n' "$USR" "$PASS" "$HOST" "$PORT" "$DB"
}
stop() {
  find_bin; locate
  if [ -n "$BIN" ] && as test -s "$CLUSTER/postmaster.pid" && as "$BIN/pg_ctl" -D "$CLUSTER" status >/dev/null 2>&1; then
    as "$BIN/pg_ctl" -D "$CLUSTER" -m fast -w -t 60 stop >/dev/null
  fi
}
case "${1:-}" in
  start) start ;;
  stop) stop ;;
  destroy) stop; rm -rf "$BASE" "$FACTS" ;;
  *) echo "use: $0 start|stop|destroy NAME" >&2; exit 2 ;;
esac
