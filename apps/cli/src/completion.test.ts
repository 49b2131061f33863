import { execFileSync } from 'node:child_process';
import { Command, Option } from 'commander';
import { completionOf } from './completion.js';

const program = new Command('wide-lattice');
program
  .command('check <file>')
  .addOption(new Option('--as <form>', 'how').choices(['text', 'json', 'sarif']))
  .option('--base <file>', 'before');
program.command('convert <file>').addOption(new Option('--to <syntax>', 'which').choices(['json', 'yaml']));

/** What bash would offer after these words, the last of them half typed. */
function offered(...words: readonly string[]): string[] {
  const script = `${completionOf(program)}
COMP_WORDS=(wide-lattice ${words.map((each) => `'${each}'`).join(' ')})
COMP_CWORD=${words.length}
_wide_lattice
printf '%s\\n' "\${COMPREPLY[@]}"`;
  return execFileSync('bash', ['-c', script], { encoding: 'utf8', cwd: import.meta.dirname })
    .split('\n')
    .filter((line) => line !== '');
}

test('bash is offered commands, then their options, the choices of an option, and files', () => {
  expect(offered('')).toEqual(['check', 'convert']);
  expect(offered('con')).toEqual(['convert']);
  expect(offered('check', '--')).toEqual(['--as', '--base']);
  expect(offered('check', '--as', '')).toEqual(['text', 'json', 'sarif']);
  expect(offered('check', '--as', 's')).toEqual(['sarif']);
  expect(offered('convert', '--to', 'y')).toEqual(['yaml']);
  expect(offered('check', 'completion.t')).toEqual(['completion.test.ts', 'completion.ts']);
  // What takes a file is offered files.
  expect(offered('check', '--base', 'comple')).toContain('completion.ts');
});
