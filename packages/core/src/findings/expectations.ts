import { ask } from '../request/index.js';
import type { Answer } from '../request/index.js';
import { packets, packetsButRules } from '../forwarding/index.js';
import { ingress as compiled } from '../ingress/index.js';
import type { IngressState } from '../ingress/index.js';
import { codeOf } from '../naming/index.js';
import { readOutage, readQuestion } from '../plan/index.js';
import type { Destination, Expectation, OutageNames, Question, QuestionNames } from '../plan/index.js';
import { formatProblem, good } from '../result.js';
import type { Result } from '../result.js';
import { formatBroken } from '../english/index.js';
import type { Verdict } from '../road/index.js';
import { bySubject, section } from '../section/index.js';
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

/** What is asked of an expectation, whoever keeps it. */
type Expected = Pick<Expectation, 'from' | 'to' | 'bytes' | 'verdict' | 'answer'>;

// A state in which something is lost is made once for each that it is the drill of.
const drilledStates = new WeakMap<IngressState, Map<string, IngressState>>();

/**
 * Asks an expectation, while what it names is lost. What the plan leaves open keeps none: neither that it passes nor that it is
 * refused.
 */
export function askExpectation(
  plan: QuestionNames & OutageNames,
  ingress: IngressState,
  expected: Expected & Pick<Expectation, 'during'>,
): ExpectationState {
  const drilled = expected.during === '' ? good(ingress) : during(plan, ingress, expected.during);
  if (!drilled.ok) {
    const problem = formatProblem(drilled.problem);
    return { state: 'unreadable', wanted: '', answer: problem, description: problem };
  }
  const { verdict: _, asked: __, ...state } = askTest(plan, drilled.value, expected);
  return state;
}

function during(plan: OutageNames, ingress: IngressState, text: string): Result<IngressState> {
  let known = drilledStates.get(ingress);
  if (known === undefined) drilledStates.set(ingress, (known = new Map<string, IngressState>()));
  const made = known.get(text);
  if (made !== undefined) return good(made);
  const outage = readOutage(plan, text);
  if (!outage.ok) return outage;
  const { zones, devices, links } = outage.value;
  const state = ingress.drilled({ zones, devices }, links);
  known.set(text, state);
  return good(state);
}

/** A question with its answer. */
interface AskedQuestion {
  readonly question: Question<Destination>;
  readonly answer: Answer;
}

/** The same with the question and what it came to; undefined where it cannot be read. */
export function askTest(
  plan: QuestionNames,
  ingress: IngressState,
  { from, to, bytes, verdict, answer: wanted }: Expected,
): ExpectationState & { readonly verdict: Verdict | undefined; readonly asked: AskedQuestion | undefined } {
  const question = readQuestion(plan, from, to, bytes);
  if (!question.ok) {
    const problem = formatProblem(question.problem);
    return {
      state: 'unreadable',
      wanted: '',
      answer: problem,
      description: problem,
      verdict: undefined,
      asked: undefined,
    };
  }
  const answer = ask(ingress, question.value);
  const asked = { question: question.value, answer };
  const isStopped = answer.verdict === 'refused' || answer.verdict === 'broken';
  const isKept = verdict === 'must pass' ? answer.verdict === 'pass' : isStopped;
  const { sentence } = answer;
  if (isKept && wanted !== '' && !isAnsweredBy(answer, wanted))
    return {
      state: 'broken',
      wanted,
      answer: sentence,
      description: formatBroken(wanted, sentence),
      verdict: answer.verdict,
      asked,
    };
  const state = isKept ? 'kept' : 'broken';
  return { state, wanted: '', answer: sentence, description: sentence, verdict: answer.verdict, asked };
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

/** An expectation as it was asked, with the filters and firewalls that its packets were held against. */
interface Asked extends ExpectationState {
  readonly expectation: Expectation;
  readonly lists: readonly string[];
}

/**
 * Every expectation as the plan answers it. One only about packets is asked again when these may go another way, when a list that they
 * met has other rules, or when workloads, services or policies at its ends differ; every other one after each edit.
 */
const askedExpectations = bySubject({
  name: 'expectations',
  reads: [
    'expectations',
    'clusters',
    'nodePools',
    'networks',
    'bastions',
    'needs',
    'inUse',
    'sites',
    'workloads',
    'services',
    'networkPolicies',
    'natDevices',
    'firewalls',
    'links',
  ],
  needs: { ingress: compiled, packets, packetsButRules },
  subjects: ({ expectations }) => expectations,
  dependsOn: (expectation, parts, { ingress, packets: all, packetsButRules: butRules }) => {
    const { from, to, bytes, during: lost } = expectation;
    if (lost !== '') return [expectation, ingress];
    const question = readQuestion(parts, from, to, bytes);
    if (!question.ok) return [expectation, formatProblem(question.problem)];
    if (['url', 'service', 'name'].includes(question.value.to.kind)) return [expectation, ingress];
    // Ranges and needs are asked in the parts that any rule tells apart: another one may have the answer name another address.
    const isInParts = [question.value.from, question.value.to].some(({ kind }) => kind === 'range' || kind === 'need');
    const mark = isInParts ? all : butRules;
    return [expectation, mark, parts.workloads, parts.services, parts.networkPolicies];
  },
  look: (expectation, parts, { ingress }): readonly Asked[] => {
    const { answer, lists } = ingress.forwarding.lists.meeting(() => askExpectation(parts, ingress, expectation));
    return [{ ...answer, expectation, lists }];
  },
  met: (found, _, { ingress }) => found.flatMap(({ lists }) => lists.map((id) => ingress.forwarding.lists.of(id))),
});

/** Whether each expectation is kept, by its id. */
export const expectationStates = section({
  name: 'expectations by id',
  reads: [],
  needs: { asked: askedExpectations },
  build: (_, { asked }): Readonly<Record<string, ExpectationState>> =>
    Object.fromEntries(
      asked.found.map(({ expectation, state, wanted, answer, description }) => [
        expectation.id,
        { state, wanted, answer, description },
      ]),
    ),
});

/** Expectations that the plan breaks, and those that cannot be asked any more. */
export const brokenExpectations = section({
  name: 'broken expectations',
  reads: [],
  needs: { asked: askedExpectations },
  build: (_, { asked }) => asked.found.flatMap(brokenOf),
});

function brokenOf({ expectation, state, wanted, answer }: Asked): Finding[] {
  if (state === 'kept') return [];
  const { id, name, from, to, verdict, during: lost } = expectation;
  const subjects = [{ kind: 'expectations', id }] as const;
  if (state === 'unreadable')
    return [finding('expectation.unreadable', 'error', subjects, { expectation: name, problem: answer })];
  const fact = { expectation: name, from, to, verdict, wanted, answer, during: lost };
  // The question bar asks the plan as it stands, which would say something else.
  return [finding('expectation.broken', 'error', subjects, fact, lost === '' ? { ask: { from, to } } : {})];
}
