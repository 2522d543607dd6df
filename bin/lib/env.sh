# What bin/start, bin/test and bin/bench share: Python packages, a database, a
# browser. Each function makes sure of one thing and installs it when it may.
# Sourced, not run.

root="$(cd "$(dirname "${BASH_SOURCE[0]}")/../.." && pwd)"
run="$root/.run"
mkdir -p "$run"

say() { printf '%s\n' "$*" >&2; }

# install PROGRAM-TEST PACKAGE: a Debian package, unless the test already passes.
install_package() {
  eval "$1" >/dev/null 2>&1 && return
  if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
    say "Installing $2 …"
    (apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "$2") \
      >"$run/apt.log" 2>&1 || { say "That failed; see .run/apt.log"; exit 1; }
  else
    say "Inner Hop needs $2. Install it and start again:  sudo apt-get install $2"
    exit 1
  fi
}

# offer_package CHECK PACKAGE: the same for one that is only good to have.
offer_package() {
  eval "$1" >/dev/null 2>&1 && return
  [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null || return 0
  (apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "$2") \
    >"$run/apt.log" 2>&1 || say "$2 could not be installed, so what needs it is not tried."
}

# need_python FILE…: a virtual environment with the pinned packages of these files.
need_python() {
  local stamp="$root/.venv/.pinned-$*" wanted files=()
  wanted="$(cd "$root/requirements" && cat "$@" | sha256sum)"
  if [ "$(cat "$stamp" 2>/dev/null || true)" != "$wanted" ]; then
    say "Installing the Python packages …"
    [ -x "$root/.venv/bin/python" ] || python3 -m venv "$root/.venv" ||
      { say "Python's venv module is missing:  sudo apt-get install python3-venv"; exit 1; }
    for file in "$@"; do files+=(-r "$root/requirements/$file"); done
    "$root/.venv/bin/pip" install --quiet --disable-pip-version-check --require-hashes "${files[@]}"
    printf '%s\n' "$wanted" >"$stamp"
  fi
  PATH="$root/.venv/bin:$PATH"
}

random_text() { python3 -c 'import secrets; print(secrets.token_urlsafe(40))'; }

# need_secret: one SECRET_KEY for this copy of the application.
need_secret() {
  [ -n "${SECRET_KEY:-}" ] && return
  [ -s "$run/secret" ] || (umask 077 && random_text >"$run/secret")
  SECRET_KEY="$(cat "$run/secret")"
  export SECRET_KEY
}

# PostgreSQL refuses to run as root.
as_owner() { if [ "$(id -u)" = 0 ]; then (cd / && runuser -u postgres -- "$@"); else "$@"; fi; }

postgres_programs() { ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -1; }

# need_database: DATABASE_URL, or a private PostgreSQL of our own on loopback.
need_database() {
  [ -n "${DATABASE_URL:-}" ] && return
  [ -n "$(postgres_programs)" ] || command -v initdb >/dev/null ||
    install_package 'test -n "$(postgres_programs)"' postgresql
  local bin data
  bin="$(postgres_programs)"
  bin="${bin:-$(dirname "$(command -v initdb)")}"
  data="$(database_folder)"
  if [ ! -f "$data/PG_VERSION" ]; then
    say "Making a database of our own …"
    [ -s "$run/password" ] || (umask 077 && random_text >"$run/password")
    local copy
    copy="$(as_owner mktemp)"
    cat "$run/password" >"$copy"
    as_owner "$bin/initdb" --pgdata="$data" --username=innerhop --pwfile="$copy" \
      --auth=scram-sha-256 --encoding=UTF8 --locale=C.UTF-8 >"$run/initdb.log" 2>&1 ||
      { say "That failed; see .run/initdb.log"; exit 1; }
    rm -f "$copy"
  fi
  if ! as_owner "$bin/pg_ctl" --pgdata="$data" status >/dev/null 2>&1; then
    free_port >"$run/port"
    as_owner "$bin/pg_ctl" --pgdata="$data" --log="$data/server.log" --wait --silent \
      --options="-p $(cat "$run/port") -c listen_addresses=127.0.0.1 -c unix_socket_directories=''" \
      start || { say "The database does not start; see $data/server.log"; exit 1; }
    # Who starts it stops it.
    trap 'as_owner "'"$bin"'/pg_ctl" --pgdata="'"$data"'" --mode=fast --silent stop' EXIT
  fi
  local server
  server="postgres://innerhop:$(cat "$run/password")@127.0.0.1:$(cat "$run/port")"
  python - "$server" <<'PY'
import sys
import psycopg
with psycopg.connect(sys.argv[1] + "/postgres", autocommit=True) as connection:
    if not connection.execute("select 1 from pg_database where datname = 'innerhop'").fetchone():
        connection.execute("create database innerhop")
PY
  export DATABASE_URL="$server/innerhop"
}

free_port() {
  python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])'
}

# Where the private database lives: .run/, or beside the system's temporary
# files when the postgres user can't reach into this folder.
database_folder() {
  if [ "$(id -u)" != 0 ]; then printf '%s\n' "$run/postgres"; return; fi
  local own="$run/database"
  mkdir -p "$own"
  chown postgres "$own"
  if ! (cd / && runuser -u postgres -- test -w "$own"); then
    own="/var/tmp/innerhop-$(printf '%s' "$root" | sha256sum | cut -c1-12)"
    mkdir -p "$own"
    chown postgres "$own"
  fi
  printf '%s\n' "$own/postgres"
}
