#!/usr/bin/env node
import { readFileSync } from 'node:fs';
import { Command, Option } from 'commander';
import { check, convert, proposal, table } from './commands.js';
import type { Outcome } from './commands.js';

function run(file: string, work: (text: string) => Outcome): void {
  let text: string;
  try {
    text = readFileSync(file === '-' ? 0 : file, 'utf8');
  } catch (error) {
    process.stderr.write(`${file} cannot be read: ${error instanceof Error ? error.message : String(error)}\n`);
    process.exitCode = 2;
    return;
  }
  const { exitCode, output, errors } = work(text);
  process.stdout.write(output);
  process.stderr.write(errors);
  process.exitCode = exitCode;
}

const program = new Command('wide-lattice')
  .description('Works on Wide Lattice plan files (JSON or YAML; - reads standard input).')
  .exitOverride();

program
  .command('check <file>')
  .description('list findings; exit code 1 while a conflict stands, 2 when the file cannot be used')
  .addOption(new Option('--as <form>', 'how findings are written').choices(['text', 'json']).default('text'))
  .action((file: string, { as }: { as: 'text' | 'json' }) => run(file, (text) => check(text, as)));
program
  .command('table <file>')
  .description('print the allocation table as CSV')
  .action((file: string) => run(file, table));
program
  .command('propose <file>')
  .description('print the ranges that would be proposed, tab separated')
  .action((file: string) => run(file, proposal));
program
  .command('convert <file>')
  .description('write the plan file again')
  .addOption(new Option('--to <syntax>', 'the syntax to write').choices(['json', 'yaml']).default('yaml'))
  .action((file: string, { to }: { to: 'json' | 'yaml' }) => run(file, (text) => convert(text, to)));

try {
  program.parse();
} catch (error) {
  // Commander has printed what is wrong; a wrong call is "cannot be used", not "a conflict stands".
  process.exitCode = (error as { exitCode?: number }).exitCode === 0 ? 0 : 2;
}
