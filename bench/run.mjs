// Runs every benchmark in a process of its own. Build first: node node_modules/ts7/bin/tsc -b
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

for (const name of [
  'addresses',
  'overlaps',
  'longestMatch',
  'evaluation',
  'large',
  'import',
  'podNetwork',
  'forwarding',
  'ingress',
  'names',
  'crossCluster',
]) {
  console.log(`\n${name}`);
  const { status } = spawnSync(process.execPath, [fileURLToPath(new URL(`./${name}.mjs`, import.meta.url))], {
    stdio: 'inherit',
  });
  if (status !== 0) process.exitCode = 1;
}
