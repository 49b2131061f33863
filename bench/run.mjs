// Runs every benchmark in a process of its own. Build first: node node_modules/ts7/bin/tsc -b
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { scaled } from './measure.mjs';

if (scaled(false, true)) console.log('In small, to see that each runs: its sizes are not those that it names.');
for (const name of [
  'addresses',
  'overlaps',
  'longestMatch',
  'evaluation',
  'large',
  'everything',
  'import',
  'parsers',
  'podNetwork',
  'forwarding',
  'ingress',
  'names',
  'crossCluster',
  'rehearsal',
  'handover',
  'standins',
]) {
  console.log(`\n${name}`);
  const { status } = spawnSync(process.execPath, [fileURLToPath(new URL(`./${name}.mjs`, import.meta.url))], {
    stdio: 'inherit',
  });
  if (status !== 0) process.exitCode = 1;
}
