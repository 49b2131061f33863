import { junitXml } from '../exchange/index.js';
import type { JunitCase } from '../exchange/index.js';
import { byId } from '../plan/index.js';
import type { Plan } from '../plan/index.js';
import { formatNumber } from '../working/index.js';
import { countTests } from './runTests.js';
import type { TestCounts, TestResult } from './runTests.js';
import { suiteNames } from './suites.js';

/** Counts as practitioners read them: "74 run, 2 failed, 9 skipped". */
export function formatCounts({ run, failed, skipped }: TestCounts): string {
  return `${formatNumber(run)} run, ${formatNumber(failed)} failed, ${formatNumber(skipped)} skipped`;
}

const seconds = (milliseconds: number) => (milliseconds / 1000).toFixed(3);

/** What a test asks, in one line. */
export function titleOf({ from, to, bytes, verdict }: TestResult): string {
  return `${from} to ${to}, ${formatNumber(bytes)} bytes, ${verdict}`;
}

/**
 * Results as JUnit XML, a suite each. Form: as many build servers read it (common practice; there is no published standard).
 * Times in seconds.
 */
export function testsAsJunit(plan: Pick<Plan, 'settings' | 'clusters'>, results: readonly TestResult[]): string {
  const took = (of: readonly TestResult[]) => seconds(of.reduce((sum, each) => sum + each.took, 0));
  const countsOf = (of: readonly TestResult[]) => {
    const { failed, skipped } = countTests(of);
    return { tests: of.length, failures: failed, skipped, time: took(of) };
  };
  return junitXml({
    attributes: { name: `${plan.settings.name}, connection tests`, ...countsOf(results) },
    suites: suiteNames.flatMap((name) => {
      const own = results.filter(({ suite }) => suite === name);
      if (own.length === 0) return [];
      return [{ attributes: { name, ...countsOf(own) }, cases: own.map((each) => caseOf(plan, each)) }];
    }),
  });
}

function caseOf(plan: Pick<Plan, 'settings' | 'clusters'>, each: TestResult): JunitCase {
  const classname = byId(plan.clusters, each.clusterId)?.name ?? plan.settings.name;
  return {
    attributes: { classname, name: titleOf(each), time: seconds(each.took) },
    ...(each.result === 'failed' ? { failure: { type: each.asked ?? '', message: each.sentence } } : {}),
    ...(each.result === 'skipped' ? { skipped: each.sentence } : {}),
  };
}

/** Results as plain values, for JSON: counts, then each test with its suite, cluster, question and what came of it. */
export function testsAsValues(plan: Pick<Plan, 'settings' | 'clusters'>, results: readonly TestResult[]): object {
  return {
    plan: plan.settings.name,
    ...countTests(results),
    tests: results.map(({ suite, clusterId, from, to, bytes, verdict, answer, result, asked, sentence, took }) => ({
      suite,
      cluster: byId(plan.clusters, clusterId)?.name ?? null,
      from,
      to,
      bytes,
      expected: verdict,
      answer: answer === '' ? null : answer,
      result,
      verdict: asked ?? null,
      sentence,
      milliseconds: Number(took.toFixed(3)),
    })),
  };
}
