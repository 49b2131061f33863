#!/usr/bin/env node
// Stands here before anything is built, so that npm links the command; what it runs is built by the start command and by the tests.
import { existsSync } from 'node:fs';

const main = new URL('../dist/main.js', import.meta.url);
if (existsSync(main)) await import(main.href);
else {
  process.stderr.write('Nothing is built yet. Run npm run build in the checkout first.\n');
  process.exitCode = 2;
}
