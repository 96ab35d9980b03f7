#!/usr/bin/env bash
# The database as it was at a moment, from a copy made before it by scripts/backup_moments.sh and what ./serve kept since.
# Stop ./serve first. What is there now is put aside, not deleted.
#   scripts/restore_moment.sh FOLDER "2026-12-01 10:30:00+00"
. "$(dirname "${BASH_SOURCE[0]}")/setup.sh"

[ $# = 2 ] || die "say which copy and which moment, as in scripts/restore_moment.sh /backup/heron-monday \"2026-12-01 10:30:00+00\""
[ -f "$1/backup_label" ] || die "$1 is no copy made by scripts/backup_moments.sh."
moment=$(date -u -d "$2" '+%Y-%m-%d %H:%M:%S.%N+00') || die "$2 is no moment; write it as in 2026-12-01 10:30:00+00."
exec 9>"$VAR/lock"
flock -n 9 || die "./serve is at work in this folder; stop it first."
make_postgres postgres
aside="$PG_HOME/data-$(date -u +%Y%m%dT%H%M%SZ)"
mv "$PG_DATA" "$aside"
cp -a "$1" "$PG_DATA"
# What was written last and not kept apart yet is in what was put aside.
cp -a "$aside"/pg_wal/0* "$PG_DATA/pg_wal/" 2>/dev/null || true
touch "$PG_DATA/recovery.signal"
[ "$(id -u)" != 0 ] || chown -R postgres "$PG_DATA"
trap stop_postgres EXIT
start_postgres postgres -c "restore_command='gunzip -c \"$PG_HOME/archive/%f.gz\" >\"%p\"'" \
  -c "recovery_target_time='$moment'" -c recovery_target_action=promote
export PGPASSWORD=$HERON_DB_PASSWORD
for _ in $(seq 600); do
  [ "$("$PG_BIN/psql" -h 127.0.0.1 -p "$HERON_DB_PORT" -U heron -d postgres -qtAc 'select pg_is_in_recovery()' 2>/dev/null)" = f ] && break
  sleep 0.2
done
[ ! -e "$PG_DATA/recovery.signal" ] || die "the moment was not reached; see $PG_HOME/server.log. What was there is in $aside."
rm -f "$VAR/stamps/postgres"
say "The database is as it was at $2; what was there before is in $aside. ./serve serves it."
