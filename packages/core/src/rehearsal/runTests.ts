import type { Evaluation } from '../evaluation/index.js';
import { askTest } from '../findings/index.js';
import { ingress as compiled } from '../ingress/index.js';
import type { IngressState } from '../ingress/index.js';
import type { QuestionNames } from '../plan/index.js';
import type { Verdict } from '../road/index.js';
import type { Steps } from '../working/index.js';
import type { ConnectionTest } from './suites.js';

/** What came of a test; one that the plan cannot answer is skipped, with the reason in its sentence. */
export interface TestResult extends ConnectionTest {
  readonly result: 'passed' | 'failed' | 'skipped';
  /** What the question came to; undefined where it cannot be asked. */
  readonly asked: Verdict | undefined;
  readonly sentence: string;
  /** Milliseconds that asking took. */
  readonly took: number;
}

/** Tests between two looks at whether to go on. */
const STEP = 50;

/** Asks every test of the plan as it stands: the same questions, and the same answers, as the question bar. */
export function* runTests(
  evaluation: Evaluation,
  tests: readonly ConnectionTest[],
  now: () => number = () => 0,
): Steps<TestResult[]> {
  yield { what: 'the ways of packets', done: 0, of: tests.length };
  return yield* testsIn(evaluation.plan, evaluation.ask(compiled), tests, now);
}

/** The same of a state in which something is gone. */
export function* testsIn(
  names: QuestionNames,
  state: IngressState,
  tests: readonly ConnectionTest[],
  now: () => number = () => 0,
): Steps<TestResult[]> {
  const results: TestResult[] = [];
  for (const [done, test] of tests.entries()) {
    if (done % STEP === 0) yield { what: 'the tests of the connection', done, of: tests.length };
    const began = now();
    const { state: kept, verdict: asked, description } = askTest(names, state, test);
    const result = asked === undefined || asked === 'unknown' ? 'skipped' : kept === 'kept' ? 'passed' : 'failed';
    results.push({ ...test, result, asked, sentence: description, took: now() - began });
  }
  return results;
}

/** Tests of one suite, or of all, counted as practitioners read them. */
export interface TestCounts {
  readonly run: number;
  readonly passed: number;
  readonly failed: number;
  readonly skipped: number;
}

/** Counts results: skipped ones were not run. */
export function countTests(results: readonly Pick<TestResult, 'result'>[]): TestCounts {
  const of = (result: TestResult['result']) => results.filter((each) => each.result === result).length;
  const [passed, failed, skipped] = [of('passed'), of('failed'), of('skipped')];
  return { run: passed + failed, passed, failed, skipped };
}
