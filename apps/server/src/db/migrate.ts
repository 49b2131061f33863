import dataSource from './dataSource.js';

// With --check it only says by its exit status whether there is something to run on a database that holds plans.
const NEEDS_UPGRADE = 3;

await dataSource.initialize();
if (process.argv.includes('--check')) {
  const isUsed = await dataSource.createQueryRunner().hasTable('plan');
  const isPending = await dataSource.showMigrations();
  await dataSource.destroy();
  process.exit(isUsed && isPending ? NEEDS_UPGRADE : 0);
}
const run = await dataSource.runMigrations({ transaction: 'each' });
console.log(
  run.length === 0 ? 'Database is up to date.' : `Ran ${run.length} migrations: ${run.map((m) => m.name).join(', ')}`,
);
await dataSource.destroy();
