#!/usr/bin/env bash
# Writes a copy of all stored plans, their history and versions as one state, also while the application runs.
#   backup.sh [FILE]   the file to write; backups/<time>.sql.gz in the data folder when none is named
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/database.sh

case "${1:-}" in -h | --help) sed -n '2,3s/^# \{0,1\}//p' scripts/backup.sh; exit 0 ;; esac
folder=$(database_folder "${WL_DATA:-$PWD/.data}")
[ -d "$folder/db/data" ] || fail "there are no stored plans in $folder. Start the application once, or set WL_DATA."
file=${1:-"$folder/backups/$(date -u +%Y%m%dT%H%M%SZ).sql.gz"}
mkdir -p "$(dirname "$file")"
with_database "$folder" dump_schema wide_lattice "$file"
say "Backup of the plans in $folder: $file"
