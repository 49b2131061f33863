import { execFileSync, spawn, spawnSync } from 'node:child_process';
import {
  chmodSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gunzipSync, gzipSync } from 'node:zlib';

const root = fileURLToPath(new URL('..', `file://${__filename}`));
const folder = mkdtempSync('/var/tmp/wl-restore-');
const env = { ...process.env, WL_DATA: folder, WL_DB_PORT: '4590', WL_IS_BUILT: 'yes', WL_DB_FLUSH: 'never' };
const files = { a: join(folder, 'a.sql.gz'), b: join(folder, 'b.sql.gz') };

/** What the database said of itself, last; for a failure whose reason stands there. */
function databaseLog(): string {
  const file = join(folder, 'db/run/error.log');
  return existsSync(file) ? readFileSync(file, 'utf8').slice(-3000) : '';
}

/** Runs a command in a shell that knows the scripts' functions. */
function shell(command: string): string {
  const ended = spawnSync('bash', ['-c', `set -e; . scripts/database.sh; ${command}`], {
    cwd: root,
    env,
    encoding: 'utf8',
  });
  // What it complained of is the reason.
  if (ended.status !== 0) throw new Error(`${command}\n${ended.stdout}${ended.stderr}\n${databaseLog()}`);
  return ended.stdout;
}

/** Runs a script; gives how it ended and what it said. */
function run(name: string, args: readonly string[], more: { readonly cwd?: string; readonly path?: string } = {}) {
  const { cwd = root, path = '' } = more;
  const ended = spawnSync('bash', [join(root, 'scripts', name), ...args], {
    cwd,
    env: { ...env, PATH: `${path}${path === '' ? '' : ':'}${process.env['PATH'] ?? ''}` },
    encoding: 'utf8',
  });
  return { status: ended.status, said: `${ended.stdout}${ended.stderr}` };
}

/** The plans as they are stored now; what a killed restore left is taken out, as the next start does. */
function stored(): { readonly names: string; readonly tables: number; readonly said: string } {
  const said = shell(
    `look() { end_restore ${folder}; s=$(active_schema ${folder}); mariadb --no-defaults --socket="$DB_SOCKET" -N -e "SELECT 'names', GROUP_CONCAT(name ORDER BY name) FROM $s.plan; SELECT 'tables', COUNT(*) FROM information_schema.tables WHERE table_schema = '$s'; SELECT 'schemas', COUNT(*) FROM information_schema.schemata WHERE schema_name LIKE 'wide_lattice%'"; }; with_database ${folder} look`,
  );
  const valueOf = (key: string) => new RegExp(`^${key}\\t(.*)$`, 'm').exec(said)?.[1] ?? '';
  expect(valueOf('schemas')).toBe('1');
  return { names: valueOf('names'), tables: Number(valueOf('tables')), said };
}

/** A database with one small plan of a name, with a history, as the application makes it. */
function make(name: string): void {
  const program = `
    await import('reflect-metadata');
    const { emptyPlan, defaultSettings } = await import('${root}packages/core/dist/plan/index.js');
    const { default: database } = await import('${root}apps/server/dist/db/dataSource.js');
    await database.initialize();
    await database.query('DELETE FROM plan');
    const { PlanStore } = await import('${root}apps/server/dist/plans/planStore.js');
    const { PlanLog } = await import('${root}apps/server/dist/plans/planLog.js');
    const { PlansService } = await import('${root}apps/server/dist/plans/plansService.js');
    const { ChangesService } = await import('${root}apps/server/dist/plans/changesService.js');
    const store = new PlanStore(database);
    const id = await new PlansService(database, store, undefined, new PlanLog(database)).create({ ...defaultSettings, name: 'begun' });
    const changes = new ChangesService(database, store, { announce: () => undefined });
    await changes.apply(id, { baseRevision: 0, label: 'rename', author: 'test', clientId: id, operations: [{ op: 'set', kind: 'settings', fields: { name: '${name}' } }] });
    await database.destroy();`;
  const inner = `make_schema wide_lattice secret; export WL_DB_PORT=$(mariadb --no-defaults --socket="$DB_SOCKET" -N -e 'SELECT @@port') WL_DB_PASSWORD=secret WL_DB_NAME=wide_lattice; node apps/server/dist/db/migrate.js; node --input-type=module -e "$PROGRAM"`;
  execFileSync(
    'bash',
    ['-c', `set -e; . scripts/database.sh; make() { ${inner}; }; mkdir -p ${folder}/db; with_database ${folder} make`],
    { cwd: root, env: { ...env, PROGRAM: program } },
  );
}

/** A backup with its text changed. */
function changed(name: string, change: (text: string) => string): string {
  const file = join(folder, name);
  writeFileSync(file, gzipSync(change(gunzipSync(readFileSync(files.a)).toString('utf8'))));
  return file;
}

let whole = { names: '', tables: 0 };

beforeAll(() => {
  chmodSync(folder, 0o755);
  make('b');
  expect(run('backup.sh', [files.b])).toMatchObject({ status: 0 });
  make('a');
  expect(run('backup.sh', [files.a])).toMatchObject({ status: 0 });
  whole = stored();
  expect(whole.names).toBe('a');
});

afterAll(() => {
  shell(`end_leftover ${folder}/db/run/m.pid --datadir=${folder}/db/data`);
  rmSync(folder, { recursive: true, force: true });
});

test('thirty restores that are killed anywhere leave the plans of before or those of the backup, whole', async () => {
  const began = Date.now();
  expect(run('restore.sh', [files.b])).toMatchObject({ status: 0 });
  const takes = Date.now() - began;
  let now = stored().names;
  expect(now).toBe('b');
  const met = { before: 0, after: 0, told: 0 };
  // A machine that grew busier since reaches the end of none: a few more, each given twice the time of the last, do.
  for (let kill = 0; kill < 30 || (met.after === 0 && kill < 36); kill++) {
    const wanted = now === 'a' ? 'b' : 'a';
    const child = spawn('bash', ['scripts/restore.sh', files[wanted]], {
      cwd: root,
      env,
      detached: true,
      stdio: 'ignore',
    });
    const ended = new Promise((resolve) => child.on('exit', resolve));
    // Spread over the whole of it, and a little past its end.
    const spread = (takes * (Math.min(kill, 29) + 1)) / 29;
    await new Promise((resolve) => setTimeout(resolve, spread * 2 ** Math.max(0, kill - 29)));
    try {
      // The command with all it began, or itself alone.
      process.kill(kill % 3 === 0 ? (child.pid as number) : -(child.pid as number), 'SIGKILL');
    } catch {
      // It was done already.
    }
    await ended;
    // What it began and was not killed with it may still write, and holds the lock as long.
    shell(`flock ${folder}/lock true`);
    const after = stored();
    expect([now, wanted]).toContain(after.names);
    expect([kill, after.tables]).toEqual([kill, whole.tables]);
    met[after.names === now ? 'before' : 'after']++;
    if (after.said.includes('was cut off')) met.told++;
    now = after.names;
  }
  expect(met.before).toBeGreaterThan(3);
  expect(met.after).toBeGreaterThan(0);
  expect(met.told).toBeGreaterThan(3);
  // The last kill may have left its database running; each test after this begins with none.
  shell(`end_leftover ${folder}/db/run/m.pid --datadir=${folder}/db/data`);
  // A start of the application finds nothing to complain of.
  expect(run('restore.sh', [files.a]).said).toContain('Restored');
  expect(stored().names).toBe('a');
}, 600_000);

describe('what is no whole backup of this application replaces nothing', () => {
  beforeAll(() => {
    expect(run('restore.sh', [files.a])).toMatchObject({ status: 0 });
  });
  const endless = (text: string) => text.replace(/-- Dump completed[^\n]*\n?$/, '');
  test.each<[string, () => string, RegExp]>([
    ['a compressed nothing', () => changed('nothing.sql.gz', () => ''), /no whole backup/],
    [
      'a dump that was cut between two tables',
      () => changed('cut.sql.gz', (text) => text.slice(0, text.indexOf('DROP TABLE IF EXISTS `plan_change`'))),
      /no whole backup/,
    ],
    ['one without its end', () => changed('endless.sql.gz', endless), /no whole backup/],
    [
      'a compressed file that was cut',
      () => {
        const file = join(folder, 'half.sql.gz');
        writeFileSync(file, readFileSync(files.a).subarray(0, 3000));
        return file;
      },
      /no whole backup/,
    ],
    [
      'a dump of something else',
      () =>
        changed(
          'other.sql.gz',
          () => 'CREATE TABLE `plan` (`id` int);\nCREATE TABLE `dishes` (`id` int);\n-- Dump completed on 2026-11-30\n',
        ),
      /not a backup of Wide Lattice/,
    ],
    [
      'one that enters another schema',
      () =>
        changed(
          'use.sql.gz',
          (text) =>
            `USE \`wide_lattice\`;\nDELETE FROM \`plan\`;\nUSE \`wide_lattice_b\`;\nDELETE FROM \`plan\`;\n${text}`,
        ),
      /nothing was replaced/,
    ],
    [
      'a statement that fails',
      () => changed('wrong.sql.gz', (text) => text.replace('INSERT INTO `plan` ', 'INSERT INTO `no_such_table` ')),
      /nothing was replaced/,
    ],
    [
      'one that lacks a table',
      () =>
        changed('lacking.sql.gz', (text) =>
          text.replace(/DROP TABLE IF EXISTS `route_table`;[\s\S]*?UNLOCK TABLES;\n/, ''),
        ),
      /not whole|nothing was replaced/,
    ],
    [
      'one that lacks a part of the history',
      () => changed('forgetful.sql.gz', (text) => text.replace(/INSERT INTO `plan_change` VALUES[\s\S]*?;\n/, '')),
      /is at revision 1, and its history has 0 changes/,
    ],
    [
      'one of a newer version',
      () =>
        changed('newer.sql.gz', (text) =>
          text.replace(
            '-- Dump completed',
            "INSERT INTO `migrations` (`timestamp`, `name`) VALUES (9999999999999, 'Tomorrow9999999999999');\n-- Dump completed",
          ),
        ),
      /stored by a newer version/,
    ],
  ])(
    '%s',
    (_, file, why) => {
      const { status, said } = run('restore.sh', [file()]);
      expect(said).toMatch(why);
      expect(status).not.toBe(0);
      expect(said).not.toContain('Restored');
      expect(stored()).toMatchObject({ names: 'a', tables: whole.tables });
    },
    60_000,
  );
});

test('a database that is not whole is refused in words, as the start does, and a restore mends it', () => {
  const upgrade = `s=$(active_schema ${folder}); make_schema $s secret; WL_DB_PORT=$(mariadb --no-defaults --socket="$DB_SOCKET" -N -e 'SELECT @@port') WL_DB_PASSWORD=secret WL_DB_NAME=$s node apps/server/dist/db/migrate.js 2>&1 && code=0 || code=$?; echo "exit $code"; [ $code = 0 ] || tail -n 30 ${folder}/db/run/error.log`;
  const look = (before = '') => shell(`look() { ${before} ${upgrade}; }; with_database ${folder} look`);
  expect(look()).toMatch(/up to date[^]*exit 0/);
  const broken = look(
    `mariadb --no-defaults --socket="$DB_SOCKET" $(active_schema ${folder}) -e 'DROP TABLE expectation';`,
  );
  expect(broken).toMatch(/The database is not whole: [^]*expectation[^]*scripts\/restore\.sh FILE[^]*exit 4/);
  expect(run('restore.sh', [files.a]).status).toBe(0);
  expect(look()).toMatch(/exit 0/);
});

test('a dump that fails is no backup, and a restore that cannot keep what is there replaces nothing', () => {
  const stub = join(folder, 'stub');
  mkdirSync(stub);
  writeFileSync(join(stub, 'mariadb-dump'), '#!/bin/sh\necho "-- MariaDB dump"\necho "disk full" >&2\nexit 2\n', {
    mode: 0o755,
  });
  const file = join(folder, 'failed.sql.gz');
  const backup = run('backup.sh', [file], { path: stub });
  expect(backup.status).not.toBe(0);
  expect(backup.said).toContain('could not be written');
  expect(readdirSync(folder).filter((name) => name.startsWith('failed'))).toEqual([]);
  const restore = run('restore.sh', [files.b], { path: stub });
  expect(restore.status).not.toBe(0);
  expect(restore.said).toContain('could not be backed up, so nothing was replaced');
  expect(stored().names).toBe('a');
});

test('a relative name is meant where it is typed', () => {
  const place = join(folder, 'elsewhere');
  mkdirSync(place);
  expect(run('backup.sh', ['mine.sql.gz'], { cwd: place })).toMatchObject({ status: 0 });
  expect(statSync(join(place, 'mine.sql.gz')).size).toBeGreaterThan(1000);
  expect(existsSync(join(root, 'mine.sql.gz'))).toBe(false);
  const restored = run('restore.sh', ['mine.sql.gz'], { cwd: place });
  expect([restored.status, restored.said]).toEqual([0, expect.anything()]);
});

test('a database that stops is started again five times in ten minutes, however often in all', () => {
  const allowed = (now: number, ...times: number[]) =>
    spawnSync('bash', ['-c', `. scripts/database.sh; restart_allowed ${[now, ...times].join(' ')}`], { cwd: root })
      .status === 0;
  expect(allowed(5)).toBe(true);
  expect(allowed(500, 100, 200, 300, 400)).toBe(true);
  expect(allowed(500, 0, 100, 200, 300, 400)).toBe(false);
  // The oldest is ten minutes ago.
  expect(allowed(600, 0, 100, 200, 300, 400)).toBe(true);
  expect(allowed(100_000, ...Array.from({ length: 50 }, (_, i) => i * 1500))).toBe(true);
});
