# Shared by bin/start and bin/test: set up whatever is missing, and run a MariaDB of our own.
# Sourced, not run. Everything made lives in .venv, web/node_modules, web/dist and var.

root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)
cd "$root"
state=${PERIGRAM_STATE:-$root/var}
export PERIGRAM_STATE=$state

say() { printf '%s\n' "· $*"; }
fail() { printf '%s\n' "✗ $*" >&2; exit 1; }

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"
  elif command -v sudo >/dev/null; then sudo "$@"
  else fail "Installing system packages needs root or sudo. Install by hand: $*"; fi
}

# install_packages NAME...: only those Debian does not have installed yet.
install_packages() {
  command -v apt-get >/dev/null || return 0
  local missing=() name
  for name in "$@"; do
    dpkg-query -W -f='${Status}' "$name" 2>/dev/null | grep -q 'install ok installed' || missing+=("$name")
  done
  [ ${#missing[@]} -gt 0 ] || return 0
  say "Installing system packages: ${missing[*]}"
  {
    as_root apt-get update &&
    # Debian would start its own server and enable it; ours is the only one we need.
    as_root env DEBIAN_FRONTEND=noninteractive RUNLEVEL=1 apt-get install -y --no-install-recommends "${missing[@]}"
  } >"$state/apt.log" 2>&1 || fail "Debian's packages could not be installed; see $state/apt.log. Is the package registry reachable?"
}

check_machine() {
  local free
  mkdir -p "$state" || fail "Nothing can be written to $state; choose another folder with PERIGRAM_STATE."
  free=$(df -Pk "$root" | awk 'NR==2 {print int($4 / 1024)}')
  [ "$free" -ge 1500 ] || [ -d .venv ] || fail "Only $free MB of disk free; setting up needs about 1500 MB."
  command -v python3 >/dev/null || install_packages python3
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' || fail "Python 3.11 or newer is needed; this is $(python3 --version)."
  if ! command -v node >/dev/null; then fail "Node 20 or newer is needed to build the interface; install it and start again."; fi
  [ "$(node -p 'process.versions.node.split(".")[0]')" -ge 20 ] || fail "Node 20 or newer is needed; this is $(node --version)."
}

# stamped FILE DIGEST: whether FILE already says DIGEST.
stamped() { [ -f "$1" ] && [ "$(cat "$1")" = "$2" ]; }

# set_up_python LOCKFILE: the venv with the locked packages; the developers' lock holds all of the other.
set_up_python() {
  local lock=$1 digest
  digest=$(cat requirements-dev.lock pyproject.toml | sha256sum)
  stamped .venv/.requirements-dev.lock "$digest" && return 0
  digest=$(cat "$lock" pyproject.toml | sha256sum)
  stamped ".venv/.$lock" "$digest" && return 0
  say "Installing Python packages into .venv"
  {
    { [ -x .venv/bin/python ] || python3 -m venv .venv; } &&
    .venv/bin/python -m pip install --disable-pip-version-check -r "$lock" &&
    .venv/bin/python -m pip install --disable-pip-version-check --no-deps -e .
  } >"$state/pip.log" 2>&1 || fail "Python packages could not be installed; see $state/pip.log. Is PyPI reachable?"
  printf '%s' "$digest" >".venv/.$lock"
}

# set_up_npm_packages FOLDER WHAT: the locked packages of a folder.
set_up_npm_packages() {
  local folder=$1 digest
  digest=$(sha256sum <"$folder/package-lock.json")
  stamped "$folder/node_modules/.perigram-lock" "$digest" && return 0
  say "Installing $2"
  # Not "npm ci": it refuses a lock file made where a registry lacks other platforms' optional packages.
  (cd "$folder" && npm install --no-save --no-audit --no-fund) >"$state/npm.log" 2>&1 || fail "npm packages could not be installed; see $state/npm.log. Is the npm registry reachable?"
  printf '%s' "$digest" >"$folder/node_modules/.perigram-lock"
}

set_up_web_packages() { set_up_npm_packages web "the interface's packages"; }

build_web() {
  local digest
  digest=$(find web/src web/index.html web/package-lock.json web/*.ts web/tsconfig*.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum)
  stamped web/dist/.perigram-build "$digest" && return 0
  set_up_web_packages
  say "Building the interface"
  (cd web && npm run build) >"$state/build.log" 2>&1 || { tail -30 "$state/build.log" >&2; fail "The interface could not be built; see $state/build.log."; }
  # Sent as they are to browsers that take them so: a third of the bytes.
  .venv/bin/python -m whitenoise.compress -q web/dist
  printf '%s' "$digest" >web/dist/.perigram-build
}

port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

# without_room FOLDER: says that the disk it lies on is full, where it is.
without_room() {
  local left
  left=$(df --output=avail -k "$1" | tail -1)
  [ "$left" -gt 20000 ] || printf ': there is no room left on the disk of %s' "$1"
}

# start_database FOLDER PORT [OPTION...]: a MariaDB on loopback with a data folder of our own, never as root.
start_database() {
  local folder=$1 port=$2 user=() owner password
  shift 2
  port_taken "$port" && fail "Port $port is taken, so the database cannot start. Stop what uses it, or choose another with PERIGRAM_DB_PORT."
  mkdir -p "$folder"
  owner=$(id -un)
  if [ "$(id -u)" = 0 ]; then
    owner=mysql
    if ! runuser -u mysql -- test -x "$folder"; then
      # A checkout in a folder only root may enter: the database user needs a place it can reach.
      folder=/var/tmp/perigram-$(printf '%s' "$folder" | cksum | cut -d' ' -f1)
      mkdir -p "$folder"
      say "The database user cannot enter this checkout; keeping data in $folder"
    fi
    user=(--user=mysql)
  fi
  if [ ! -f "$folder/password" ]; then
    head -c 24 /dev/urandom | base64 | tr -d '/+=' >"$folder/password"
  fi
  chmod 600 "$folder/password"
  password=$(cat "$folder/password")
  if [ ! -d "$folder/data/mysql" ]; then
    say "Making a database in $folder"
    mkdir -p "$folder/data"
    [ "$(id -u)" != 0 ] || chown -R mysql: "$folder"
    mariadb-install-db --no-defaults --datadir="$folder/data" --auth-root-authentication-method=normal \
      --skip-test-db "${user[@]}" >"$folder/install.log" 2>&1 || fail "The database could not be made; see $folder/install.log."
  fi
  cat >"$folder/accounts.sql" <<SQL
CREATE DATABASE IF NOT EXISTS perigram CHARACTER SET utf8mb4;
CREATE OR REPLACE USER perigram@'127.0.0.1' IDENTIFIED BY '$password';
GRANT ALL ON perigram.* TO perigram@'127.0.0.1';
GRANT ALL ON \`test\_perigram%\`.* TO perigram@'127.0.0.1';
ALTER USER root@localhost IDENTIFIED BY '$password';
DELETE FROM mysql.global_priv WHERE User = '' OR (User = 'root' AND Host <> 'localhost');
FLUSH PRIVILEGES;
SQL
  chmod 600 "$folder/accounts.sql"
  [ "$(id -u)" != 0 ] || chown mysql: "$folder" "$folder/accounts.sql" "$folder/password"
  local socket=$folder/socket
  [ ${#socket} -lt 100 ] || socket=/tmp/perigram-$port.socket
  mariadbd --no-defaults --datadir="$folder/data" --bind-address=127.0.0.1 --port="$port" --socket="$socket" \
    --pid-file="$folder/pid" --init-file="$folder/accounts.sql" --log-error="$folder/error.log" \
    --skip-name-resolve --innodb-buffer-pool-size=64M --max-allowed-packet=64M \
    --character-set-server=utf8mb4 "${user[@]}" "$@" >/dev/null 2>&1 &
  database_pid=$!
  export PERIGRAM_DB_PORT=$port PERIGRAM_DB_PASSWORD=$password
  local i
  for i in $(seq 300); do
    kill -0 "$database_pid" 2>/dev/null || fail "The database did not start$(without_room "$folder"); see $folder/error.log."
    if mariadb --no-defaults -h127.0.0.1 -P"$port" -uperigram -p"$password" -e 'select 1' >/dev/null 2>&1; then return 0; fi
    sleep 0.1
  done
  fail "The database did not answer within 30 s; see $folder/error.log."
}

stop_all() {
  trap - EXIT INT TERM
  local pid
  for pid in ${server_pid:-} ${cutter_pid:-} ${database_pid:-}; do kill "$pid" 2>/dev/null || true; done
  for pid in ${server_pid:-} ${cutter_pid:-} ${database_pid:-}; do wait "$pid" 2>/dev/null || true; done
}

system_packages=(python3-venv python3-dev build-essential pkg-config libmariadb-dev mariadb-server mariadb-client)

# find_database: options for MariaDB's own programs, from the settings or for the database bin/start made.
find_database() {
  local folder=$state/mariadb moved
  moved=/var/tmp/perigram-$(printf '%s' "$folder" | cksum | cut -d' ' -f1)
  [ -r "$folder/password" ] || folder=$moved
  if [ -z "${PERIGRAM_DB_PASSWORD:-}" ]; then
    [ -r "$folder/password" ] || fail "No database was made here. Name yours by PERIGRAM_DB_HOST, _PORT, _NAME, _USER and _PASSWORD."
    PERIGRAM_DB_PASSWORD=$(cat "$folder/password")
  fi
  export PERIGRAM_DB_PASSWORD MYSQL_PWD=$PERIGRAM_DB_PASSWORD
  database_name=${PERIGRAM_DB_NAME:-perigram}
  database_options=(--no-defaults --host="${PERIGRAM_DB_HOST:-127.0.0.1}" --port="${PERIGRAM_DB_PORT:-3316}"
    --user="${PERIGRAM_DB_USER:-perigram}")
  mariadb "${database_options[@]}" -e 'select 1' "$database_name" >/dev/null ||
    fail "The database does not answer. Is it running, and is PERIGRAM_DB_PORT right?"
}

# set_up: all that running needs and is not there yet.
set_up() {
  check_machine
  install_packages "${system_packages[@]}"
  set_up_python requirements.lock
  build_web
}
