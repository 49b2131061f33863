import { kindNames, removalOf } from '@wide-lattice/core';
import type { Cluster } from '@wide-lattice/core';
import { FileUp, Plus } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { EntityForm } from '../shared/EntityForm';
import { fieldColumn } from '../shared/entityColumns';
import { Empty, Halves } from '../shared/Halves';
import { ImportDialog } from '../shared/ImportDialog';
import { Sheet } from '../shared/Sheet';
import { useSearchState } from '../shared/useSearchState';
import { Consequences } from './Consequences';

const fields = [
  ['name', 'minmax(9rem, 1.4fr)', 'Name'],
  ['siteId', 'minmax(7rem, 1fr)', 'Site'],
  ['networkId', 'minmax(6rem, 0.8fr)', 'Network'],
  ['podMode', '5.5rem', 'Pods by'],
  ['nodesNow', '6.2rem', 'Nodes now'],
  ['nodesHorizon', '6.4rem', 'At horizon'],
  ['podsPerNode', '6.8rem', 'Pods a node'],
  ['services', '5.4rem', 'Services'],
] as const;

/** Stop 2: the clusters and what they need, with the consequences of the chosen one. */
export function DemandPage() {
  const { plan, session } = usePlan();
  const commit = useCommit();
  const navigate = useNavigate();
  const [search, set] = useSearchState();
  const [dialog, setDialog] = useState<'add' | 'import'>();
  const [pasted, setPasted] = useState('');
  const filter = search.get('filter') ?? '';
  const chosen = search.get('cluster') ?? plan.clusters[0]?.id;
  const columns = useMemo(
    () =>
      fields.map(([field, width, label]) =>
        fieldColumn(plan, commit, 'clusters', field, (row: Cluster) => row, { width, label }),
      ),
    [plan, commit],
  );
  const remove = async (cluster: Cluster) => {
    const problem = await commit(
      `Remove ${kindNames.clusters} ${cluster.name}`,
      removalOf(plan, 'clusters', cluster.id),
    );
    if (problem !== '') toast.error(problem);
  };
  return (
    <Halves
      left={
        <>
          <div className="rule-b flex items-center gap-2 px-4 py-1.5">
            <h1 className="heading">Demand</h1>
            <input
              className="input input-sm ml-auto w-44"
              placeholder="Filter"
              aria-label="Filter clusters"
              value={filter}
              onChange={(event) => set({ filter: event.target.value })}
            />
            <button type="button" className="btn btn-sm btn-outline" onClick={() => setDialog('import')}>
              <FileUp size={14} aria-hidden /> Import
            </button>
            <button type="button" className="btn btn-sm btn-primary" onClick={() => setDialog('add')}>
              <Plus size={14} aria-hidden /> Add
            </button>
          </div>
          <Sheet
            label="Clusters"
            columns={columns}
            rows={plan.clusters}
            idOf={(row) => row.id}
            filter={filter}
            selectedId={chosen}
            onSelect={(row) => set({ cluster: row.id })}
            onOpen={(row) => void navigate(`/plans/${session.planId}/clusters/${row.id}`)}
            onRemove={(row) => void remove(row)}
            onPasteRows={(text) => {
              setPasted(text);
              setDialog('import');
            }}
            empty={
              filter !== '' ? undefined : (
                <Empty
                  action={
                    <button type="button" className="btn btn-sm btn-primary" onClick={() => setDialog('add')}>
                      Add a cluster
                    </button>
                  }
                >
                  No clusters yet. Add one, or paste a list with its column names.
                </Empty>
              )
            }
          />
          {dialog === 'add' && (
            <EntityForm kind="clusters" onClose={() => setDialog(undefined)} onAdded={(id) => set({ cluster: id })} />
          )}
          {dialog === 'import' && (
            <ImportDialog
              kind="clusters"
              initialText={pasted}
              onClose={() => {
                setPasted('');
                setDialog(undefined);
              }}
            />
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
  if (answer?.sheet === undefined) return null;
  return (
    <>
      <div className="rule-b flex items-center justify-between px-4 py-1.5">
        <span className="heading">{answer.sheet.cluster.name}</span>
        <Link className="btn btn-sm btn-outline" to={`/plans/${session.planId}/clusters/${clusterId}`}>
          Open the cluster
        </Link>
      </div>
      <Consequences sheet={answer.sheet} />
    </>
  );
}
