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
    { tail -n 20 "$log" >&2; fail "apt-get could not install $*. Fix what it says above, then run this again."; }
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
  case "$1" in "" | *[!0-9]*) fail "'$1' is not a port. Set WL_PORT and WL_DB_PORT to whole numbers from 1024 to 65485." ;; esac
  [ "$1" -ge 1024 ] && [ "$1" -le 65485 ] || fail "port $1 is outside 1024 to 65485. Set WL_PORT and WL_DB_PORT to numbers between."
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

# start_database FOLDER PORT [EXTRA OPTION...]: starts the server and waits until it answers.
start_database() {
  launch_database "$@"
  database_answers || { tail -n 20 "$1/run/error.log" >&2; fail "the database did not start. Its log: $1/run/error.log"; }
}

# launch_database FOLDER PORT [EXTRA OPTION...]: starts the server; what killed starts left is ended first.
# Sets DB_SOCKET and DB_PID. The data folder is made on first use. A server that starts removes what others have of temporary tables in
# the folder for them, so each has one of its own. With WL_DB_FLUSH=never, for tests, the disk is not waited
# for: what a killed process wrote is still kept, and only a machine that loses its power loses it.
launch_database() {
  local folder=$1 port=$2 user
  shift 2
  user=$(database_user)
  install -d -m 750 "$folder" "$folder/run" "$folder/tmp"
  if [ "$(id -u)" -eq 0 ]; then chown mysql:mysql "$folder" "$folder/run" "$folder/tmp"; fi
  DB_SOCKET="$folder/run/m.sock"
  [ "${#DB_SOCKET}" -lt 104 ] || fail "the path $DB_SOCKET is too long for a socket. Move the project to a shorter path."
  end_leftover "$folder/run/m.pid" "--datadir=$folder/data"
  if [ ! -d "$folder/data" ]; then
    # Made aside and moved into place, so that a folder that was cut off is never taken for a whole one.
    rm -rf "$folder/data.new"
    mariadb-install-db --no-defaults --user="$user" --datadir="$folder/data.new" --tmpdir="$folder/tmp" \
      --auth-root-authentication-method=socket --auth-root-socket-user="$(id -un)" --skip-test-db >"$folder/install.log" 2>&1 ||
      { tail -n 20 "$folder/install.log" >&2; fail "the database folder $folder/data could not be made. Fix what it says above."; }
    mv "$folder/data.new" "$folder/data"
  fi
  if [ "${WL_DB_FLUSH:-}" = never ]; then set -- --innodb-flush-method=nosync --innodb-flush-log-at-trx-commit=2 "$@"; fi
  local server
  server=$(command -v mariadbd || printf '/usr/sbin/mariadbd')
  # Its number is written before it begins, so that no kill leaves a server that nobody knows of. It holds no lock of whoever starts it.
  setsid bash -c 'printf "%s" "$$" >"$0" && exec "$@"' "$folder/run/m.pid" \
    "$server" --no-defaults --user="$user" --datadir="$folder/data" --tmpdir="$folder/tmp" --socket="$DB_SOCKET" --pid-file="$folder/run/server.pid" \
    --bind-address=127.0.0.1 --port="$port" --skip-name-resolve --log-error="$folder/run/error.log" \
    --character-set-server=utf8mb4 --collation-server=utf8mb4_unicode_ci --default-time-zone=+00:00 --max-allowed-packet=64M \
    --sql-mode=STRICT_ALL_TABLES,NO_ENGINE_SUBSTITUTION,ERROR_FOR_DIVISION_BY_ZERO,NO_ZERO_DATE,NO_ZERO_IN_DATE \
    --innodb-lock-wait-timeout=15 \
    "$@" </dev/null >/dev/null 2>&1 9>&- &
  DB_PID=$!
}

# database_answers: waits until the server answers; false when it ended instead.
database_answers() {
  local waited=0
  until mariadb-admin --no-defaults --socket="$DB_SOCKET" ping >/dev/null 2>&1; do
    kill -0 "$DB_PID" 2>/dev/null || return 1
    waited=$((waited + 1))
    [ "$waited" -lt 300 ] || fail "the database did not answer in 60 s. Its log: ${DB_SOCKET%/*}/error.log"
    sleep 0.2
  done
}

# make_schema NAME PASSWORD: makes the schema and its loopback user, who may do everything in it, when they are missing.
make_schema() {
  mariadb --no-defaults --socket="$DB_SOCKET" <<SQL
CREATE DATABASE IF NOT EXISTS \`$1\`;
CREATE USER IF NOT EXISTS 'wide_lattice'@'127.0.0.1' IDENTIFIED BY '$2';
ALTER USER 'wide_lattice'@'127.0.0.1' IDENTIFIED BY '$2';
GRANT ALL ON \`$1\`.* TO 'wide_lattice'@'127.0.0.1';
SQL
}

# make_runtime_user NAME PASSWORD: the user the server runs as. It may read and write plans, but changes neither the schema
# nor the history, and no statement of it runs longer than a minute. Asked again after every upgrade, since tables come.
make_runtime_user() {
  local table rights
  {
    printf "CREATE USER IF NOT EXISTS 'wide_lattice_app'@'127.0.0.1' IDENTIFIED BY '%s';\n" "$2"
    printf "ALTER USER 'wide_lattice_app'@'127.0.0.1' IDENTIFIED BY '%s' WITH MAX_STATEMENT_TIME 60;\n" "$2"
    for table in $(mariadb --no-defaults --socket="$DB_SOCKET" -N -e "SELECT table_name FROM information_schema.tables WHERE table_schema = '$1'"); do
      case "$table" in
        plan_change | plan_event) rights="SELECT, INSERT" ;;
        migrations) rights="SELECT" ;;
        *) rights="SELECT, INSERT, UPDATE, DELETE" ;;
      esac
      printf "GRANT %s ON \`%s\`.\`%s\` TO 'wide_lattice_app'@'127.0.0.1';\n" "$rights" "$1" "$table"
    done
  } | mariadb --no-defaults --socket="$DB_SOCKET"
}

# end_process PID SECONDS: asks a process to end, and ends it when it has not within that time.
end_process() {
  local tenths=$(($2 * 10))
  kill -TERM "$1" 2>/dev/null || return 0
  while kill -0 "$1" 2>/dev/null; do
    tenths=$((tenths - 1))
    [ "$tenths" -gt 0 ] || { kill -KILL "$1" 2>/dev/null || true; return 0; }
    sleep 0.1
  done
}

# end_leftover PIDFILE WORD: ends what a start command that was killed left running; its command line must hold the word.
end_leftover() {
  local pid
  [ -f "$1" ] || return 0
  pid=$(cat "$1" 2>/dev/null || true)
  if [ -n "$pid" ] && [ -d "/proc/$pid" ] && tr '\0' ' ' <"/proc/$pid/cmdline" 2>/dev/null | grep -qF -- "$2"; then
    say "Ending what a killed start left running (process $pid)." >&2
    end_process "$pid" 15
  fi
  rm -f "$1"
}

# with_database FOLDER COMMAND...: runs a command against the running database of a data folder, or one started for it alone.
with_database() {
  local folder=$1 status=0
  shift
  if [ -S "$folder/db/run/m.sock" ] && mariadb-admin --no-defaults --socket="$folder/db/run/m.sock" ping >/dev/null 2>&1; then
    DB_SOCKET="$folder/db/run/m.sock"
    "$@"
    return
  fi
  start_database "$folder/db" "$(free_port "${WL_DB_PORT:-4390}")"
  ("$@") || status=$?
  stop_database
  return "$status"
}

# dump_schema NAME FILE: writes all of a schema as one state, while it may be written to; the file appears when it is whole.
# False when it could not be written, and then there is no file.
dump_schema() {
  if (umask 077 && set -o pipefail && mariadb-dump --no-defaults --socket="$DB_SOCKET" --single-transaction --quick --hex-blob "$1" | gzip >"$2.part") &&
    is_whole_dump "$2.part"; then
    mv "$2.part" "$2"
  else
    rm -f "$2.part"
    return 1
  fi
}

# is_whole_dump FILE: whether a compressed dump goes to its end: the last line that mariadb-dump writes is there.
is_whole_dump() {
  gzip -t "$1" 2>/dev/null && gzip -dc "$1" | tail -c 200 | grep -q '^-- Dump completed'
}

# active_schema FOLDER: the schema that holds the plans. A restore reads into the other one, and then puts this name in the
# place of that by one rename, so that the plans are those of before or those of the backup and nothing between.
active_schema() {
  if [ -f "$1/db/schema" ]; then cat "$1/db/schema"; else printf 'wide_lattice'; fi
}

other_schema() {
  if [ "$(active_schema "$1")" = wide_lattice ]; then printf 'wide_lattice_b'; else printf 'wide_lattice'; fi
}

# write_whole FILE TEXT: the file has the old text or the new one, also when this is killed.
write_whole() {
  printf '%s\n' "$2" >"$1.new" && sync "$1.new" && mv "$1.new" "$1"
}

# end_restore FOLDER: says what became of a restore that was cut off, and takes out what it left. The database must run.
end_restore() {
  local marker="$1/db/restoring" incoming file
  [ -f "$marker" ] || return 0
  { read -r incoming && read -r file; } <"$marker"
  if [ "$(active_schema "$1")" = "$incoming" ]; then
    say "The restore of $file was cut off after it had replaced the plans: it is done."
  else
    say "The restore of $file was cut off before it had replaced anything: the plans are those of before. Run it again if you want it."
  fi
  clear_restore "$1"
}

# clear_restore FOLDER: takes out the schema that is not in use, the restoring user, and the marker.
clear_restore() {
  mariadb --no-defaults --socket="$DB_SOCKET" -e "DROP DATABASE IF EXISTS \`$(other_schema "$1")\`; DROP USER IF EXISTS 'wide_lattice_restore'@'127.0.0.1'" &&
    rm -f "$1/db/restoring"
}

# restart_allowed NOW TIME...: whether a database that stopped now, in seconds, and stopped at those times, is started again:
# five times within ten minutes. One that stops now and then for months is started every time.
restart_allowed() {
  local now=$1 recent=0 at
  shift
  for at in "$@"; do
    if [ $((now - at)) -lt 600 ]; then recent=$((recent + 1)); fi
  done
  [ "$recent" -lt 5 ]
}

stop_database() {
  [ -n "${DB_PID:-}" ] || return 0
  # What was committed is on disk, so a server that does not end in time loses nothing when it is ended.
  end_process "$DB_PID" 5
  wait "$DB_PID" 2>/dev/null || true
  rm -f "${DB_SOCKET%/*}/m.pid"
  DB_PID=""
}
