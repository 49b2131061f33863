# Installs npm packages from the lock file when they are missing or the lock has changed. Sourced by start.sh and test.sh.

need_node() {
  command -v node >/dev/null || fail "Node.js is not installed. Install version 20.19 or newer, with npm, and run this again."
  node -e 'const [a, b] = process.versions.node.split(".").map(Number); process.exit(a > 20 || (a === 20 && b >= 19) ? 0 : 1)' ||
    fail "Node.js $(node --version) is too old; 20.19 or newer is needed."
}

install_packages() {
  local stamp="node_modules/.wide-lattice-lock" sum
  sum=$(sha256sum package-lock.json | cut -d' ' -f1)
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$sum" ] && return
  say "Installing npm packages from the lock file (about a minute)..."
  local log
  log=$(mktemp)
  npm ci --no-audit --no-fund >"$log" 2>&1 || { tail -n 20 "$log" >&2; fail "npm could not install the packages. Check that the npm registry can be reached, then run this again."; }
  printf '%s' "$sum" >"$stamp"
}

# What runs the scripts many times says by WL_IS_BUILT=yes that nothing is to be compiled.

# build_server: compiles what changed of the server and the core.
build_server() {
  [ "${WL_IS_BUILT:-}" != yes ] || return 0
  node node_modules/ts7/bin/tsc -b packages/core apps/server || fail "the sources do not compile. Fix what is named above."
}

# build_application: compiles what changed, and bundles the interface when its sources changed.
build_application() {
  [ "${WL_IS_BUILT:-}" != yes ] || return 0
  node node_modules/ts7/bin/tsc -b || fail "the sources do not compile. Fix what is named above."
  local stamp="apps/web/dist/.built-from" sum
  sum=$(find apps/web/src apps/web/index.html apps/web/public apps/web/vite.config.ts packages/core/src packages/standins/src package-lock.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)
  [ -f "$stamp" ] && [ "$(cat "$stamp")" = "$sum" ] && return
  say "Building the interface..."
  (cd apps/web && node ../../node_modules/vite/bin/vite.js build --logLevel warn) || fail "the interface could not be built. Fix what is named above."
  printf '%s' "$sum" >"$stamp"
}
