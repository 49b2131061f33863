# Starts and stops a private MariaDB on loopback. Sourced by start.sh and by the tests; a system
# database server is never touched: own data folder, own socket, own port, no shared configuration.

say() { printf '%s\n' "$*"; }
fail() { printf '\nwide-lattice: %s\n' "$*" >&2; exit 1; }

# apt_install PACKAGE...: installs Debian packages that are missing, or says how.
apt_install() {
  say "Installing from Debian: $*"
  local run=""
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || fail "$* must be installed. Run as root: apt-get install -y $*"
    run="sudo"
  fi
  local log
  log=$(mktemp)
  { $run apt-get update -q && DEBIAN_FRONTEND=noninteractive $run apt-get install -y -q --no-install-recommends "$@"; } >"$log" 2>&1 ||
    { tail -n 20 "$log" >&2; fail "apt-get could not install $*. Mend what it says above, then run this again."; }
}

# need_command COMMAND PACKAGE: installs PACKAGE when COMMAND is not there.
need_command() {
  command -v "$1" >/dev/null || [ -x "/usr/sbin/$1" ] || apt_install "$2"
}

port_is_free() {
  ! (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null
}

# free_port FIRST: the first free loopback port from FIRST on.
free_port() {
  local port
  for port in $(seq "$1" $(($1 + 50))); do
    if port_is_free "$port"; then
      printf '%s' "$port"
      return
    fi
  done
  fail "no free port between $1 and $(($1 + 50)). Stop what uses them, or set WL_PORT and WL_DB_PORT."
}

# database_folder WANTED: WANTED when the database's user can enter it, else a place below /var/tmp.
database_folder() {
  local wanted=$1 user
  user=$(database_user)
  mkdir -p "$wanted"
  if [ "$user" = "$(id -un)" ]; then
    printf '%s' "$wanted"
    return
  fi
  chmod a+x "$wanted"
  if runuser -u "$user" -- test -x "$wanted"; then
    printf '%s' "$wanted"
  else
    local other
    other="/var/tmp/wide-lattice-$(printf '%s' "$wanted" | sha256sum | cut -c1-12)"
    mkdir -p "$other"
    chmod a+x "$other"
    say "The database's user cannot enter $wanted; its data is kept in $other instead." >&2
    printf '%s' "$other"
  fi
}

# The unprivileged user that runs the server: mysql when started by root, else whoever starts it.
database_user() {
  if [ "$(id -u)" -eq 0 ]; then printf 'mysql'; else id -un; fi
}

# start_database FOLDER PORT [EXTRA OPTION...]: starts the server and waits for it.
# Sets DB_SOCKET and DB_PID. The data folder is made on first use.
start_database() {
  local folder=$1 port=$2 user
  shift 2
  user=$(database_user)
  install -d -m 750 "$folder" "$folder/run"
  if [ "$(id -u)" -eq 0 ]; then chown mysql:mysql "$folder" "$folder/run"; fi
  DB_SOCKET="$folder/run/m.sock"
  [ "${#DB_SOCKET}" -lt 104 ] || fail "the path $DB_SOCKET is too long for a socket. Move the project to a shorter path."
  if [ ! -d "$folder/data/mysql" ]; then
    rm -rf "$folder/data"
    mariadb-install-db --no-defaults --user="$user" --datadir="$folder/data" --auth-root-authentication-method=socket \
      --auth-root-socket-user="$(id -un)" --skip-test-db >"$folder/install.log" 2>&1 ||
      { tail -n 20 "$folder/install.log" >&2; fail "the database folder $folder/data could not be made. Mend what it says above."; }
  fi
  local server
  server=$(command -v mariadbd || printf '/usr/sbin/mariadbd')
  setsid "$server" --no-defaults --user="$user" --datadir="$folder/data" --socket="$DB_SOCKET" --pid-file="$folder/run/m.pid" \
    --bind-address=127.0.0.1 --port="$port" --skip-name-resolve --log-error="$folder/run/error.log" \
    --character-set-server=utf8mb4 --collation-server=utf8mb4_unicode_ci --default-time-zone=+00:00 --max-allowed-packet=64M \
    --sql-mode=STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO,NO_ZERO_DATE,NO_ZERO_IN_DATE \
    "$@" </dev/null >/dev/null 2>&1 &
  DB_PID=$!
  local waited=0
  until mariadb-admin --no-defaults --socket="$DB_SOCKET" ping >/dev/null 2>&1; do
    kill -0 "$DB_PID" 2>/dev/null || { tail -n 20 "$folder/run/error.log" >&2; fail "the database did not start. Its log: $folder/run/error.log"; }
    waited=$((waited + 1))
    [ "$waited" -lt 300 ] || fail "the database did not answer in 60 s. Its log: $folder/run/error.log"
    sleep 0.2
  done
}

# make_schema NAME PASSWORD: makes the schema and its loopback user when they are missing.
make_schema() {
  mariadb --no-defaults --socket="$DB_SOCKET" <<SQL
CREATE DATABASE IF NOT EXISTS \`$1\`;
CREATE USER IF NOT EXISTS 'wide_lattice'@'127.0.0.1' IDENTIFIED BY '$2';
ALTER USER 'wide_lattice'@'127.0.0.1' IDENTIFIED BY '$2';
GRANT ALL ON \`$1\`.* TO 'wide_lattice'@'127.0.0.1';
SQL
}

stop_database() {
  [ -n "${DB_PID:-}" ] || return 0
  mariadb-admin --no-defaults --socket="$DB_SOCKET" shutdown >/dev/null 2>&1 || true
  wait "$DB_PID" 2>/dev/null || true
  DB_PID=""
}
