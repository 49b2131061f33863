import { Rocket } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { EntitySheet } from '../shared/EntitySheet';
import type { SheetField } from '../shared/EntitySheet';
import { Halves } from '../shared/Halves';
import { useSearchState } from '../shared/useSearchState';
import { Consequences } from './Consequences';
import { QuickStartDialog } from './QuickStartDialog';

const fields: readonly SheetField<'clusters'>[] = [
  { field: 'name', width: 'minmax(9rem, 1.4fr)' },
  { field: 'siteId', width: 'minmax(7rem, 1fr)' },
  { field: 'networkId', width: 'minmax(6rem, 0.8fr)' },
  { field: 'podMode', width: '5.5rem', label: 'Pods by' },
  { field: 'nodesNow', width: '6.2rem' },
  { field: 'nodesHorizon', width: '6.4rem', label: 'At horizon' },
  { field: 'podsPerNode', width: '6.8rem' },
  { field: 'services', width: '5.4rem' },
  { field: 'family', width: '5rem', isExtra: true },
  { field: 'surgePercent', width: '5rem', isExtra: true },
  { field: 'entryAddresses', width: '8rem', isExtra: true },
  { field: 'hasEntrySubnets', width: '7.4rem', isExtra: true },
  { field: 'perNodeLength', width: '7.8rem', isExtra: true },
  { field: 'isBuilt', width: '4.2rem', isExtra: true },
];

/** Stop 2: the clusters and what they need, with the consequences of the chosen one. */
export function DemandPage() {
  const { plan, session } = usePlan();
  const navigate = useNavigate();
  const [search, set] = useSearchState();
  const [isStarting, setStarting] = useState(false);
  const chosen = search.get('cluster') ?? plan.clusters[0]?.id;
  return (
    <Halves
      left={
        <>
          <EntitySheet
            kind="clusters"
            title="Clusters"
            fields={fields}
            empty="No clusters yet. Start quickly from a site and a size, enter one, or paste a list."
            head={<h1 className="heading">Demand</h1>}
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
      }
      right={chosen === undefined ? null : <ChosenCluster clusterId={chosen} />}
    />
  );
}

function ChosenCluster({ clusterId }: { readonly clusterId: string }) {
  const { session } = usePlan();
  const answer = useSlice(['cluster', clusterId], (core) => core.cluster(clusterId, []));
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
