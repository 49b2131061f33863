import dataSource from './dataSource.js';

await dataSource.initialize();
const run = await dataSource.runMigrations({ transaction: 'each' });
console.log(
  run.length === 0 ? 'Database is up to date.' : `Ran ${run.length} migrations: ${run.map((m) => m.name).join(', ')}`,
);
await dataSource.destroy();
