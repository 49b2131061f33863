import { propose } from '@wide-lattice/core/allocation';
import { evaluate } from '@wide-lattice/core/evaluation';
import { allocationTableCsv, readPlanFile, writePlanFile } from '@wide-lattice/core/exchange';
import { sayNumber } from '@wide-lattice/core/working';
import type { Finding } from '@wide-lattice/core/findings';
import { ask, IngressState } from '@wide-lattice/core/ingress';
import { readAsked } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { sayEvent } from '@wide-lattice/core/english';

/** What a command prints and how it ends: 0 good, 1 a conflict stands, 2 the input cannot be used. */
export interface Outcome {
  readonly exitCode: 0 | 1 | 2;
  readonly output: string;
  readonly errors: string;
}

const unusable = (errors: readonly string[]): Outcome => ({
  exitCode: 2,
  output: '',
  errors: `${errors.join('\n')}\n`,
});

function withPlan(text: string, work: (plan: Plan) => Outcome): Outcome {
  const read = readPlanFile(text);
  if (read.ok) return work(read.plan);
  return unusable([
    'The plan file cannot be used:',
    ...read.problems.map(({ path, message, mend }) => `  ${path}: ${message} ${mend}`.trimEnd()),
  ]);
}

/** Codes of findings that fail a check: conflicts, planned joins included, and expectations that the plan does not keep. */
const failing = new Set(['overlap.conflict', 'expectation.broken', 'expectation.unreadable']);

/** Checks a plan file: exit code 1 while a conflict stands or an expectation is broken. */
export function check(text: string, as: 'text' | 'json'): Outcome {
  return withPlan(text, (plan) => {
    const findings = evaluate(plan).findings();
    const exitCode = findings.some(({ code }) => failing.has(code)) ? 1 : 0;
    const output = as === 'json' ? `${JSON.stringify({ findings }, null, 2)}\n` : sayFindings(plan, findings);
    return { exitCode, output, errors: '' };
  });
}

function sayFindings(plan: Plan, findings: readonly Finding[]): string {
  const count = (severity: Finding['severity']) => findings.filter((each) => each.severity === severity).length;
  const conflicts = findings.filter(({ code }) => code === 'overlap.conflict').length;
  const broken = findings.filter(({ code }) => code.startsWith('expectation.')).length;
  const lines = findings.flatMap(({ severity, title, detail, chain }) => [
    `${severity.padEnd(7)} ${title}`,
    `        ${detail}`,
    ...chain.map((step) => `          - ${step}`),
  ]);
  const summary = `${plan.settings.name}: ${sayNumber(plan.clusters.length)} clusters, ${sayNumber(plan.allocations.length)} ranges; ${count('error')} errors, ${count('warning')} warnings, ${count('note')} notes`;
  return [
    ...lines,
    summary,
    conflicts === 0
      ? 'No conflict stands.'
      : `${conflicts} ${conflicts === 1 ? 'conflict stands' : 'conflicts stand'}.`,
    ...(broken === 0 ? [] : [`${broken} of ${plan.expectations.length} expectations are broken.`]),
    '',
  ].join('\n');
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
      errors: refusals.map(({ reason, mend }) => `${reason} ${mend}\n`).join(''),
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
    as,
  }: { readonly from: string; readonly to: string; readonly bytes: number; readonly as: 'text' | 'json' },
): Outcome {
  return withPlan(text, (plan) => {
    const question = readAsked(plan, from, to, bytes);
    if (!question.ok) return unusable([`${question.problem.message} ${question.problem.mend}`.trim()]);
    const answer = ask(IngressState.of(plan), question.value);
    const exitCode = answer.verdict === 'pass' ? 0 : 1;
    if (as === 'json') return { exitCode, output: `${JSON.stringify(answer, null, 2)}\n`, errors: '' };
    const lines = answer.flows.flatMap(({ aim, verdict, forth, back }) => [
      `${aim.label}, ${aim.protocol} ${aim.port === 0 ? '' : aim.port}: ${verdict}`,
      ...forth.map((event) => `  there ${event.event.padEnd(10)} ${sayEvent(plan, event)}`),
      ...back.map((event) => `  back  ${event.event.padEnd(10)} ${sayEvent(plan, event)}`),
    ]);
    return { exitCode, output: `${answer.verdict}: ${answer.sentence}\n${lines.join('\n')}\n`, errors: '' };
  });
}
