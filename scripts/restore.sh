#!/usr/bin/env bash
# The database as a copy holds it; what is there now is replaced, all of it or nothing. Stop ./start first.
#   scripts/restore.sh FILE
. "$(dirname "${BASH_SOURCE[0]}")/setup.sh"

[ $# = 1 ] || die "say which copy, as in scripts/restore.sh heron-copy.dump"
[ -f "$1" ] || die "there is no file $1."
file=$(realpath "$1")
PG_BIN=${PG_BIN:-$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1)}
[ -z "$PG_BIN" ] || "$PG_BIN/pg_restore" --list "$file" >/dev/null 2>&1 || die "$1 is no copy made by scripts/backup.sh."
if [ -z "${HERON_DB_HOST:-}" ]; then
  exec 9>"$VAR/lock"
  flock -n 9 || die "./start is at work in this folder; stop it first."
  check_disk
  ensure_python
  trap stop_postgres EXIT
  start_postgres postgres
fi
export PGPASSWORD=$HERON_DB_PASSWORD
at=(-h "$HERON_DB_HOST" -p "$HERON_DB_PORT" -U "$HERON_DB_USER")
"$PG_BIN/psql" "${at[@]}" -d postgres -qtAc "select 1 from pg_database where datname = '$HERON_DB_NAME'" | grep -q 1 ||
  "$PG_BIN/createdb" "${at[@]}" "$HERON_DB_NAME"
"$PG_BIN/pg_restore" "${at[@]}" -d "$HERON_DB_NAME" --clean --if-exists --no-owner --single-transaction "$file" ||
  die "nothing was changed; see above."
# ./start brings an older copy up to date.
rm -f "$VAR/stamps/postgres"
say "Restored from $1. ./start serves it."
