import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { demoPlan } from '@wide-lattice/core/demo';
import { readPlanFile, writePlanFile } from '@wide-lattice/core/exchange';
import { applyOperations, setOperation } from '@wide-lattice/core/plan';
import { merge } from './merge.js';

const plan = demoPlan();
const base = writePlanFile(plan, 'yaml');
const north = plan.clusters.find(({ name }) => name === 'booking-north');
const withFields = (fields: Parameters<typeof setOperation<'clusters'>>[2], syntax: 'json' | 'yaml' = 'yaml') => {
  const changed = applyOperations(plan, [setOperation('clusters', north?.id ?? '', fields)]);
  if (!changed.ok) throw new Error(changed.problems[0]?.message);
  return writePlanFile(changed.plan, syntax);
};

let folder = '';
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'wl-merge-'));
});
afterEach(() => {
  rmSync(folder, { recursive: true });
});

const nodesIn = (text: string) => {
  const read = readPlanFile(text);
  const found = read.ok ? read.plan.clusters.find(({ id }) => id === north?.id) : undefined;
  return [found?.nodesNow, found?.surgePercent];
};

test('two sides are brought together in the syntax of this one, or told field by field', () => {
  const out = join(folder, 'merged');
  const ours = withFields({ nodesNow: 50 }, 'json');
  expect(merge({ base, ours, theirs: withFields({ surgePercent: 40 }) }, out).exitCode).toBe(0);
  const text = readFileSync(out, 'utf8');
  expect([text.startsWith('{'), ...nodesIn(text)]).toEqual([true, 50, 40]);
  const clash = merge({ base, ours, theirs: withFields({ nodesNow: 51 }) }, join(folder, 'none'));
  expect(clash).toEqual({
    exitCode: 1,
    output: '',
    errors: `cluster "booking-north", Nodes now: ${north?.nodesNow} at the base, 50 on this side, 51 on the other.\n`,
  });
  expect(merge({ base, ours, theirs: 'no plan' }, out)).toMatchObject({
    exitCode: 2,
    errors: expect.stringMatching(/^Of the file of the other side:/),
  });
});

// As a version control system calls it (gitattributes, defining a custom merge driver).
test('git merges two branches of a plan file by it', () => {
  const git = (...words: readonly string[]) =>
    spawnSync('git', ['-c', 'user.name=t', '-c', 'user.email=t@t.test', ...words], { cwd: folder, encoding: 'utf8' });
  const main = join(import.meta.dirname, '../bin/wide-lattice.mjs');
  execFileSync('git', ['init', '-q', '-b', 'main'], { cwd: folder });
  git('config', 'merge.plan.driver', `node ${main} merge %O %A %B`);
  writeFileSync(join(folder, '.gitattributes'), 'plan.yaml merge=plan\n');
  const commit = (text: string, message: string) => {
    writeFileSync(join(folder, 'plan.yaml'), text);
    git('add', '-A');
    git('commit', '-qm', message);
  };
  commit(base, 'base');
  git('tag', 'start');
  git('checkout', '-qb', 'theirs');
  commit(withFields({ surgePercent: 40 }), 'theirs');
  git('checkout', '-q', 'main');
  commit(withFields({ nodesNow: 50 }), 'ours');
  expect(git('merge', '-q', '--no-edit', 'theirs').status).toBe(0);
  expect(nodesIn(readFileSync(join(folder, 'plan.yaml'), 'utf8'))).toEqual([50, 40]);
  git('checkout', '-qb', 'again', 'start');
  commit(withFields({ nodesNow: 52 }), 'otherwise');
  const failed = git('merge', 'main');
  expect([failed.status, `${failed.stdout}${failed.stderr}`]).toEqual([1, expect.stringContaining('Nodes now')]);
});
