import { spawnSync } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = fileURLToPath(new URL('../..', `file://${__filename}`));
const room = join(root, `packages/core/src/road/lint-${process.pid}`);

/** What the linter says of a file in a room that makes no sentences. */
function linted(name: string, text: string): string {
  const file = join(room, name);
  writeFileSync(file, text);
  const linter = join(root, 'node_modules/oxlint/bin/oxlint');
  return spawnSync(process.execPath, [linter, '--config', join(root, '.oxlintrc.json'), file], {
    cwd: root,
    encoding: 'utf8',
  }).stdout;
}

beforeAll(() => mkdirSync(room));
afterAll(() => rmSync(room, { recursive: true }));

test('a sentence in a room of facts is refused, as a text and as a template', () => {
  expect(linted('text.ts', "export const why = 'The route leads to nothing.';\n")).toContain('sentences(none)');
  const template = ['export const why = (name: string) => `The route ', '{name} leads to nothing.`;\n'].join('$');
  expect(linted('template.ts', template)).toContain('sentences(none)');
});

test('codes, names, mistakes of ours and the titles of tests are none', () => {
  const labels = ["export const code = 'no-route';", "export const label = 'pod of one';"].join('\n');
  expect(linted('labels.ts', `${labels}\n`)).not.toContain('sentences');
  expect(linted('error.ts', "export const e = new Error('a way without any event on it');\n")).not.toContain(
    'sentences',
  );
  expect(linted('some.test.ts', "test('what a test shows is said here', () => undefined);\n")).not.toContain(
    'sentences',
  );
});
