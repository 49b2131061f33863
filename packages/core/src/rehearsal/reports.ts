import { create } from 'xmlbuilder2';
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
  const all = countTests(results);
  const root = create({ version: '1.0', encoding: 'UTF-8' }).ele('testsuites', {
    name: `${plan.settings.name}, connection tests`,
    tests: results.length,
    failures: all.failed,
    skipped: all.skipped,
    time: seconds(results.reduce((sum, { took }) => sum + took, 0)),
  });
  for (const name of suiteNames) {
    const own = results.filter(({ suite }) => suite === name);
    if (own.length === 0) continue;
    const { failed, skipped } = countTests(own);
    const time = seconds(own.reduce((sum, { took }) => sum + took, 0));
    const suite = root.ele('testsuite', { name, tests: own.length, failures: failed, skipped, time });
    for (const each of own) {
      const classname = byId(plan.clusters, each.clusterId)?.name ?? plan.settings.name;
      const test = suite.ele('testcase', { classname, name: titleOf(each), time: seconds(each.took) });
      if (each.result === 'failed') test.ele('failure', { type: each.asked ?? '', message: each.sentence });
      else if (each.result === 'skipped') test.ele('skipped', { message: each.sentence });
    }
  }
  return `${root.doc().end({ prettyPrint: true })}\n`;
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
