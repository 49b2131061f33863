import { propose } from '@wide-lattice/core/allocation';
import { formatMend } from '@wide-lattice/core/english';
import { comparePlans, evaluate } from '@wide-lattice/core/evaluation';
import { allocationTableCsv, findingsFile, readPlanFile, traceFile, writePlanFile } from '@wide-lattice/core/exchange';
import type { PlanFileProblem } from '@wide-lattice/core/exchange';
import { finished, formatCount, formatNumber } from '@wide-lattice/core/working';
import { inWords } from '@wide-lattice/core/findings';
import type { Finding, DescribedFinding } from '@wide-lattice/core/findings';
import { ask } from '@wide-lattice/core/request';
import { IngressState } from '@wide-lattice/core/ingress';
import { readQuestion, readPacketQuestion, readZone } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { mendsOf } from '@wide-lattice/core/reach';
import {
  countTests,
  formatCounts,
  runTests,
  Suites,
  testsAsJunit,
  testsAsValues,
  titleOf,
} from '@wide-lattice/core/rehearsal';
import type { TestResult } from '@wide-lattice/core/rehearsal';
import { flowLines } from './flowLines.js';
import { junitOf, sarifOf } from './reports.js';

/** What a command prints and how it ends: 0 good, 1 an error is left, 2 the input cannot be used. */
export interface Outcome {
  readonly exitCode: 0 | 1 | 2;
  readonly output: string;
  readonly errors: string;
}

/** That the input cannot be used, and why. */
export const unusable = (errors: readonly string[]): Outcome => ({
  exitCode: 2,
  output: '',
  errors: `${errors.join('\n')}\n`,
});

/** Does something with the plan that a file holds; or says why it holds none. */
export function withPlan(text: string, work: (plan: Plan) => Outcome): Outcome {
  const read = readPlanFile(text);
  if (read.ok) return work(read.plan);
  return unusable(problemLines(read.problems));
}

/** What is wrong with a plan file, place by place. */
export function problemLines(problems: readonly PlanFileProblem[]): string[] {
  return [
    'The plan file cannot be used:',
    ...problems.map(({ path, message, fix }) => `  ${path}: ${message} ${fix}`.trimEnd()),
  ];
}

/** How the findings of a check are written. */
export type ReportForm = 'text' | 'json' | 'junit' | 'sarif';

/** Severities from the worst on. */
export const severities = ['error', 'warning', 'note'] as const;

/** What a check is held to. */
export interface CheckOptions {
  /** The least severity that fails it: by default errors. */
  readonly failOn?: (typeof severities)[number];
  /** The text of the plan file before: only what is found now and was not found there is told, and fails. */
  readonly base?: string | undefined;
}

/**
 * Checks a plan file: exit code 1 while anything of the severity that fails is left, whatever found it; a planned conflict counts as an error. Of two
 * states of a plan a finding is the same where its key is.
 */
export function check(text: string, as: ReportForm, { failOn = 'error', base }: CheckOptions = {}): Outcome {
  const before = base === undefined ? undefined : readPlanFile(base);
  if (before?.ok === false) return unusable(['Of the plan before:', ...problemLines(before.problems)]);
  return withPlan(text, (plan) => {
    const known = new Set(
      before === undefined
        ? []
        : evaluate(before.plan)
            .findings()
            .map(({ key }) => key),
    );
    const findings = evaluate(plan)
      .findings()
      .filter(({ key }) => !known.has(key));
    const failing = severities.slice(0, severities.indexOf(failOn) + 1);
    const isFailing = findings.some(({ severity, code }) => failing.includes(severity) || code === 'overlap.conflict');
    return { exitCode: isFailing ? 1 : 0, output: reported(plan, findings, as), errors: '' };
  });
}

function reported(plan: Plan, found: readonly Finding[], as: ReportForm): string {
  const findings = found.map((each) => inWords(plan, each));
  switch (as) {
    case 'text':
      return formatFindings(plan, findings);
    case 'json':
      return `${JSON.stringify(findingsFile(plan, found), null, 2)}\n`;
    case 'junit':
      return junitOf(plan.settings.name, findings);
    case 'sarif':
      return `${JSON.stringify(sarifOf(findings), null, 2)}\n`;
  }
}

function formatFindings(plan: Plan, findings: readonly DescribedFinding[]): string {
  const count = (severity: DescribedFinding['severity']) =>
    findings.filter((each) => each.severity === severity).length;
  const conflicts = findings.filter(({ code }) => code === 'overlap.conflict').length;
  const broken = findings.filter(({ code }) => code.startsWith('expectation.')).length;
  const lines = findings.flatMap(({ severity, title, detail, chain }) => [
    `${severity.padEnd(7)} ${title}`,
    `        ${detail}`,
    ...chain.map((step) => `          - ${step}`),
  ]);
  const summary = `${plan.settings.name}: ${formatNumber(plan.clusters.length)} clusters, ${formatNumber(plan.allocations.length)} ranges; ${count('error')} errors, ${count('warning')} warnings, ${count('note')} notes`;
  return [
    ...lines,
    summary,
    conflicts === 0 ? 'No ranges are in conflict.' : `${formatCount(conflicts, 'conflict')} between ranges.`,
    ...(broken === 0 ? [] : [`${broken} of ${plan.expectations.length} expectations are broken.`]),
    '',
  ].join('\n');
}

/** What a second plan file has otherwise than a first, in words: exit code 0 where nothing differs, 1 where something does. */
export function difference(first: string, second: string): Outcome {
  return withPlan(first, (before) =>
    withPlan(second, (after) => {
      const { ranges, others, gained, lost } = comparePlans(before, after);
      const lines = [
        ...ranges.map(
          ({ what, clusterName, purpose, zone, before: was, after: is }) =>
            `range ${what}: ${`${clusterName} ${purpose} ${zone}`.trim()} ${[was, is].filter((each) => each !== '').join(' to ')}`,
        ),
        ...others,
        ...gained.map(({ severity, title }) => `finding gained: ${severity} ${title}`),
        ...lost.map(({ severity, title }) => `finding lost: ${severity} ${title}`),
      ];
      return {
        exitCode: lines.length === 0 ? 0 : 1,
        output: lines.length === 0 ? 'No differences.\n' : `${lines.join('\n')}\n`,
        errors: '',
      };
    }),
  );
}

/** The allocation table of a plan file as CSV. */
export function table(text: string): Outcome {
  return withPlan(text, (plan) => ({ exitCode: 0, output: allocationTableCsv(evaluate(plan)), errors: '' }));
}

/** The plan file written again, in the other syntax if wanted. */
export function convert(text: string, to: 'json' | 'yaml'): Outcome {
  return withPlan(text, (plan) => ({ exitCode: 0, output: writePlanFile(plan, to), errors: '' }));
}

/** The ranges that would be proposed for everything missing, and what finds no place. */
export function proposal(text: string): Outcome {
  return withPlan(text, (plan) => {
    const { ranges, refusals } = propose(plan);
    const lines = ranges.map(({ clusterName, purpose, zone, after, poolName, sharedWith }) => {
      const shared = sharedWith.length === 0 ? '' : ` shared with ${sharedWith.join(', ')}`;
      return [clusterName, `${purpose} ${zone}`.trim(), after, `${poolName}${shared}`].join('\t');
    });
    return {
      exitCode: 0,
      output: lines.map((line) => `${line}\n`).join(''),
      errors: refusals.map(({ reason, fix }) => `${reason} ${fix}\n`).join(''),
    };
  });
}

/** Answers one question to a plan file: exit code 0 when the packet and its answer arrive, 1 when they do not, 2 when it cannot be asked. */
export function traced(
  text: string,
  {
    from,
    to,
    bytes,
    lost,
    as,
  }: {
    readonly from: string;
    readonly to: string;
    readonly bytes: number;
    readonly lost: string;
    readonly as: 'text' | 'json';
  },
): Outcome {
  return withPlan(text, (plan) => {
    const question = readQuestion(plan, from, to, bytes);
    if (!question.ok) return unusable([`${question.problem.message} ${question.problem.fix}`.trim()]);
    const zone = lost === '' ? undefined : readZone(plan, lost);
    if (zone?.ok === false) return unusable([`${zone.problem.message} ${zone.problem.fix}`]);
    const state = IngressState.of(plan);
    const answer = ask(zone === undefined ? state : state.without(new Set([zone.value])), question.value);
    const exitCode = answer.verdict === 'pass' ? 0 : 1;
    if (as === 'json') return { exitCode, output: `${JSON.stringify(traceFile(plan, answer), null, 2)}\n`, errors: '' };
    const lines = answer.flows.flatMap((flow) => flowLines(plan, flow));
    const packets = readPacketQuestion(plan, from, to, bytes);
    const changes =
      exitCode === 1 && packets.ok && zone === undefined ? mendsOf(plan, packets.value).map(formatMend) : [];
    const offered = changes.flatMap(({ steps, opens }) => [`change: ${steps.join(' ')}`, `        ${opens}`]);
    return {
      exitCode,
      output: `${answer.verdict}: ${answer.sentence}\n${[...lines, ...offered].join('\n')}\n`,
      errors: '',
    };
  });
}

/** How results of tests are written. */
export type TestForm = 'text' | 'json' | 'junit';

/** Runs the tests of the connection that a plan gives: exit code 1 when one fails, 2 when the plan cannot be used. */
export function tested(text: string, as: TestForm): Outcome {
  return withPlan(text, (plan) => {
    const tests = new Suites(plan).of({ kind: 'plan' });
    const results = finished(runTests(evaluate(plan), tests, () => performance.now()));
    const exitCode = results.some(({ result }) => result === 'failed') ? 1 : 0;
    return { exitCode, output: testReport(plan, results, as), errors: '' };
  });
}

function testReport(plan: Plan, results: readonly TestResult[], as: TestForm): string {
  if (as === 'junit') return testsAsJunit(plan, results);
  if (as === 'json') return `${JSON.stringify(testsAsValues(plan, results), null, 2)}\n`;
  const lines = results
    .filter(({ result }) => result !== 'passed')
    .flatMap((each) => [`${each.result.padEnd(7)} ${each.suite}: ${titleOf(each)}`, `        ${each.sentence}`]);
  return `${[...lines, `${plan.settings.name}: ${formatCounts(countTests(results))}`].join('\n')}\n`;
}
