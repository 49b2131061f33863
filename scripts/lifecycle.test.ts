import { execFileSync, spawn } from 'node:child_process';
import type { ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('..', `file://${__filename}`));
const folder = mkdtempSync('/var/tmp/wl-life-');
const port = 4560;
const env = {
  ...process.env,
  WL_DATA: folder,
  WL_PORT: String(port),
  WL_DB_PORT: '4570',
  WL_IS_BUILT: 'yes',
  WL_DB_FLUSH: 'never',
};
const running = new Set<ChildProcess>();

beforeAll(() => execFileSync('chmod', ['a+x', folder]));
afterAll(async () => {
  for (const child of running) await stopped(child);
  rmSync(folder, { recursive: true, force: true });
});

interface Started {
  readonly child: ChildProcess;
  readonly said: () => string;
  readonly ended: Promise<number | null>;
}

/** Runs the start command in a process group of its own. */
function start(): Started {
  const child = spawn('bash', ['scripts/start.sh'], {
    cwd: root,
    env,
    detached: true,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  running.add(child);
  let text = '';
  child.stdout.on('data', (data: Buffer) => (text += data.toString()));
  child.stderr.on('data', (data: Buffer) => (text += data.toString()));
  const ended = new Promise<number | null>((resolve) =>
    child.on('exit', (code) => {
      running.delete(child);
      resolve(code);
    }),
  );
  return { child, said: () => text, ended };
}

async function until(
  what: string,
  isTrue: () => boolean | Promise<boolean>,
  said: () => string = () => '',
): Promise<void> {
  for (let n = 0; n < 600; n++) {
    if (await isTrue()) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`${what}: not within a minute. ${said()}`);
}

async function ready(): Promise<Started> {
  const started = start();
  await until('ready', () => started.said().includes('Wide Lattice is ready'), started.said);
  return started;
}

async function stopped(child: ChildProcess): Promise<void> {
  const gone = new Promise((resolve) => child.on('exit', resolve));
  if (child.exitCode !== null || child.signalCode !== null) return;
  child.kill('SIGTERM');
  await gone;
}

const api = `http://127.0.0.1:${port}/api`;
const get = async (path: string) => (await fetch(`${api}${path}`)).json() as Promise<unknown>;
const plans = () => get('/plans') as Promise<{ id: string; name: string; revision: number }[]>;

/** Renames the demo plan; gives the revision. */
async function rename(name: string): Promise<number> {
  const [plan] = await plans();
  const answer = await fetch(`${api}/plans/${plan?.id}/changes`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      baseRevision: plan?.revision,
      label: 'rename',
      author: 'test',
      clientId: plan?.id,
      operations: [{ op: 'set', kind: 'settings', fields: { name } }],
    }),
  });
  const body = (await answer.json()) as { revision: number };
  expect([answer.status, body.revision]).toEqual([200, (plan?.revision ?? 0) + 1]);
  return body.revision;
}

interface Named {
  readonly revision: number;
  readonly operations: readonly { readonly fields: { readonly name: string } }[];
}

const pidOf = (file: string) => Number(readFileSync(`${folder}/${file}`, 'utf8'));
const sql = (statement: string) =>
  execFileSync('mariadb', ['--no-defaults', `--socket=${folder}/db/run/m.sock`, '-N', '-e', statement], {
    encoding: 'utf8',
  });
const script = (name: string, ...args: string[]) =>
  execFileSync('bash', [`scripts/${name}`, ...args], { cwd: root, env, encoding: 'utf8' });

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

test('a first start that is killed while it makes the database leaves nothing that blocks the next', async () => {
  for (const moment of ['data.new', 'data/mysql', 'data/wide_lattice']) {
    const { child } = start();
    await until(moment, () => existsSync(`${folder}/db/${moment}`));
    process.kill(-(child.pid as number), 'SIGKILL');
    await until('killed', () => !running.has(child));
  }
  const { child, said } = await ready();
  expect((await plans()).map(({ name }) => name)).toEqual(['Skerry Line']);
  expect(said()).not.toContain('already exists');
  // The server's own user changes neither the history nor the schema.
  const grants = sql("SHOW GRANTS FOR 'wide_lattice_app'@'127.0.0.1'");
  expect(grants).toContain('GRANT SELECT, INSERT ON `wide_lattice`.`plan_change`');
  expect(grants).toContain('GRANT SELECT ON `wide_lattice`.`migrations`');
  expect(grants).not.toMatch(/\b(ALTER|DROP|CREATE|ALL PRIVILEGES)\b/);
  expect(grants).toMatch(/MAX_STATEMENT_TIME 60/);
  expect(sql('SELECT @@innodb_lock_wait_timeout').trim()).toBe('15');
  // The one who upgrades and the one who serves have a password each.
  const secrets = sql(
    "SELECT authentication_string FROM mysql.global_priv JOIN mysql.user USING (User, Host) WHERE User LIKE 'wide_lattice%'",
  )
    .trim()
    .split('\n');
  expect([secrets.length, new Set(secrets).size]).toEqual([2, 2]);
  await stopped(child);
});

test('a start command that is killed leaves a server and a database; the next start ends them and keeps every change', async () => {
  const { child } = await ready();
  const revision = await rename('kept through a kill');
  const left = [pidOf('server.pid'), pidOf('db/run/m.pid')];
  process.kill(child.pid as number, 'SIGKILL');
  await until('killed', () => !running.has(child));
  const next = await ready();
  expect(next.said()).toContain('Ending what a killed start left running');
  expect(left.map(isAlive)).toEqual([false, false]);
  expect(await plans()).toMatchObject([{ name: 'kept through a kill', revision }]);
  await stopped(next.child);
});

test('a database that is killed again and again under writing is started again; every change that was acknowledged is there, and none by half', async () => {
  const { child, said } = await ready();
  const [plan] = await plans();
  const acknowledged = new Map<number, string>();
  const over = new AbortController();
  const writing = (async () => {
    for (let n = 0; !over.signal.aborted; n++) {
      const name = `under kills ${n}`;
      // What is not answered may or may not be stored; what is answered is.
      const revision = await change(name).catch(() => undefined);
      if (revision !== undefined) acknowledged.set(revision, name);
    }
  })();
  try {
    for (let kill = 1; kill <= 4; kill++) {
      const before = acknowledged.size;
      await until('some changes', () => acknowledged.size > before + 5, said);
      process.kill(pidOf('db/run/m.pid'), 'SIGKILL');
      const started = () => said().split('The database stopped; starting it again').length - 1;
      await until('restarted', () => started() === kill, said);
    }
    const before = acknowledged.size;
    await until('writing goes on', () => acknowledged.size > before + 5, said);
  } finally {
    over.abort();
    await writing;
  }
  const history = new Map<number, string>();
  for (let after = plan?.revision ?? 0; ; after += 200) {
    const page = (await get(`/plans/${plan?.id}/changes?after=${after}`)) as Named[];
    for (const { revision, operations } of page) history.set(revision, operations[0]?.fields.name ?? '');
    if (page.length < 200) break;
  }
  for (const [revision, name] of acknowledged) expect([revision, history.get(revision)]).toEqual([revision, name]);
  const [now] = await plans();
  expect(now?.revision).toBe(Math.max(...history.keys()));
  expect(now?.name).toBe(history.get(now?.revision ?? 0));
  await stopped(child);

  async function change(name: string): Promise<number | undefined> {
    const answer = await fetch(`${api}/plans/${plan?.id}/changes`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        baseRevision: (await plans())[0]?.revision,
        label: 'rename',
        author: 'test',
        clientId: plan?.id,
        operations: [{ op: 'set', kind: 'settings', fields: { name } }],
      }),
      signal: AbortSignal.timeout(30_000),
    });
    return answer.ok ? ((await answer.json()) as { revision: number }).revision : undefined;
  }
});

test('a server that dies ends the start command, which says so', async () => {
  const { said, ended } = await ready();
  process.kill(pidOf('server.pid'), 'SIGKILL');
  expect(await ended).not.toBe(0);
  expect(said()).toContain('the server stopped');
  expect(existsSync(`${folder}/server.pid`)).toBe(false);
});

test('a backup under writing is one state, and a restore gives it back with its history', async () => {
  const { child } = await ready();
  let last = await rename('before the backup');
  const over = new AbortController();
  const writing = (async () => {
    for (let n = 0; !over.signal.aborted; n++) last = await rename(`written meanwhile ${n}`);
  })();
  const file = `${folder}/copy.sql.gz`;
  await new Promise<void>((resolve, reject) =>
    spawn('bash', ['scripts/backup.sh', file], { cwd: root, env, stdio: 'ignore' }).on('exit', (code) =>
      code === 0 ? resolve() : reject(new Error(`backup ended with ${code}`)),
    ),
  );
  over.abort();
  await writing;
  await rename('after the backup');
  // While the application runs, nothing is put in its place.
  expect(() => script('restore.sh', file)).toThrow(/runs from/);
  await stopped(child);
  expect(() => script('restore.sh', `${folder}/lock`)).toThrow(/no whole backup/);
  expect(script('restore.sh', file)).toContain('Restored');
  const next = await ready();
  const [plan] = await plans();
  expect(plan?.revision).toBeLessThanOrEqual(last);
  expect(plan?.name).toMatch(/^(before the backup|written meanwhile)/);
  // The plan is what its history says: the last change that is in the copy gave it its name.
  const [change] = (await get(`/plans/${plan?.id}/changes?after=${(plan?.revision ?? 0) - 1}`)) as Named[];
  expect(change?.operations[0]?.fields.name).toBe(plan?.name);
  expect(readdirSync(`${folder}/backups`).some((name) => name.startsWith('before-restore-'))).toBe(true);
  await stopped(next.child);
});

test('an upgrade is preceded by a copy whose place is said, and one that is killed is finished by the next start', async () => {
  const first = await ready();
  // As the database was before its last two upgrades.
  const schema = readFileSync(`${folder}/db/schema`, 'utf8').trim();
  sql(`ALTER TABLE ${schema}.plan_change DROP INDEX plan_change_id, DROP COLUMN changeId`);
  sql(`ALTER TABLE ${schema}.attachment DROP COLUMN isPlanned`);
  sql(`DELETE FROM ${schema}.migrations WHERE name LIKE 'ChangeIds%' OR name LIKE 'PlannedAttachments%'`);
  // As a kill leaves it: one statement of the first is done, and nothing says so.
  sql(`ALTER TABLE ${schema}.attachment ADD COLUMN isPlanned tinyint NOT NULL DEFAULT 0`);
  await stopped(first.child);
  const { child, said } = await ready();
  const [, file = ''] = /A copy of it as it was: (\S+)/.exec(said()) ?? [];
  expect(existsSync(file)).toBe(true);
  await rename('upgraded');
  await stopped(child);
});
