#!/usr/bin/env bash
# A copy of the database as files, from which, with what ./serve keeps since then, any later moment is reached. ./serve
# goes on meanwhile; what it kept from before this copy goes.
#   scripts/backup_moments.sh FOLDER
. "$(dirname "${BASH_SOURCE[0]}")/setup.sh"

[ $# = 1 ] || die "say where the copy goes, as in scripts/backup_moments.sh /backup/heron-monday"
[ ! -e "$1" ] || die "$1 is there already; choose another name, or take it away first."
make_postgres postgres
export PGPASSWORD=$HERON_DB_PASSWORD
folder=$(realpath -m "$1")
(umask 077 && "$PG_BIN/pg_basebackup" -h 127.0.0.1 -p "$HERON_DB_PORT" -U heron -D "$folder.part" -X fetch --checkpoint=fast) ||
  { rm -rf "$folder.part"; die "the copy could not be made; is ./serve at work?"; }
mv "$folder.part" "$folder"
first=$(sed -n 's/^START WAL LOCATION: .*(file \(.*\))$/\1/p' "$folder/backup_label")
pg_run "$PG_BIN/pg_archivecleanup" -x .gz "$PG_HOME/archive" "$first"
say "Copied to $1 ($(du -sh "$folder" | cut -f1)); moments from now on can be reached from it."
