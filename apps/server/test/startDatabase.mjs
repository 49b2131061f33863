import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

// A MariaDB of the tests' own: own folder, own port, thrown away afterwards; a schema for each worker, so that files that run
// at the same time see no plans of one another.
export default function startDatabase({ maxWorkers }) {
  const root = fileURLToPath(new URL('../../../', import.meta.url));
  const script =
    'set -eu; . scripts/database.sh; need_command mariadbd mariadb-server; folder=$(mktemp -d /var/tmp/wl-test-XXXXXX); chmod a+x "$folder"; port=$(free_port 4420); start_database "$folder/db" "$port" >&2; for name in resume landed $(seq "$1"); do make_schema "wide_lattice_test_$name" test >&2; done; printf "%s %s %s" "$folder" "$port" "$DB_PID"';
  const [folder, port, pid] = execFileSync('bash', ['-c', script, 'bash', String(maxWorkers)], {
    cwd: root,
    env: { ...process.env, WL_DB_FLUSH: 'never' },
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'inherit'],
  })
    .trim()
    .split(' ')
    .slice(-3);
  Object.assign(process.env, {
    WL_DB_PORT: port,
    WL_DB_PASSWORD: 'test',
    WL_TEST_DB_FOLDER: folder,
    WL_TEST_DB_PID: pid,
  });
  watch(root, folder, port, Number(pid));
}

// MariaDB itself crashes now and then while many tables are made and dropped (signal 11, no statement of ours is at fault): it is started
// again for the tests that are left, and what was met by it is run once more (scripts/test.sh).
function watch(root, folder, port, pid) {
  let watched = pid;
  const timer = setInterval(() => {
    if (isThere(watched) || !readFileSync(`${folder}/db/run/error.log`, 'utf8').includes('got signal')) return;
    mkdirSync(`${root}test-results`, { recursive: true });
    writeFileSync(`${root}test-results/database-crashed`, folder);
    const script = 'set -eu; . scripts/database.sh; start_database "$1/db" "$2" >&2; printf "%s" "$DB_PID"';
    const again = execFileSync('bash', ['-c', script, 'bash', folder, port], {
      cwd: root,
      env: { ...process.env, WL_DB_FLUSH: 'never' },
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    watched = Number(again.trim().split(/\s+/).at(-1));
  }, 200);
  timer.unref();
  // Ended with the server, by stopDatabase in the same process.
  globalThis.databaseWatch = timer;
}

function isThere(pid) {
  try {
    return process.kill(pid, 0);
  } catch {
    return false;
  }
}
