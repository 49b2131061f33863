#!/usr/bin/env bash
# Writes a copy of all stored plans, their history and versions as one state, also while the application runs.
#   backup.sh [FILE]   the file to write; backups/<time>.sql.gz in the data folder when none is named
set -euo pipefail
# Before the folder changes: a relative name is meant where it is typed.
file=${1:+$(realpath -m -- "$1")}
cd "$(dirname "$0")/.."
. scripts/database.sh

case "${1:-}" in -h | --help) sed -n '2,3s/^# \{0,1\}//p' scripts/backup.sh; exit 0 ;; esac
folder=$(database_folder "${WL_DATA:-$PWD/.data}")
[ -d "$folder/db/data" ] || fail "there are no stored plans in $folder. Start the application once, or set WL_DATA."
file=${file:-"$folder/backups/$(date -u +%Y%m%dT%H%M%SZ).sql.gz"}
mkdir -p "$(dirname "$file")" || fail "the folder of $file cannot be made. Name another file."
with_database "$folder" dump_schema "$(active_schema "$folder")" "$file" ||
  fail "the backup could not be written, and $file is not one. The message of the database stands above."
say "Backup of the plans in $folder: $file"
