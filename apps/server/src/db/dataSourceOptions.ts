import type { DataSourceOptions } from 'typeorm';
import { migrations } from './migrations/index.js';
import { ChangeRow, kindRows, PlanEventRow, PlanRow, VersionRow } from './rows/index.js';

/** How the server reaches its database: on loopback, by the settings the start command hands over. */
export function dataSourceOptions(env: NodeJS.ProcessEnv = process.env): DataSourceOptions {
  const port = Number(env['WL_DB_PORT']);
  if (!Number.isInteger(port) || port < 1) {
    throw new Error(
      'WL_DB_PORT is not set: start the application with scripts/start.sh, which starts the database first.',
    );
  }
  return {
    type: 'mariadb',
    host: '127.0.0.1',
    port,
    username: env['WL_DB_USER'] ?? 'wide_lattice',
    password: env['WL_DB_PASSWORD'] ?? '',
    database: env['WL_DB_NAME'] ?? 'wide_lattice',
    charset: 'utf8mb4_unicode_ci',
    timezone: 'Z',
    synchronize: false,
    entities: [PlanRow, PlanEventRow, ChangeRow, VersionRow, ...kindRows],
    migrations,
  };
}
