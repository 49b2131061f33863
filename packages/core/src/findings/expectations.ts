import { trace } from '../forwarding/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { readQuestion } from '../plan/index.js';
import type { Expectation, Plan, QuestionNames } from '../plan/index.js';
import { sayProblem } from '../result.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Whether an expectation holds, and the sentence that says why or why not. */
export interface ExpectationState {
  readonly state: 'kept' | 'broken' | 'unreadable';
  readonly say: string;
}

/** Asks an expectation. What the plan leaves open keeps none: neither that it passes nor that it is refused. */
export function askExpectation(
  plan: QuestionNames,
  forwarding: Forwarding,
  { from, to, bytes, verdict }: Expectation,
): ExpectationState {
  const question = readQuestion(plan, from, to, bytes);
  if (!question.ok) return { state: 'unreadable', say: sayProblem(question.problem) };
  const answer = trace(forwarding, question.value);
  const isStopped = answer.verdict === 'refused' || answer.verdict === 'broken';
  const isKept = verdict === 'must pass' ? answer.verdict === 'pass' : isStopped;
  return { state: isKept ? 'kept' : 'broken', say: answer.sentence };
}

/** Expectations that the plan breaks, and those that cannot be asked any more. */
export function brokenExpectations(
  plan: QuestionNames & Pick<Plan, 'expectations'>,
  { forwarding }: { readonly forwarding: Forwarding },
): readonly Finding[] {
  return plan.expectations.flatMap((expectation): Finding[] => {
    const { state, say } = askExpectation(plan, forwarding, expectation);
    if (state === 'kept') return [];
    const subjects = [{ kind: 'expectations', id: expectation.id }] as const;
    if (state === 'unreadable')
      return [
        finding('expectation.unreadable', 'error', subjects, {
          title: `${expectation.name}: the expectation cannot be asked`,
          detail: `${say} Correct what it names, or remove it.`,
        }),
      ];
    return [
      finding('expectation.broken', 'error', subjects, {
        title: `${expectation.name}: ${expectation.from} to ${expectation.to} ${expectation.verdict}`,
        detail: say,
      }),
    ];
  });
}
