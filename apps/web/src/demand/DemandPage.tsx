import { formatCount } from '@wide-lattice/core/working';
import { Rocket } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { kindsAt, kindViews } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { EntitySheet } from '../shared/EntitySheet';
import { Halves } from '../shared/Halves';
import { Tabs } from '../shared/Tabs';
import { useSearchState } from '../shared/useSearchState';
import { Consequences } from './Consequences';
import { CostSide } from './CostSide';
import { QuickStartDialog } from './QuickStartDialog';
import { TemplateSide } from './TemplateSide';

const sheets = kindsAt('demand');
const sides = [
  { id: 'follows', label: 'What follows' },
  { id: 'cost', label: 'Cost of the plan' },
] as const;

/** Stop 2: clusters, node pools and templates, with the consequences of the chosen one. */
export function DemandPage() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const shown = sheets.find((each) => each === search.get('show')) ?? 'clusters';
  const side = sides.find(({ id }) => id === search.get('side'))?.id ?? 'follows';
  return (
    <Halves
      screen="demand"
      rightWidth="30rem"
      left={
        <>
          <h1 className="sr-only">Demand</h1>
          <Tabs
            label="Which sheet"
            tabs={sheets.map((id) => ({ id, label: kindViews[id].tab, count: plan[id].length }))}
            chosen={shown}
            onChoose={(show) => set({ show, filter: '', group: '', cols: '' })}
          >
            {shown === 'clusters' && <ClusterSheetPart />}
            {shown === 'nodePools' && <NodePoolSheetPart />}
            {shown === 'templates' && <TemplateSheetPart />}
            {shown === 'reservations' && <EntitySheet kind="reservations" head={null} />}
          </Tabs>
        </>
      }
      right={
        shown === 'templates' ? (
          <TemplateSide />
        ) : (
          <Tabs label="What follows" tabs={sides} chosen={side} onChoose={(id) => set({ side: id })}>
            {side === 'cost' ? <CostSide /> : <ChosenCluster />}
          </Tabs>
        )
      }
    />
  );
}

function ClusterSheetPart() {
  const { session } = usePlan();
  const navigate = useNavigate();
  const [, set] = useSearchState();
  const [isStarting, setStarting] = useState(false);
  const chosen = useChosenCluster();
  const starter = (
    <button
      type="button"
      className="btn btn-sm btn-outline"
      title="From a site and a size to a whole network"
      onClick={() => setStarting(true)}
    >
      <Rocket size={14} aria-hidden /> Quick start
    </button>
  );
  return (
    <>
      <EntitySheet
        kind="clusters"
        head={null}
        actions={starter}
        emptyActions={starter}
        selectedId={chosen}
        onSelect={(cluster) => set({ cluster })}
        onOpen={(id) => void navigate(`/plans/${session.planId}/clusters/${id}`)}
      />
      {isStarting && (
        <QuickStartDialog onClose={() => setStarting(false)} onMade={(cluster) => set({ cluster, filter: '' })} />
      )}
    </>
  );
}

function NodePoolSheetPart() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  const chosen = search.get('pool') ?? undefined;
  return (
    <EntitySheet
      kind="nodePools"
      head={null}
      selectedId={chosen}
      onSelect={(pool) => {
        const cluster = plan.nodePools.find(({ id }) => id === pool)?.clusterId ?? '';
        set({ pool, cluster });
      }}
    />
  );
}

function TemplateSheetPart() {
  const { plan } = usePlan();
  const [search, set] = useSearchState();
  return (
    <EntitySheet
      kind="templates"
      head={null}
      selectedId={search.get('template') ?? plan.templates[0]?.id}
      onSelect={(template) => set({ template })}
    />
  );
}

function useChosenCluster(): string | undefined {
  const { plan } = usePlan();
  const [search] = useSearchState();
  return search.get('cluster') ?? plan.clusters[0]?.id;
}

function ChosenCluster() {
  const { session } = usePlan();
  const clusterId = useChosenCluster() ?? '';
  const answer = useSlice('cluster', clusterId, []);
  const sheet = answer?.sheet;
  if (sheet === undefined) return <NextSteps />;
  return (
    <>
      <div className="rule-b flex items-center justify-between gap-2 px-4 py-1.5">
        <h2 className="heading truncate">{sheet.cluster.name}</h2>
        <Link className="btn btn-sm btn-outline" to={`/plans/${session.planId}/clusters/${clusterId}`}>
          Open
        </Link>
      </div>
      <Consequences sheet={sheet} />
    </>
  );
}

/** What a plan without clusters needs, in order, and what of it is there. */
function NextSteps() {
  const { plan, session } = usePlan();
  const step = (isDone: boolean, label: string, about: string, to: string) => (
    <li className="rule-b flex items-start gap-3 px-4 py-2">
      <span className={isDone ? 'text-success' : 'quiet'} aria-hidden>
        {isDone ? '✓' : '○'}
      </span>
      <span>
        <Link className="link font-medium" to={`/plans/${session.planId}/${to}`}>
          {label}
        </Link>
        <span className="quiet block">{about}</span>
      </span>
    </li>
  );
  return (
    <>
      <h2 className="heading rule-b px-4 py-2">From nothing to an address plan</h2>
      <ol>
        {step(
          plan.sites.length > 0,
          'Sites and provider profiles',
          `${formatCount(plan.profiles.length, 'profile')}, ${formatCount(plan.sites.length, 'site')}; quick start and import create them too.`,
          'ground?show=sites',
        )}
        {step(
          plan.pools.length > 0,
          'Address pools',
          `${formatCount(plan.pools.length, 'pool')}: the space that ranges are taken from.`,
          'ranges',
        )}
        {step(
          plan.inUse.length > 0,
          'Ranges in use elsewhere',
          `${formatCount(plan.inUse.length, 'range')}; optional, and what saves the most trouble later.`,
          'ground?show=inUse',
        )}
        {step(plan.clusters.length > 0, 'Clusters', 'Start quickly, add one, or import a list on the left.', 'demand')}
        {step(
          plan.allocations.length > 0,
          'Ranges',
          'Propose every missing range and apply it as one change.',
          'ranges',
        )}
      </ol>
    </>
  );
}
