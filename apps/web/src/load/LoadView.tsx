import { checkScenario } from '@wide-lattice/core/load';
import { formatNumber } from '@wide-lattice/core/working';
import { useState } from 'react';
import { useSlice } from '../plan/useSlice';
import { Computing, Empty, Part } from '../shared/Halves';
import { searchNow, useSearchState } from '../shared/useSearchState';
import type { ShownTarget } from '../worker/slices/ingressSlices';
import { LoadForm } from './LoadForm';
import { LoadOutcome } from './LoadOutcome';
import { readLoad, scenarioOf, writeLoad } from './settings';
import type { LoadSettings } from './settings';
import { SurvivePart } from './SurvivePart';
import { useSimulation } from './useSimulation';

/** What a load on a URL does to its pods: a scenario, run in a worker, and what comes of it. The address holds both. */
export function LoadView() {
  const [search, set] = useSearchState();
  const from = search.get('from') ?? '';
  const to = search.get('to') ?? '';
  const [typed, setTyped] = useState(to);
  return (
    <>
      <form
        className="rule-b flex items-center gap-2 px-4 py-2"
        onSubmit={(event) => {
          event.preventDefault();
          set({ to: typed, from: from === '' ? 'the internet' : from });
        }}
      >
        <label htmlFor="load-to">Load on</label>
        <input
          id="load-to"
          className="input input-sm min-w-0 flex-1"
          value={typed}
          spellCheck={false}
          onChange={(event) => setTyped(event.target.value)}
        />
        <button type="submit" className="btn btn-sm btn-outline" disabled={typed === '' || typed === to}>
          Load
        </button>
      </form>
      {to === '' ? (
        <Empty>Enter a URL, such as https://tickets.example/, or a service of a cluster: its pods get the load.</Empty>
      ) : (
        <OnTarget key={`${from} ${to}`} from={from === '' ? 'the internet' : from} to={to} />
      )}
    </>
  );
}

function OnTarget({ from, to }: { readonly from: string; readonly to: string }) {
  const target = useSlice('loadTarget', from, to);
  if (target === undefined) return <Computing />;
  if (!target.ok)
    return (
      <p role="alert" className="text-error px-4 py-3">
        No load falls on it: {target.message}
      </p>
    );
  return <Running target={target} />;
}

/** The most calls that a load brings in a second. */
function mostPerSecond({ kind, rate, toRate }: LoadSettings): number {
  return Math.max(Number(rate), kind === 'ramp' ? Number(toRate) : 0);
}

function Running({ target }: { readonly target: ShownTarget & { readonly ok: true } }) {
  const [search, set] = useSearchState();
  const loadOf = (address: URLSearchParams) => readLoad(address.get('load') ?? '', target.planned);
  const settings = loadOf(search);
  const { share, result, failure, start, cancel } = useSimulation();
  const [problem, setProblem] = useState('');
  const [ran, setRan] = useState<LoadSettings>();
  const run = () => {
    const checked = checkScenario(scenarioOf(settings, target));
    setProblem(checked.ok ? '' : `${checked.problem.message} ${checked.problem.fix}`);
    if (!checked.ok) return;
    setRan(settings);
    start(checked.value);
  };
  return (
    <>
      <LoadForm
        settings={settings}
        zones={target.zones}
        clusters={Object.keys(target.clusters)}
        onChange={(part) => set({ load: writeLoad({ ...loadOf(searchNow()), ...part }, target.planned) })}
      />
      <div className="rule-b flex items-center gap-3 px-4 py-2">
        {share === undefined ? (
          <button type="button" className="btn btn-sm btn-primary" onClick={run}>
            Simulate
          </button>
        ) : (
          <button type="button" className="btn btn-sm btn-outline" onClick={cancel}>
            Cancel
          </button>
        )}
        {share === undefined ? (
          <span className="quiet">
            {target.groups.map(({ name, replicas }) => `${name}: ${replicas} pods`).join(', ')}
            {target.unanswered > 0 &&
              `; ${formatNumber(Math.round(1000 * target.unanswered) / 10)} % of the calls are not answered`}
          </span>
        ) : (
          <>
            <progress className="progress flex-1" value={share} max={1} aria-label="Simulated so far" />
            <span className="quiet">{Math.round(100 * share)} %</span>
          </>
        )}
      </div>
      {(problem !== '' || failure !== '') && (
        <p role="alert" className="text-error rule-b px-4 py-2">
          {problem === '' ? `The simulation broke off. ${failure}` : problem}
        </p>
      )}
      {result !== undefined && (
        <LoadOutcome result={result} seconds={Number((ran ?? settings).seconds)} via={target.via} />
      )}
      <Part title="To survive a lost zone">
        <SurvivePart target={target} perSecond={mostPerSecond(settings)} />
      </Part>
    </>
  );
}
