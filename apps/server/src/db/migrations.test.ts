import { dirname } from 'node:path';
import { DataSource } from 'typeorm';
import type { MigrationInterface } from 'typeorm';
import { cutOff } from '../../test/cutOff.js';
import { dataSourceOptions } from './dataSourceOptions.js';
import { migrations } from './migrations/index.js';

const NAME = 'wide_lattice_test_resume';

// The library tells of each migration that fails; here they are meant to.
beforeAll(() => jest.spyOn(console, 'log').mockImplementation(() => undefined));
afterAll(() => jest.restoreAllMocks());

/** Connects to the schema of these tests alone. */
function connected(upTo: readonly (new () => MigrationInterface)[] = migrations): Promise<DataSource> {
  return new DataSource({
    ...dataSourceOptions({ ...process.env, WL_DB_NAME: NAME }),
    migrations: [...upTo],
  }).initialize();
}

async function emptied(): Promise<void> {
  const database = await connected();
  await database.query('SET FOREIGN_KEY_CHECKS = 0');
  await database.dropDatabase();
  await database.destroy();
}

/** Everything that says how the tables are made, as text. */
async function schemaOf(database: DataSource): Promise<string> {
  const tables = await database.query<{ name: string }[]>(
    'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() ORDER BY table_name',
  );
  const made: string[] = [];
  for (const { name } of tables) {
    const [row] = await database.query<Record<string, string>[]>(`SHOW CREATE TABLE \`${name}\``);
    // The auto-increment counter is not part of the schema, and keys are listed in the order they were created.
    made.push(
      ...String(row?.['Create Table'])
        .replace(/ AUTO_INCREMENT=\d+/, '')
        .split('\n')
        .map((line) => `${name}: ${line.trim().replace(/,$/, '')}`),
    );
  }
  return made.sort().join('\n');
}

// A server that starts removes the temporary tables that it finds in the folder for them, those of another server included.
test('the server keeps temporary tables in a folder of its own, beside its data', async () => {
  const database = await connected([]);
  const [{ own, data } = { own: '', data: '' }] = await database.query<{ own: string; data: string }[]>(
    'SELECT @@tmpdir AS own, @@datadir AS data',
  );
  await database.destroy();
  expect([own, data].map((folder) => dirname(folder))).toEqual([dirname(data), dirname(data)]);
  expect(own).not.toBe(data);
});

test('migrations that were cut off anywhere are finished by the next run, and the schema is the same', async () => {
  await emptied();
  const whole = await connected();
  await whole.runMigrations({ transaction: 'each' });
  const expected = await schemaOf(whole);
  await whole.destroy();
  const counting = cutOff(-1);
  await emptied();
  const counted = await connected(counting.all);
  await counted.runMigrations({ transaction: 'each' });
  await counted.destroy();
  expect(counting.done()).toBeGreaterThan(100);
  // Every hundred-and-first statement; data of landed versions is cut off elsewhere in a test of its own.
  for (let after = 1; after <= counting.done(); after += 101) {
    await emptied();
    const killed = await connected(cutOff(after).all);
    await expect(killed.runMigrations({ transaction: 'each' })).rejects.toThrow('killed');
    await killed.destroy();
    const again = await connected();
    await again.runMigrations({ transaction: 'each' });
    expect([after, await schemaOf(again)]).toEqual([after, expected]);
    await again.destroy();
  }
});

test('what is wrong with a statement for another reason is not taken for done', async () => {
  const database = await connected();
  const [first] = migrations;
  if (first === undefined) throw new Error('there are migrations');
  const runner = database.createQueryRunner();
  const refusing = new Proxy(runner, {
    get: (target, name) => {
      if (name === 'query') return () => target.query('ALTER TABLE `no_such_table` ADD COLUMN `x` int');
      const value: unknown = Reflect.get(target, name);
      return typeof value === 'function' ? (value.bind(target) as unknown) : value;
    },
  });
  await expect(new first().up(refusing)).rejects.toThrow(/no_such_table/);
  await runner.release();
  await database.destroy();
});
