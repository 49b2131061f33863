import {
  countTests,
  formatCounts,
  runTests,
  suiteNames,
  Suites,
  testsAsJunit,
  testsAsValues,
  titleOf,
} from '@wide-lattice/core/rehearsal';
import type { Scope, SuiteName, TestCounts, TestResult } from '@wide-lattice/core/rehearsal';
import { byId, groupBy } from '@wide-lattice/core/plan';
import type { Steps } from '@wide-lattice/core/working';
import type { SliceHost } from '../sliceHost';

/** Which tests are shown. */
export interface TestFilter {
  readonly suite: string;
  readonly result: string;
  readonly clusterId: string;
}

/** A test with its result, ready to be shown. */
export interface ShownTest {
  readonly suite: SuiteName;
  readonly cluster: string;
  readonly title: string;
  readonly from: string;
  readonly to: string;
  readonly bytes: number;
  readonly result: TestResult['result'];
  readonly sentence: string;
}

/** The tests of one cluster: how many of each suite pass. */
export interface ShownTestRow {
  readonly clusterId: string;
  readonly cluster: string;
  readonly counts: TestCounts;
  /** Suites in which not all pass: "services 4 of 5". */
  readonly failing: readonly string[];
}

/** What came of the tests. */
export interface ShownTests {
  readonly sentence: string;
  readonly counts: TestCounts;
  /** Milliseconds that asking took. */
  readonly took: number;
  readonly suites: readonly { readonly suite: SuiteName; readonly counts: TestCounts }[];
  readonly clusters: readonly ShownTestRow[];
  readonly tests: readonly ShownTest[];
  readonly found: number;
}

/** Most tests and clusters that one answer holds. */
const MAX_SHOWN = 300;

const order: readonly TestResult['result'][] = ['failed', 'skipped', 'passed'];

/** Slices of the tests of the connection: asked once for a scope, then told in parts. */
export const testSlices = {
  *connectionTests(host: SliceHost, scope: Scope, filter: TestFilter): Steps<ShownTests> {
    const results = yield* resultsOf(host, scope);
    const { clusters } = host.plan;
    const counts = countTests(results);
    const found = results
      .filter(
        ({ suite, result, clusterId }) =>
          (filter.suite === '' || suite === filter.suite) &&
          (filter.result === '' || result === filter.result) &&
          (filter.clusterId === '' || clusterId === filter.clusterId),
      )
      .toSorted((a, b) => order.indexOf(a.result) - order.indexOf(b.result));
    return {
      sentence: formatCounts(counts),
      counts,
      took: results.reduce((sum, { took }) => sum + took, 0),
      suites: suiteNames.flatMap((suite) => {
        const own = results.filter((each) => each.suite === suite);
        return own.length === 0 ? [] : [{ suite, counts: countTests(own) }];
      }),
      clusters: rowsOf(host, results),
      found: found.length,
      tests: found.slice(0, MAX_SHOWN).map((each) => ({
        suite: each.suite,
        cluster: byId(clusters, each.clusterId)?.name ?? '',
        title: titleOf(each),
        from: each.from,
        to: each.to,
        bytes: each.bytes,
        result: each.result,
        sentence: each.sentence,
      })),
    };
  },

  *testReport(host: SliceHost, scope: Scope, form: 'junit' | 'json'): Steps<string> {
    const results = yield* resultsOf(host, scope);
    return form === 'junit'
      ? testsAsJunit(host.plan, results)
      : `${JSON.stringify(testsAsValues(host.plan, results), null, 2)}\n`;
  },
};

function* resultsOf({ plan, evaluation, tested }: SliceHost, scope: Scope): Steps<readonly TestResult[]> {
  const key = JSON.stringify(scope);
  const known = tested.get(key);
  if (known !== undefined) return known;
  const tests = new Suites(plan).of(scope);
  const results = yield* runTests(evaluation, tests, () => performance.now());
  // One scope is looked at at a time.
  tested.clear();
  tested.set(key, results);
  return results;
}

/** Clusters of which tests fail first, the most first. */
function rowsOf({ plan }: SliceHost, results: readonly TestResult[]): ShownTestRow[] {
  const rows = [...groupBy(results, ({ clusterId }) => clusterId)].flatMap(([clusterId, own]): ShownTestRow[] => {
    const cluster = byId(plan.clusters, clusterId);
    if (cluster === undefined) return [];
    const failing = suiteNames.flatMap((suite) => {
      const { run, passed } = countTests(own.filter((each) => each.suite === suite));
      return passed < run ? [`${suite} ${passed} of ${run}`] : [];
    });
    return [{ clusterId, cluster: cluster.name, counts: countTests(own), failing }];
  });
  return rows.sort((a, b) => b.counts.failed - a.counts.failed).slice(0, MAX_SHOWN);
}
