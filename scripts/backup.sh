#!/usr/bin/env bash
# The whole database in one file: every study, file, decision and plate.
#   scripts/backup.sh FILE
. "$(dirname "${BASH_SOURCE[0]}")/setup.sh"

[ $# = 1 ] || die "say where the copy goes, as in scripts/backup.sh heron-copy.dump"
file=$(realpath -m "$1")
[ ! -e "$file" ] || die "$1 is there already; choose another name, or take it away first."
[ -d "$(dirname "$file")" ] || die "there is no folder $(dirname "$1")."
[ -n "${HERON_DB_HOST:-}" ] || { [ -f "$VAR/postgres.ready" ] || die "there is no database here yet; ./start makes it."; }
[ -n "${HERON_DB_HOST:-}" ] || { trap stop_postgres EXIT; start_postgres postgres; }
PG_BIN=${PG_BIN:-$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -n 1)}
export PGPASSWORD=$HERON_DB_PASSWORD
(umask 077 && "$PG_BIN/pg_dump" -h "$HERON_DB_HOST" -p "$HERON_DB_PORT" -U "$HERON_DB_USER" -d "$HERON_DB_NAME" \
  --format=custom --no-owner --file "$file.part") || { rm -f "$file.part"; die "the copy could not be written; see above."; }
mv "$file.part" "$file"
say "Copied to $1 ($(du -h "$file" | cut -f1))."
