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
      rightWidth={shown === 'templates' || side === 'cost' ? '31rem' : '28rem'}
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
            {shown === 'runs' && <EntitySheet kind="runs" head={null} />}
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
  const { plan, session } = usePlan();
  const navigate = useNavigate();
  const [, set] = useSearchState();
  const [isStarting, setStarting] = useState(false);
  const chosen = useChosenCluster();
  return (
    <>
      <EntitySheet
        kind="clusters"
        head={null}
        actions={
          <button
            type="button"
            className="btn btn-sm btn-outline"
            disabled={plan.sites.length === 0}
            title={plan.sites.length === 0 ? 'Enter a site first' : 'From a site and a size to a whole network'}
            onClick={() => setStarting(true)}
          >
            <Rocket size={14} aria-hidden /> Quick start
          </button>
        }
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
  if (sheet === undefined) return null;
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
