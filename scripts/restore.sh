#!/usr/bin/env bash
# Puts the plans of a backup in the place of those stored now. The application must be stopped; what is there is backed up first.
# Cut off anywhere, the plans are those of before or those of the backup, and the next start says which.
#   restore.sh FILE    a file that backup.sh or an upgrade wrote
set -euo pipefail
# Before the folder changes: a relative name is meant where it is typed.
file=${1:+$(realpath -m -- "$1")}
cd "$(dirname "$0")/.."
. scripts/database.sh
. scripts/install.sh

case "${1:-}" in "" | -h | --help) sed -n '2,4s/^# \{0,1\}//p' scripts/restore.sh; exit 0 ;; esac
[ -r "$file" ] || fail "$file cannot be read. Name a file that scripts/backup.sh wrote."
is_whole_dump "$file" || fail "$file is no whole backup: it is cut off, or nothing that scripts/backup.sh wrote. Nothing was replaced. Name another."
need_node
install_packages
build_server
folder=$(database_folder "${WL_DATA:-$PWD/.data}")
exec 9>"$folder/lock"
# What a killed start left running for a moment may still hold it.
flock -w 5 9 || fail "the application runs from $folder, or another restore does. Stop it with Ctrl-C in its terminal first."

sql() { mariadb --no-defaults --socket="$DB_SOCKET" "$@"; }

# stored_aside SCHEMA: keeps what is there, whatever state it is in.
stored_aside() {
  local kept tables
  tables=$(sql -N -e "SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = '$1'") || return 1
  [ "$tables" -gt 0 ] || return 0
  kept="$folder/backups/before-restore-$(date -u +%Y%m%dT%H%M%SZ).sql.gz"
  mkdir -p "$folder/backups"
  dump_schema "$1" "$kept" || return 1
  say "What was there is kept in $kept"
}

# read_beside SCHEMA PASSWORD: reads the backup into a schema of its own, as a user who may enter no other, and checks it there.
read_beside() {
  local user="'wide_lattice_restore'@'127.0.0.1'" port
  port=$(sql -N -e "SELECT @@port") || return 1
  sql -e "DROP DATABASE IF EXISTS \`$1\`; CREATE DATABASE \`$1\`; CREATE OR REPLACE USER $user IDENTIFIED BY '$2'; GRANT ALL ON \`$1\`.* TO $user" || return 1
  gzip -dc "$file" | MYSQL_PWD=$2 mariadb --no-defaults --host=127.0.0.1 --port="$port" --user=wide_lattice_restore "$1" || return 1
  WL_DB_PORT=$port WL_DB_USER=wide_lattice_restore WL_DB_PASSWORD=$2 WL_DB_NAME=$1 node apps/server/dist/db/migrate.js --restored
}

# Runs where errors do not end it by themselves: each step says what it means when it fails.
restore() {
  local active incoming
  end_restore "$folder" || fail "what an earlier restore left could not be taken out. Nothing was replaced."
  active=$(active_schema "$folder")
  incoming=$(other_schema "$folder")
  stored_aside "$active" || fail "what is there could not be backed up, so nothing was replaced. The message of the database stands above."
  write_whole "$folder/db/restoring" "$incoming
$file" || fail "$folder/db cannot be written to. Nothing was replaced."
  if ! read_beside "$incoming" "$(node -e 'console.log(require("node:crypto").randomBytes(24).toString("hex"))')"; then
    clear_restore "$folder"
    fail "$file is not restored, and nothing was replaced. Why stands above."
  fi
  write_whole "$folder/db/schema" "$incoming" || fail "$folder/db cannot be written to. Nothing was replaced."
  clear_restore "$folder" || say "What was there before is still beside it; the next start takes it out."
}
with_database "$folder" restore
say "Restored $file. Start the application with: bash scripts/start.sh"
