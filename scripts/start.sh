#!/usr/bin/env bash
# Starts Wide Lattice with its demo plan: installs what is missing, builds what changed, starts a private
# database on loopback, serves interface and API on one loopback port. Ctrl-C stops everything.
#   --fresh   throws the stored plans away and starts from fresh demo data
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/database.sh
. scripts/install.sh

fresh=""
for option in "$@"; do
  case "$option" in
    --fresh) fresh=1 ;;
    -h | --help) sed -n '2,5s/^# \{0,1\}//p' scripts/start.sh; exit 0 ;;
    *) fail "unknown option $option. Known: --fresh" ;;
  esac
done

need_node
need_command mariadbd mariadb-server
install_packages
build_application

folder=$(database_folder "${WL_DATA:-$PWD/.data}")
exec 9>"$folder/lock"
# What a killed start left running for a moment may still hold it.
flock -w 5 9 || fail "it is running already from this folder, or a restore is not done. Stop it with Ctrl-C in its terminal first."
end_leftover "$folder/server.pid" "apps/server/dist/main.js"
end_leftover "$folder/db/run/m.pid" "--datadir=$folder/db/data"
[ -z "$fresh" ] || rm -rf "$folder/db"
port=$(free_port "${WL_PORT:-4380}")
db_port=$(free_port "${WL_DB_PORT:-4390}")
# Made new at each start: only this process and what it starts know them. The server never learns the one of the upgrade.
new_password() { node -e 'console.log(require("node:crypto").randomBytes(24).toString("hex"))'; }
owner_password=$(new_password)
server_password=$(new_password)

server_pid=""
stop_all() {
  trap - EXIT INT TERM
  if [ -n "$server_pid" ]; then
    end_process "$server_pid" 3
    wait "$server_pid" 2>/dev/null || true
  fi
  rm -f "$folder/server.pid"
  stop_database
  say "Stopped; plans are kept in $folder."
}
trap stop_all EXIT
trap 'exit 130' INT
trap 'exit 143' TERM

start_database "$folder/db" "$db_port"
end_restore "$folder"
schema=$(active_schema "$folder")
make_schema "$schema" "$owner_password"
export WL_DB_PORT=$db_port WL_DB_PASSWORD=$owner_password WL_DB_NAME=$schema WL_PORT=$port
needs=0
node apps/server/dist/db/migrate.js --check || needs=$?
if [ "$needs" -eq 3 ]; then
  mkdir -p "$folder/backups"
  copy="$folder/backups/before-upgrade-$(date -u +%Y%m%dT%H%M%SZ).sql.gz"
  dump_schema "$schema" "$copy" || fail "the database is to be upgraded, and a copy of it could not be written to $copy. Nothing was changed. Make room there, then start again."
  say "The database is upgraded. A copy of it as it was: $copy"
elif [ "$needs" -ne 0 ]; then
  fail "the database cannot be used. Why stands above."
fi
node apps/server/dist/db/migrate.js || fail "the database cannot be used. Why stands above."
make_runtime_user "$schema" "$server_password"
export WL_DB_USER=wide_lattice_app WL_DB_PASSWORD=$server_password
node apps/server/dist/seedDemo.js
node apps/server/dist/main.js 9>&- &
server_pid=$!
printf '%s' "$server_pid" >"$folder/server.pid"
for _ in $(seq 1 150); do
  kill -0 "$server_pid" 2>/dev/null || fail "the server stopped. Its message stands above."
  if ! port_is_free "$port"; then break; fi
  sleep 0.2
done
say ""
say "Wide Lattice is ready:  http://127.0.0.1:$port"
say "API documentation:      http://127.0.0.1:$port/api/docs"
say "Ctrl-C stops it."
# A database that ends is started again; plans are as they were last stored. Looked for again and again rather than waited
# for: one that ends while it starts would be missed by waiting.
stops=()
while kill -0 "$server_pid" 2>/dev/null; do
  if ! kill -0 "$DB_PID" 2>/dev/null; then
    restart_allowed "$SECONDS" "${stops[@]}" || fail "the database stopped six times within ten minutes. Its log: $folder/db/run/error.log"
    stops+=("$SECONDS")
    say "The database stopped; starting it again. Its log: $folder/db/run/error.log"
    launch_database "$folder/db" "$db_port"
    database_answers || continue
  fi
  sleep 0.3
done
server_pid=""
fail "the server stopped. Its message stands above."
