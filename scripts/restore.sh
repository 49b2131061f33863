#!/usr/bin/env bash
# Puts the plans of a backup in the place of those stored now. The application must be stopped; what is there is backed up first.
#   restore.sh FILE    a file that backup.sh or an upgrade wrote
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/database.sh

case "${1:-}" in "" | -h | --help) sed -n '2,3s/^# \{0,1\}//p' scripts/restore.sh; exit 0 ;; esac
[ -r "$1" ] || fail "$1 cannot be read. Name a file that scripts/backup.sh wrote."
gzip -t "$1" 2>/dev/null || fail "$1 is no whole backup. Name another."
file=$(realpath "$1")
folder=$(database_folder "${WL_DATA:-$PWD/.data}")
exec 9>"$folder/lock"
flock -n 9 || fail "the application runs from $folder. Stop it with Ctrl-C in its terminal first."

sql() { mariadb --no-defaults --socket="$DB_SOCKET" "$@" 9>&-; }

restore() {
  local kept
  kept="$folder/backups/before-restore-$(date -u +%Y%m%dT%H%M%SZ).sql.gz"
  mkdir -p "$folder/backups"
  if sql wide_lattice -e "SELECT 1 FROM plan LIMIT 1" >/dev/null 2>&1; then
    dump_schema wide_lattice "$kept"
    say "What was there is kept in $kept"
  fi
  # Read beside what is there first: a backup that cannot be read to its end replaces nothing.
  sql -e "DROP DATABASE IF EXISTS wide_lattice_incoming; CREATE DATABASE wide_lattice_incoming"
  gunzip -c "$file" | sql wide_lattice_incoming || fail "$file could not be read; nothing was replaced. Its message stands above."
  sql -e "DROP DATABASE wide_lattice_incoming; DROP DATABASE IF EXISTS wide_lattice; CREATE DATABASE wide_lattice"
  gunzip -c "$file" | sql wide_lattice
}
with_database "$folder" restore
say "Restored $file. Start the application with: bash scripts/start.sh"
