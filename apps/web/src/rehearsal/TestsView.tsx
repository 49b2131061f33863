import { formatCount, formatNumber } from '@wide-lattice/core/working';
import { CircleCheck, CircleDashed, Download, OctagonX } from 'lucide-react';
import { Link } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { usePlanPath } from '../plan/usePlanPath';
import { useSlice } from '../plan/useSlice';
import { Computing, Empty, Part } from '../shared/Halves';
import { More } from '../shared/More';
import { saveFile } from '../shared/saveFile';
import { TableHead } from '../shared/TableHead';
import { useSearchState } from '../shared/useSearchState';
import { core } from '../worker/coreClient';
import type { ShownTest, ShownTestRow, ShownTests } from '../worker/slices/testSlices';
import { wishOf } from './wish';

const marks = {
  passed: { Icon: CircleCheck, colour: 'text-success' },
  failed: { Icon: OctagonX, colour: 'text-error font-semibold' },
  skipped: { Icon: CircleDashed, colour: 'quiet' },
} as const;

/** The tests of the connection that the plan gives: counts, suite by suite and cluster by cluster, and each with its road. */
export function TestsView() {
  const [search, set] = useSearchState();
  const filter = {
    suite: search.get('suite') ?? '',
    result: search.get('result') ?? '',
    clusterId: search.get('of') ?? '',
  };
  const { scope } = wishOf(search);
  const shown = useSlice('connectionTests', scope, filter);
  if (shown === undefined) return <Computing />;
  if (shown.suites.length === 0)
    return <Empty>There is nothing to test yet: add clusters at Demand, and allocate their ranges.</Empty>;
  return (
    <>
      <Part title="Connection tests" aside={<Reports />}>
        <p className="text-[15px]">
          <strong className={colourOf(shown.counts)}>{shown.sentence}</strong>, in{' '}
          {formatNumber(Math.max(1, Math.round(shown.took)))} ms. Each is a question to this plan, made from its
          clusters, needs, routes, policies and expectations.
        </p>
        <SuiteTable suites={shown.suites} chosen={filter.suite} onChoose={(suite) => set({ suite })} />
      </Part>
      <Part title="By cluster">
        <ClusterTable rows={shown.clusters} chosen={filter.clusterId} onChoose={(of) => set({ of })} />
      </Part>
      <Part title="Tests" aside={<ResultChoice chosen={filter.result} onChoose={(result) => set({ result })} />}>
        <TestList tests={shown.tests} />
        <More all={shown.found} shown={shown.tests.length} />
      </Part>
    </>
  );
}

/** Green only where something was run, and all of it passed. */
function colourOf({ run, failed }: ShownTests['counts']): string {
  if (failed > 0) return 'text-error';
  return run > 0 ? 'text-success' : '';
}

function Reports() {
  const [search] = useSearchState();
  const { session } = usePlan();
  const { scope } = wishOf(search);
  const save = async (form: 'junit' | 'json') => {
    const text = await core.ask('testReport', scope, form);
    const name = `${session.snapshot().plan.settings.name} connection tests`;
    if (form === 'junit') saveFile(new Blob([text], { type: 'application/xml' }), `${name}.xml`);
    else saveFile(new Blob([text], { type: 'application/json' }), `${name}.json`);
  };
  return (
    <span className="flex gap-2">
      {(['junit', 'json'] as const).map((form) => (
        <button key={form} type="button" className="btn btn-xs btn-outline" onClick={() => void save(form)}>
          <Download size={13} aria-hidden />
          {form === 'junit' ? 'JUnit XML' : 'JSON'}
        </button>
      ))}
    </span>
  );
}

interface SuiteTableProps {
  readonly suites: ShownTests['suites'];
  readonly chosen: string;
  readonly onChoose: (suite: string) => void;
}

function SuiteTable({ suites, chosen, onChoose }: SuiteTableProps) {
  return (
    <table className="mt-2 w-full" aria-label="Suites">
      <TableHead labels={['Suite', 'Passed', 'Failed', 'Skipped']} rightFrom={1} />
      <tbody>
        {suites.map(({ suite, counts: { run, passed, failed, skipped } }) => (
          <tr key={suite} className={`rule-b ${suite === chosen ? 'bg-base-200' : ''}`}>
            <th scope="row" className="py-0.5 text-left font-normal">
              <button
                type="button"
                className="link-hover"
                aria-pressed={suite === chosen}
                onClick={() => onChoose(suite === chosen ? '' : suite)}
              >
                {suite}
              </button>
            </th>
            <td className="pl-3 text-right tabular-nums">
              {formatNumber(passed)} of {formatNumber(run)}
            </td>
            <td className={`pl-3 text-right tabular-nums ${failed > 0 ? 'text-error font-semibold' : 'quiet'}`}>
              {formatNumber(failed)}
            </td>
            <td className="quiet pl-3 text-right tabular-nums">{formatNumber(skipped)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

interface ClusterTableProps {
  readonly rows: readonly ShownTestRow[];
  readonly chosen: string;
  readonly onChoose: (clusterId: string) => void;
}

/** Clusters in which a test fails; the others are counted. */
function ClusterTable({ rows, chosen, onChoose }: ClusterTableProps) {
  const failing = rows.filter(({ counts }) => counts.failed > 0 || chosen !== '').slice(0, 12);
  const good = rows.filter(({ counts }) => counts.failed === 0).length;
  return (
    <>
      <table className="w-full" aria-label="Passed by cluster">
        <tbody>
          {failing.map(({ clusterId, cluster, counts, failing: suites }) => (
            <tr key={clusterId} className={`rule-b align-top ${clusterId === chosen ? 'bg-base-200' : ''}`}>
              <th scope="row" className="py-0.5 pr-3 text-left font-normal">
                <button
                  type="button"
                  className="link-hover text-left"
                  aria-pressed={clusterId === chosen}
                  onClick={() => onChoose(clusterId === chosen ? '' : clusterId)}
                >
                  {cluster}
                </button>
              </th>
              <td className="pr-3 whitespace-nowrap tabular-nums">
                {counts.passed} of {counts.run}
              </td>
              <td className={suites.length > 0 ? 'text-error' : 'text-success'}>{suites.join(', ') || 'all pass'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet mt-1">In {formatCount(good, 'cluster')} no test fails.</p>
    </>
  );
}

function ResultChoice({ chosen, onChoose }: { readonly chosen: string; readonly onChoose: (result: string) => void }) {
  return (
    <select
      className="select select-xs w-32"
      aria-label="Result"
      value={chosen}
      onChange={(event) => onChoose(event.target.value)}
    >
      <option value="">all results</option>
      <option>failed</option>
      <option>skipped</option>
      <option>passed</option>
    </select>
  );
}

function TestList({ tests }: { readonly tests: readonly ShownTest[] }) {
  const planPath = usePlanPath();
  return (
    <table className="w-full" aria-label="Tests">
      <tbody>
        {tests.map(({ suite, title, from, to, bytes, result, sentence }) => {
          const { Icon, colour } = marks[result];
          const road = new URLSearchParams({ from, to, bytes: String(bytes) });
          return (
            <tr key={`${suite} ${title}`} className="rule-b align-top">
              <td className={`w-20 py-1 ${colour}`}>
                <span className="inline-flex items-center gap-1">
                  <Icon size={13} aria-hidden />
                  {result}
                </span>
              </td>
              <td className="py-1">
                <Link className="link-hover break-words" to={planPath(`egress?${road.toString()}`)}>
                  {title}
                </Link>
                {result !== 'passed' && <div className="quiet text-xs">{sentence}</div>}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
