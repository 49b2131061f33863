#!/usr/bin/env bash
# Runs every check: format, lint, types, floors, unused code, unit and server tests, the interface in Chromium.
# Installs what is missing. Ends with one line: N passed, N failed.
set -uo pipefail
cd "$(dirname "$0")/.."
. scripts/database.sh
. scripts/install.sh

need_node
need_command mariadbd mariadb-server
need_command chromium-headless-shell chromium-headless-shell
need_command ip iproute2
need_command ping iputils-ping
need_command nft nftables
need_command named bind9
need_command named-checkzone bind9-utils
need_command dig bind9-dnsutils
need_command curl curl
need_command openssl openssl
install_packages

passed=0
failed=0

# step NAME COMMAND...: one check; its output is shown when it fails.
step() {
  local name=$1 log from=$SECONDS
  shift
  log=$(mktemp)
  if "$@" >"$log" 2>&1; then
    passed=$((passed + 1))
    say "ok    $name, $((SECONDS - from)) s"
  else
    failed=$((failed + 1))
    say "FAIL  $name, $((SECONDS - from)) s"
    tail -n 60 "$log"
  fi
  rm -f "$log"
}

# add_counts FILE PASSED FAILED: adds the counts of a JSON report, or one failure when there is none.
add_counts() {
  local counts
  if counts=$(node -e 'const r = JSON.parse(require("fs").readFileSync(process.argv[1], "utf8")); const at = (p) => p.split(".").reduce((o, k) => o?.[k], r) ?? 0; console.log(at(process.argv[2]), at(process.argv[3]))' "$1" "$2" "$3" 2>/dev/null); then
    passed=$((passed + ${counts% *}))
    failed=$((failed + ${counts#* }))
  else
    failed=$((failed + 1))
    say "FAIL  no report in $1"
  fi
}

bin() { node "node_modules/$1" "${@:2}"; }

# The places that pass over the formatter: at most 20, for tables of test values.
few_unformatted() {
  local places
  places=$(grep -rnE '(prettier|oxfmt)-ignore' --include='*.ts' --include='*.tsx' --include='*.mjs' \
    --exclude-dir=node_modules --exclude-dir=dist --exclude-dir=.tsc apps packages e2e bench scripts)
  [ -z "$places" ] || { echo "$places" && [ "$(echo "$places" | wc -l)" -le 20 ]; }
}

step "types" bin ts7/bin/tsc -b

step "format" bin oxfmt/bin/oxfmt --check .
step "formatter obeyed" few_unformatted
step "lint" bin oxlint/bin/oxlint --deny-warnings --report-unused-disable-directives
step "floors" bin dependency-cruiser/bin/dependency-cruise.mjs --config .dependency-cruiser.cjs packages apps e2e bench
step "unused code" bin knip/bin/knip.js
step "benchmarks in small" env WL_BENCH=small node bench/run.mjs
step "interface build" build_application

mkdir -p test-results
rm -f test-results/*.json test-results/database-crashed

# The application that the browser tests use makes its database while the unit tests run.
WL_E2E_PORT=$(free_port 4460)
WL_E2E_DATA=$(mktemp -d /var/tmp/wl-e2e-XXXXXX)
export WL_E2E_PORT WL_E2E_DATA WL_E2E_STARTED=yes
chmod a+x "$WL_E2E_DATA"
WL_PORT=$WL_E2E_PORT WL_DATA=$WL_E2E_DATA WL_DB_PORT=$((WL_E2E_PORT + 1)) WL_IS_BUILT=yes WL_DB_FLUSH=never \
  bash scripts/start.sh --fresh >"$WL_E2E_DATA/start.log" 2>&1 &
application=$!
# A run that is broken off leaves nothing behind.
trap 'kill -TERM "$application" 2>/dev/null' EXIT

from=$SECONDS
NODE_OPTIONS=--experimental-vm-modules bin jest/bin/jest.js --json --outputFile=test-results/unit.json
unit=$?
# A database server that crashed by itself fails tests that are right: the files that it met run once more, and that is told.
if [ "$unit" -ne 0 ] && [ -e test-results/database-crashed ]; then
  say "*** The tests' database server crashed (signal 11) and was started again; the files that failed run once more. ***"
  mapfile -t met < <(node scripts/rerun.mjs failed)
  NODE_OPTIONS=--experimental-vm-modules bin jest/bin/jest.js --json --outputFile=test-results/again.json --runTestsByPath "${met[@]}"
  unit=$?
  node scripts/rerun.mjs merge
fi
say "unit and server tests took $((SECONDS - from)) s"
add_counts test-results/unit.json numPassedTests numFailedTests

until ! port_is_free "$WL_E2E_PORT" || ! kill -0 "$application" 2>/dev/null; do sleep 0.2; done
from=$SECONDS
PLAYWRIGHT_JSON_OUTPUT_FILE=test-results/e2e.json bin @playwright/test/cli.js test
e2e=$?
say "browser tests took $((SECONDS - from)) s"
kill -0 "$application" 2>/dev/null || tail -n 60 "$WL_E2E_DATA/start.log"
kill -TERM "$application" 2>/dev/null
wait "$application" 2>/dev/null
add_counts test-results/e2e.json stats.expected stats.unexpected
rm -rf "$WL_E2E_DATA"

# A run that broke off counts its missing tests nowhere else.
if [ "$failed" -eq 0 ] && { [ "$unit" -ne 0 ] || [ "$e2e" -ne 0 ]; }; then failed=1; fi
# Without a kernel to ask, the tests of forwarding skip their proof; that may not go unseen.
proof=$(node apps/cli/dist/main.js prove --random 0) || say "*** ${proof##*$'\n'} ***"
say "$passed passed, $failed failed"
[ "$failed" -eq 0 ]
