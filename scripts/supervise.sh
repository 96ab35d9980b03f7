# What ./start and ./serve share: one run at a time, the database brought up to date, and parts that are kept running.
# Sourced, after scripts/setup.sh.

supervisor=
stop_all() {
  trap - EXIT INT TERM
  [ -z "$supervisor" ] || { kill "$supervisor" 2>/dev/null || true; wait "$supervisor" 2>/dev/null || true; }
  stop_postgres
}
trap stop_all EXIT
trap 'exit 130' INT
trap 'exit 143' TERM

# claim COMMAND PORT...: this folder, for one run, and the ports that it will listen on
claim() {
  local command=$1 port; shift
  check_disk
  exec 9>"$VAR/lock"
  flock -n 9 || die "another ./start or ./serve is at work in this folder."
  # A run that was killed may have left its parts: ours by their environment, so nobody else's.
  mapfile -t left < <(grep -slzx "HERON_RUN=$VAR" /proc/[0-9]*/environ | cut -d/ -f3)
  [ ${#left[@]} = 0 ] || end_processes "${left[@]}"
  for port in "$@"; do
    python3 -c "import socket; s = socket.socket(); s.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1); s.bind(('127.0.0.1', $port))" 2>/dev/null ||
      die "port $port is busy; choose another with $command --port N"
  done
}

# up_to_date: the database of this folder, made where there is none, as this version of the code wants it
up_to_date() {
  local state
  state=$(fingerprint server/*/migrations server/demo demo requirements/base.txt)
  if ! done_already postgres "$state"; then
    start_postgres postgres
    say "Preparing the database …"
    make_database
    "$PYTHON" -m server.manage migrate --verbosity 0 || die "The database could not be brought up to date."
    [ "$HERON_DEMO" != shared ] || "$PYTHON" -m server.manage load_demo || die "The demo study could not be loaded."
    mark_done postgres "$state"
    stop_postgres
  fi
}

part() { printf '[%s:%s]\nautorestart=true\nstartretries=1000000\nredirect_stderr=true\nstdout_logfile=%s\nstopwaitsecs=15\n' "${3:-program}" "$1" "$VAR/${2:-$1}.log"; }

# common_parts PORT WORKERS: the database, web workers that share one listening socket on loopback (whoever is free takes
# what comes), and what does long work
common_parts() {
  printf '[supervisord]\nnodaemon=true\nlogfile=%s\nloglevel=info\nsilent=true\npidfile=%s\nchildlogdir=%s\n' \
    "$VAR/supervisor.log" "$VAR/supervisor.pid" "$VAR"
  part database
  printf 'command="%s/postgres" -D "%s" %s\npriority=1\nstopsignal=INT\ndirectory=%s\n' "$PG_BIN" "$PG_DATA" "$PG_OPTIONS" "$PG_HOME"
  [ "$(id -u)" != 0 ] || printf 'user=postgres\n'
  part web 'web-%(process_num)d' fcgi-program
  printf 'command="%s" -m server.serving --inherited\nsocket=tcp://127.0.0.1:%s\nsocket_backlog=1024\ndirectory=%s\npriority=2\n' "$PYTHON" "$1" "$ROOT"
  printf 'numprocs=%s\nnumprocs_start=1\nprocess_name=web-%%(process_num)d\n' "$2"
  part jobs
  printf 'command="%s" -m server.manage procrastinate worker --concurrency 2 --delete-jobs successful\ndirectory=%s\npriority=2\n' "$PYTHON" "$ROOT"
  printf '[eventlistener:telling]\ncommand="%s" "%s/scripts/tell.py"\nevents=PROCESS_STATE\nstdout_logfile=NONE\nstderr_logfile=/dev/fd/2\nstderr_logfile_maxbytes=0\nautorestart=true\npriority=0\n' "$PYTHON" "$ROOT"
}

# supervise ADDRESS PYTHON_CONNECTION: run what $VAR/parts.conf lists until it ends; say so once it answers
supervise() {
  pg_run "$PG_BIN/pg_ctl" stop -m fast -D "$PG_DATA" >/dev/null 2>&1 || true # left by a run that was killed
  printf '%s' "$HERON_DB_PORT" >"$VAR/postgres.port"
  touch "$VAR/database.log" && { [ "$(id -u)" != 0 ] || chown postgres "$VAR/database.log"; }
  HERON_RUN=$VAR "$(dirname "$PYTHON")/supervisord" -c "$VAR/parts.conf" 9>&- &
  supervisor=$!
  for _ in $(seq 300); do
    kill -0 "$supervisor" 2>/dev/null || die "Nothing could be started; see $VAR/supervisor.log."
    # The socket listens before anybody is at it: what counts is an answer, of whatever kind.
    "$PYTHON" -c "import http.client, ssl; c = $2; c.request('GET', '/api/session'); c.getresponse()" 2>/dev/null && break
    sleep 0.1
  done
  say "Velvet Heron stands at $1   (Ctrl-C stops it)"
  wait "$supervisor" || true
  die "Everything was stopped; see $VAR/supervisor.log."
}
