import { execFileSync } from 'node:child_process';
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
}
