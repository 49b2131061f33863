import dataSource from './dataSource.js';
import { isPending, schemaProblems } from './schemaState.js';

// With --check it only says by its exit status whether there is something to run on a database that holds plans.
// With --restored the schema was read from a file: it is looked at before anything is run on it.
const NEEDS_UPGRADE = 3;
const REFUSED = 4;

async function refuse(problems: readonly string[]): Promise<void> {
  if (problems.length === 0) return;
  for (const problem of problems) console.error(`wide-lattice: ${problem}`);
  await dataSource.destroy();
  process.exit(REFUSED);
}

await dataSource.initialize();
const isRestored = process.argv.includes('--restored');
await refuse(await schemaProblems(dataSource, isRestored ? 'restored' : 'before'));
if (process.argv.includes('--check')) {
  const needs = await isPending(dataSource);
  await dataSource.destroy();
  process.exit(needs ? NEEDS_UPGRADE : 0);
}
const run = await dataSource.runMigrations({ transaction: 'each' });
console.log(
  run.length === 0 ? 'Database is up to date.' : `Ran ${run.length} migrations: ${run.map((m) => m.name).join(', ')}`,
);
await refuse(await schemaProblems(dataSource, 'after'));
await dataSource.destroy();
