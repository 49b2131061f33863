import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { evaluate } from '@wide-lattice/core/evaluation';
import { readPlanFile, writePlanFile } from '@wide-lattice/core/exchange';
import {
  addOperation,
  applyOperations,
  emptyPlan,
  newId,
  removalOf,
  setOperation,
  withRebuilds,
} from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { demoPlan } from '@wide-lattice/core/demo';
import { check, convert, difference, proposal, table, traced } from './commands.js';

const demo = writePlanFile(demoPlan(), 'yaml');

function withoutConflicts(): Plan {
  let plan = demoPlan();
  for (const { a } of evaluate(plan).verdicts()) {
    const decision = { reason: 'conflict', decidedOn: '2026-11-23', decidedBy: 'test' };
    const applied = applyOperations(plan, withRebuilds(plan, removalOf(plan, 'allocations', a.id), decision));
    if (applied.ok) plan = applied.plan;
  }
  // The demo breaks an expectation on purpose.
  return { ...plan, expectations: [] };
}

test('a conflict gives exit code 1 and names the chain', () => {
  const { exitCode, output } = check(demo, 'text');
  expect(exitCode).toBe(1);
  expect(output).toContain('by the transit hub skerry-hub');
  expect(output).toContain('2 conflicts between ranges.');
});

test('without errors the exit code is 0, whatever found them, with an unusable file 2', () => {
  const { exitCode, output } = check(writePlanFile(withoutConflicts(), 'json'), 'text');
  expect(output).toContain('No ranges are in conflict.');
  expect([exitCode, output.split('\n').filter((line) => line.startsWith('error')).length > 0]).toEqual([1, true]);
  expect(check(writePlanFile(emptyPlan(), 'json'), 'text').exitCode).toBe(0);
  expect(check('{"format":"wide-lattice-plan"}', 'text')).toMatchObject({
    exitCode: 2,
    output: '',
    errors: expect.stringContaining('version') as string,
  });
});

test('a check is held to a severity, and to what is new since a plan before', () => {
  const clean = writePlanFile(withoutConflicts(), 'json');
  // What has no error left has warnings and notes, which fail where they are to.
  const found = JSON.parse(check(clean, 'json').output) as { findings: { severity: string; key: string }[] };
  const worst = found.findings[0]?.severity;
  expect(check(clean, 'text', { failOn: 'note' }).exitCode).toBe(found.findings.length > 0 ? 1 : 0);
  expect(check(clean, 'text', { failOn: 'error' }).exitCode).toBe(worst === 'error' ? 1 : 0);
  expect(check(writePlanFile(emptyPlan(), 'json'), 'text', { failOn: 'note' }).exitCode).toBe(0);
  // Nothing is new since the plan itself, whatever stands in it.
  const same = check(demo, 'json', { base: demo, failOn: 'note' });
  expect([same.exitCode, (JSON.parse(same.output) as { findings: unknown[] }).findings]).toEqual([0, []]);
  // A cluster without ranges is, and nothing else.
  const plan = demoPlan();
  const [like] = plan.clusters;
  if (like === undefined) throw new Error('no cluster');
  const more = applyOperations(plan, [
    addOperation('clusters', { ...like, id: newId(), name: 'late', isBuilt: false }),
  ]);
  if (!more.ok) throw new Error(more.problems[0]?.message);
  const late = check(writePlanFile(more.plan, 'json'), 'text', { base: demo, failOn: 'warning' });
  expect(late.exitCode).toBe(1);
  expect(late.output).toContain('late');
  expect(late.output).not.toContain('offers.skerryline.example');
  expect(check(demo, 'text', { base: 'no plan' })).toMatchObject({
    exitCode: 2,
    errors: expect.stringMatching(/^Of the plan before:/),
  });
});

test('two plan files are compared in words', () => {
  expect(difference(demo, demo)).toEqual({ exitCode: 0, output: 'No differences.\n', errors: '' });
  const plan = demoPlan();
  const timetable = plan.clusters.find(({ name }) => name === 'timetable');
  const range = plan.allocations.find(({ prefix }) => prefix === '10.28.0.0/19');
  const changed = applyOperations(plan, [
    setOperation('clusters', timetable?.id ?? '', { nodesNow: 11 }),
    setOperation('allocations', range?.id ?? '', { prefix: '10.28.0.0/20' }),
  ]);
  if (!changed.ok) throw new Error(changed.problems[0]?.message);
  const { exitCode, output } = difference(demo, writePlanFile(changed.plan, 'json'));
  expect(exitCode).toBe(1);
  expect(output).toContain(`Changed cluster "timetable": Nodes now ${timetable?.nodesNow} to 11`);
  expect(output).toContain('range resized: tide-models pod 10.28.0.0/19 to 10.28.0.0/20');
  expect(difference(demo, 'no plan').exitCode).toBe(2);
});

test('a broken expectation fails the check, and is counted', () => {
  const plan = { ...withoutConflicts(), expectations: demoPlan().expectations };
  const { exitCode, output } = check(writePlanFile(plan, 'json'), 'text');
  expect(exitCode).toBe(1);
  expect(output).toContain('No ranges are in conflict.\n1 of 5 expectations are broken.');
});

test('trace answers a question in the words of the question bar, with the hops and an exit code', () => {
  const ask = (from: string, to: string, as: 'text' | 'json' = 'text') =>
    traced(demo, { from, to, bytes: 576, lost: '', as });
  const good = ask('pod of tide-models', 'need image registry');
  expect(good.exitCode).toBe(0);
  expect(good.output).toMatch(/^pass: pod of tide-models reaches image registry .* through firewall hub-wall/);
  expect(good.output).toContain('back  translated hub-wall gives it back the address');
  expect(ask('the internet', 'api of harbour-ops').exitCode).toBe(1);
  const json = JSON.parse(ask('node of kiosk-ardle', 'need own registry', 'json').output) as {
    verdict: string;
    flows: unknown[];
  };
  expect(json).toMatchObject({
    verdict: 'refused',
    flows: [{ failed: { code: 'filter', facts: { direction: 'in' } } }],
  });
  // The text names the next hop, what lost, the size that fits and the change that would help.
  const refused = ask('node of kiosk-ardle', 'need own registry');
  expect(refused.output).toMatch(/Next hop: .* \[1,\d{3} bytes\]/);
  expect(refused.output).toContain('change: Add rule');
  expect(ask('pod of nobody', 'need time')).toMatchObject({
    exitCode: 2,
    errors: expect.stringContaining('nobody') as string,
  });
});

test('a trace as JSON is as its published schema says, for every question of the demo', () => {
  const schema = JSON.parse(readFileSync(join(__dirname, '../../../docs/trace.schema.json'), 'utf8')) as object;
  const validate = new Ajv2020({ allErrors: true, allowUnionTypes: true }).compile(schema);
  const plan = demoPlan();
  const questions = [
    ...plan.expectations.map(({ from, to }) => [from, to]),
    ['pod of booking-north', 'https://book.skerry.example/'],
    ['pod of booking-north', 'name www.skerry.example type A'],
    ['the internet', 'https://book.skerry.example/'],
    ['pod of booking-north', 'pod of booking-south tcp 8080'],
  ] as const;
  for (const [from = '', to = ''] of questions) {
    const { output, exitCode } = traced(demo, { from, to, bytes: 576, lost: '', as: 'json' });
    if (exitCode === 2) continue;
    expect([from, to, validate(JSON.parse(output)), validate.errors]).toEqual([from, to, true, null]);
  }
});

test('a check can be read by build servers: JUnit XML and SARIF 2.1.0 name every finding, and errors fail', () => {
  const found = evaluate(demoPlan()).findingsInWords();
  const errors = found.filter(({ severity }) => severity === 'error').length;
  const { output: xml, exitCode } = check(demo, 'junit');
  expect(exitCode).toBe(1);
  expect(xml).toContain(`tests="${found.length}" failures="${errors}"`);
  expect(xml.match(/<testcase /g)).toHaveLength(found.length);
  expect(xml.match(/<failure /g)).toHaveLength(errors);
  const sarif = JSON.parse(check(demo, 'sarif').output) as {
    version: string;
    runs: {
      tool: { driver: { rules: { id: string }[] } };
      results: { ruleId: string; ruleIndex: number; level: string }[];
    }[];
  };
  expect(sarif.version).toBe('2.1.0');
  const [run] = sarif.runs;
  expect(run?.results.filter(({ level }) => level === 'error')).toHaveLength(errors);
  for (const { ruleId, ruleIndex } of run?.results ?? []) expect(run?.tool.driver.rules[ruleIndex]?.id).toBe(ruleId);
});

test('findings as JSON are those of the core, as their published schema says', () => {
  const schema = JSON.parse(readFileSync(join(__dirname, '../../../docs/findings.schema.json'), 'utf8')) as object;
  const validate = new Ajv2020({ allErrors: true, allowUnionTypes: true }).compile(schema);
  const file = JSON.parse(check(demo, 'json').output) as { findings: { key: string; title: string }[] };
  expect([validate(file), validate.errors]).toEqual([true, null]);
  expect(file.findings.map(({ key, title }) => [key, title])).toEqual(
    evaluate(demoPlan())
      .findingsInWords()
      .map(({ key, title }) => [key, title]),
  );
});

test('convert keeps the plan, table and propose list it', () => {
  expect(readPlanFile(convert(demo, 'json').output)).toEqual({ ok: true, plan: demoPlan() });
  expect(table(demo).output.split('\r\n').length).toBeGreaterThan(90);
  expect(proposal(demo).output).toMatch(/^kiosk-vaila\tnode\t10\./m);
});

describe('the program itself', () => {
  const main = join(__dirname, '../dist/main.js');
  const folder = mkdtempSync(join(tmpdir(), 'wl-cli-'));
  const file = join(folder, 'plan.yaml');
  writeFileSync(file, demo);
  afterAll(() => rmSync(folder, { recursive: true }));
  const run = (args: string[], input = '') => spawnSync(process.execPath, [main, ...args], { encoding: 'utf8', input });

  test('exit codes', () => {
    expect(run(['check', file]).status).toBe(1);
    expect(run(['check', '-'], demo).status).toBe(1);
    expect(run(['check', join(folder, 'missing')])).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('cannot be read') as string,
    });
    expect(run(['frobnicate']).status).toBe(2);
    expect(run(['--help']).status).toBe(0);
  });

  test.each([
    [['prove', '--random', 'abc'], "'abc' is invalid. Write a whole number"],
    [['prove', '--random', '-1'], "'-1' is invalid"],
    [['prove', '--random', '1.5'], "'1.5' is invalid"],
    [['prove', '--random', '1e3'], "'1e3' is invalid"],
    [['prove', '--random', ''], "'' is invalid"],
    [['prove', '--random', '1', '--seed', 'x'], "'x' is invalid"],
    [
      ['trace', file, '--from', 'a', '--to', 'b', '--bytes', '67'],
      "'67' is invalid. Write a whole number from 68 to 9,216",
    ],
    [['trace', file, '--from', 'a', '--to', 'b', '--bytes', 'many'], "'many' is invalid"],
    [['check', file, '--as', 'prose'], "'prose' is invalid"],
  ])('%s is refused before anything is done', (args, why) => {
    const { status, stdout, stderr } = run(args);
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr).toContain(why);
  });

  test('standard output is clean for pipes', () => {
    expect(
      JSON.parse(execFileSync(process.execPath, [main, 'convert', file, '--to', 'json'], { encoding: 'utf8' })),
    ).toMatchObject({ format: 'wide-lattice-plan' });
  });
});

test('trace while a zone is lost: a zone that no site has is refused, one that is left out changes the answer', () => {
  const at = (lost: string) =>
    traced(demo, { from: 'node of booking-north', to: 'the internet tcp 443', bytes: 576, lost, as: 'text' });
  expect(at('').exitCode).toBe(0);
  expect(at('n9 of Halden north')).toMatchObject({ exitCode: 2, errors: expect.stringContaining('no zone') as string });
  expect(at('n1 of Halden north').output).not.toBe(at('').output);
});
