import { nodePoolsOf } from '@wide-lattice/core/plan';
import type { Plan } from '@wide-lattice/core/plan';
import { formatNumber } from '@wide-lattice/core/working';
import { useId, useState, useSyncExternalStore } from 'react';
import { usePlan } from '../plan/PlanContext';
import { rebuildRequest } from '../plan/rebuildRequest';
import type { RebuildRequest } from '../plan/rebuildRequest';
import { DialogFoot } from '../shared/DialogFoot';
import { Modal } from '../shared/Modal';

/** Asks for the reason when an edit changes what is locked in a built cluster, with what a rebuild brings. */
export function RebuildDialog() {
  const request = useSyncExternalStore(rebuildRequest.subscribe, rebuildRequest.snapshot);
  return request === undefined ? null : <Asking key={request.label} request={request} />;
}

const MOST = 500;

function Asking({ request }: { readonly request: RebuildRequest }) {
  const { plan } = usePlan();
  const id = useId();
  const [reason, setReason] = useState('');
  return (
    <Modal
      title="This is a rebuild"
      description="What follows is locked while the cluster runs. It can only change by rebuilding the cluster."
      onClose={() => request.answer(undefined)}
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (reason.trim() !== '') request.answer(reason.trim());
        }}
      >
        {request.rebuilds.map((each) => (
          <Rebuilt key={each.clusterId} rebuild={each} plan={plan} />
        ))}
        <label htmlFor={id} className="block font-medium">
          Reason
        </label>
        <textarea
          id={id}
          // Typing begins here; otherwise a space would press the button that closes.
          autoFocus
          className="textarea w-full"
          rows={2}
          maxLength={MOST}
          value={reason}
          onChange={(event) => setReason(event.target.value)}
        />
        <p className="quiet text-xs">It goes into the ledger of locked decisions, with your name and the day.</p>
        <DialogFoot refused="" onLeave={() => request.answer(undefined)}>
          <button type="submit" className="btn btn-sm btn-primary" disabled={reason.trim() === ''}>
            Plan the rebuild
          </button>
        </DialogFoot>
      </form>
    </Modal>
  );
}

/** What is rebuilt of one cluster, and what that brings. */
function Rebuilt({
  rebuild: { clusterId, clusterName, changes },
  plan,
}: {
  readonly rebuild: RebuildRequest['rebuilds'][number];
  readonly plan: Plan;
}) {
  const nodes = nodePoolsOf(plan, clusterId).reduce(
    (sum, pool) => sum + (pool.kind === 'nodes' ? pool.nodesNow : 0),
    plan.clusters.find((cluster) => cluster.id === clusterId)?.nodesNow ?? 0,
  );
  return (
    <section className="mb-3" aria-label={`Rebuild of ${clusterName}`}>
      <h3 className="heading">{clusterName}</h3>
      <ul className="list-disc pl-5">
        {changes.map((change) => (
          <li key={change} className="font-semibold">
            {change}
          </li>
        ))}
        <li>A second cluster has to be built beside it, with ranges of its own, until everything has moved.</li>
        <li>Its {formatNumber(nodes)} worker nodes are replaced, and every workload is moved over.</li>
        <li>Whoever names its pods, services or API by address must learn the new ones.</li>
      </ul>
    </section>
  );
}
