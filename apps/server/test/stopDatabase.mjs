import { execFileSync } from 'node:child_process';

export default function stopDatabase() {
  clearInterval(globalThis.databaseWatch);
  const folder = process.env.WL_TEST_DB_FOLDER;
  if (!folder?.startsWith('/var/tmp/wl-test-')) return;
  execFileSync(
    'bash',
    ['-c', `mariadb-admin --no-defaults --socket="${folder}/db/run/m.sock" shutdown; rm -rf "${folder}"`],
    { stdio: 'ignore' },
  );
}
