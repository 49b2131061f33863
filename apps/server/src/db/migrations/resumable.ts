import type { MigrationInterface, QueryRunner } from 'typeorm';

type MigrationClass = new () => MigrationInterface;

/**
 * What the database says when a statement has nothing left to do: table, column, index, constraint or foreign key there
 * already, or gone already.
 */
const done: ReadonlySet<number> = new Set([1022, 1050, 1051, 1060, 1061, 1091, 1826]);

/** MariaDB reports a foreign key whose name is taken as a table that it cannot create. */
const CANNOT_MAKE = 1005;

/**
 * A migration that can be run again after it was cut off. Each of its statements is done whole or not at all, also when the
 * server is killed, but the migration is not: those that were done the first time say so the second, and count as done.
 */
export function resumable(migration: MigrationClass): MigrationClass {
  const resumed = class extends migration {
    override up(queryRunner: QueryRunner): Promise<void> {
      return super.up(forgiving(queryRunner)) as Promise<void>;
    }
  };
  // Migrations are kept by their names.
  Object.defineProperty(resumed, 'name', { value: migration.name });
  return resumed;
}

function forgiving(queryRunner: QueryRunner): QueryRunner {
  const query = async (...args: Parameters<QueryRunner['query']>): Promise<unknown> => {
    try {
      return (await queryRunner.query(...args)) as unknown;
    } catch (error) {
      if (isDone((error as { driverError?: { errno?: number; message?: string } }).driverError)) return undefined;
      throw error;
    }
  };
  return new Proxy(queryRunner, {
    get: (target, name) => {
      if (name === 'query') return query;
      const value: unknown = Reflect.get(target, name);
      return typeof value === 'function' ? (value.bind(target) as unknown) : value;
    },
  });
}

function isDone(error: { readonly errno?: number; readonly message?: string } | undefined): boolean {
  if (error?.errno === undefined) return false;
  return done.has(error.errno) || (error.errno === CANNOT_MAKE && error.message?.includes('errno: 121') === true);
}
