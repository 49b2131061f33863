import { ask } from '../request/index.js';
import type { Answer } from '../request/index.js';
import type { IngressState } from '../ingress/index.js';
import { codeOf } from '../naming/index.js';
import { readQuestion } from '../plan/index.js';
import type { Expectation, Plan, QuestionNames } from '../plan/index.js';
import { formatProblem } from '../result.js';
import { formatBroken } from '../english/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Whether an expectation holds, and the sentence that says why or why not. */
export interface ExpectationState {
  readonly state: 'kept' | 'broken' | 'unreadable';
  /** What should answer and does not; empty where the verdict itself decides. */
  readonly wanted: string;
  /** What the question comes to. */
  readonly answer: string;
  readonly description: string;
}

/** Asks an expectation. What the plan leaves open keeps none: neither that it passes nor that it is refused. */
export function askExpectation(
  plan: QuestionNames,
  ingress: IngressState,
  { from, to, bytes, verdict, answer: wanted }: Expectation,
): ExpectationState {
  const question = readQuestion(plan, from, to, bytes);
  if (!question.ok) {
    const problem = formatProblem(question.problem);
    return { state: 'unreadable', wanted: '', answer: problem, description: problem };
  }
  const answer = ask(ingress, question.value);
  const isStopped = answer.verdict === 'refused' || answer.verdict === 'broken';
  const isKept = verdict === 'must pass' ? answer.verdict === 'pass' : isStopped;
  const { sentence } = answer;
  if (isKept && wanted !== '' && !isAnsweredBy(answer, wanted))
    return { state: 'broken', wanted, answer: sentence, description: formatBroken(wanted, sentence) };
  return { state: isKept ? 'kept' : 'broken', wanted: '', answer: sentence, description: sentence };
}

/** Whether an address, a code, a status or a workload is what answers: a workload by its name, with or without its namespace. */
function isAnsweredBy({ status, members, resolution, stages }: Answer, wanted: string): boolean {
  const isName = resolution !== undefined && stages.every(({ about }) => about === 'query');
  if (isName)
    return (
      codeOf[resolution.outcome] === wanted.toUpperCase() || resolution.records.some(({ value }) => value === wanted)
    );
  if (/^\d{3}$/.test(wanted)) return status === Number(wanted);
  return members.some(
    ({ workload }) => wanted === workload.name || wanted === `${workload.namespace}/${workload.name}`,
  );
}

/** Expectations that the plan breaks, and those that cannot be asked any more. */
export function brokenExpectations(
  plan: QuestionNames & Pick<Plan, 'expectations'>,
  { ingress }: { readonly ingress: IngressState },
): readonly Finding[] {
  return plan.expectations.flatMap((expectation): Finding[] => {
    const { state, wanted, answer } = askExpectation(plan, ingress, expectation);
    if (state === 'kept') return [];
    const subjects = [{ kind: 'expectations', id: expectation.id }] as const;
    if (state === 'unreadable')
      return [finding('expectation.unreadable', 'error', subjects, { expectation: expectation.name, problem: answer })];
    return [
      finding(
        'expectation.broken',
        'error',
        subjects,
        {
          expectation: expectation.name,
          from: expectation.from,
          to: expectation.to,
          verdict: expectation.verdict,
          wanted,
          answer,
        },
        { ask: { from: expectation.from, to: expectation.to } },
      ),
    ];
  });
}
