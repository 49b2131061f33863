import { Printer } from 'lucide-react';
import { Link } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { Computing, Empty } from '../shared/Halves';
import { Sheet } from '../shared/Sheet';
import type { SheetColumn } from '../shared/sheetColumn';
import type { LockedDecision } from '../worker/slices/podNetwork';

const columns: readonly SheetColumn<LockedDecision>[] = [
  { id: 'cluster', label: 'Cluster', width: 'minmax(8rem, 1fr)', value: (row) => row.cluster },
  { id: 'decision', label: 'Decision', width: 'minmax(10rem, 1fr)', value: (row) => row.decision },
  { id: 'value', label: 'Locked at', width: 'minmax(10rem, 1fr)', isMono: true, value: (row) => row.value },
];

/** The decisions of built clusters that only a rebuild changes, and the rebuilds that were decided. */
export function LockedDecisions() {
  const { plan, session } = usePlan();
  const rows = useSlice('lockedDecisions');
  if (rows === undefined) return <Computing />;
  const rebuilds = plan.rebuilds.toSorted((a, b) => (a.decidedOn < b.decidedOn ? 1 : -1));
  return (
    <>
      <div className="rule-b flex items-center gap-3 px-4 py-1.5">
        <span className="quiet">Change one where it is decided: it becomes a rebuild with a reason.</span>
        <Link className="btn btn-sm btn-outline ml-auto" to={`/plans/${session.planId}/ledger`}>
          <Printer size={14} aria-hidden /> Ledger to print
        </Link>
      </div>
      <Sheet
        label="Locked decisions"
        columns={columns}
        rows={rows}
        idOf={(row) => row.id}
        empty={<Empty>Nothing is locked: no cluster is marked as built.</Empty>}
      />
      {rebuilds.length > 0 && (
        <section className="rule-t px-4 py-2" aria-label="Rebuilds">
          <h2 className="heading">Rebuilds decided: {rebuilds.length}</h2>
          <ul>
            {rebuilds.map(({ id, clusterId, what, reason, decidedOn, decidedBy }) => (
              <li key={id} className="rule-b py-1">
                <strong>{plan.clusters.find((cluster) => cluster.id === clusterId)?.name}</strong>: {what}.{' '}
                <span className="quiet">
                  {reason} {decidedBy}, {decidedOn}.
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}
