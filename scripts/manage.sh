#!/usr/bin/env bash
# A command of Django's on the database of ./start and ./serve, whether they run or not:
#   scripts/manage.sh make_operator NAME
. "$(dirname "${BASH_SOURCE[0]}")/setup.sh"

ensure_python
trap stop_postgres EXIT
start_postgres postgres
secret_key
"$PYTHON" -m server.manage "$@"
