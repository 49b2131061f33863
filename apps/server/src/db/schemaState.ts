import type { DataSource } from 'typeorm';
import { migrations } from './migrations/index.js';

/** When a schema is looked at: before its upgrade, before that of one that was read from a file, after it. */
export type Moment = 'before' | 'restored' | 'after';

const MAX_NAMED = 5;

/** Whether a schema holds plans and lacks migrations. */
export async function isPending(database: DataSource): Promise<boolean> {
  const hasPlans = await database.createQueryRunner().hasTable('plan');
  return hasPlans && (await database.showMigrations());
}

/** Why a schema cannot be used, in words; nothing when it can. */
export async function schemaProblems(database: DataSource, moment: Moment): Promise<readonly string[]> {
  const ran = await migrationsOf(database);
  if (moment === 'restored' && (ran.length === 0 || !(await hasTables(database))))
    return [
      'This is not a backup of Wide Lattice: it does not hold the tables of plans, their history and their upgrades.',
    ];
  const known = new Set(migrations.map(({ name }) => name));
  const unknown = ran.filter((name) => !known.has(name));
  if (unknown.length > 0)
    return [
      `The plans were stored by a newer version, which upgraded them by ${unknown.slice(0, MAX_NAMED).join(', ')}. Use that version, or a backup from before the upgrade.`,
    ];
  if (moment !== 'after') return [];
  return [...(await missingParts(database)), ...(await brokenHistories(database))];
}

async function hasTables(database: DataSource): Promise<boolean> {
  const runner = database.createQueryRunner();
  const found = await Promise.all(['plan', 'plan_change', 'cluster', 'network'].map((table) => runner.hasTable(table)));
  return found.every(Boolean);
}

async function migrationsOf(database: DataSource): Promise<readonly string[]> {
  if (!(await database.createQueryRunner().hasTable('migrations'))) return [];
  const rows = await database.query<{ readonly name: string }[]>('SELECT `name` FROM `migrations` ORDER BY `id`');
  return rows.map(({ name }) => name);
}

/** What the tables lack although every migration is said to have run. */
async function missingParts(database: DataSource): Promise<readonly string[]> {
  const { upQueries } = await database.driver.createSchemaBuilder().log();
  if (upQueries.length === 0) return [];
  const first = upQueries.slice(0, MAX_NAMED).map(({ query }) => query.slice(0, 120));
  return [
    `The database is not whole: ${upQueries.length} parts of its tables are missing or differ (${first.join('; ')}). Put a backup in its place with scripts/restore.sh FILE.`,
  ];
}

/** Every revision of a plan is one change: where some are missing, older revisions cannot be told. */
async function brokenHistories(database: DataSource): Promise<readonly string[]> {
  const rows = await database.query<{ readonly name: string; readonly revision: number; readonly changes: string }[]>(
    'SELECT p.`name`, p.`revision`, COUNT(c.`revision`) AS `changes` FROM `plan` p LEFT JOIN `plan_change` c ON c.`planId` = p.`id` GROUP BY p.`id`, p.`name`, p.`revision` HAVING COUNT(c.`revision`) <> p.`revision` OR COALESCE(MAX(c.`revision`), 0) <> p.`revision`',
  );
  return rows
    .slice(0, MAX_NAMED)
    .map(
      ({ name, revision, changes }) =>
        `The plan "${name}" is at revision ${revision}, and its history has ${changes} changes. Put a backup in its place with scripts/restore.sh FILE.`,
    );
}
