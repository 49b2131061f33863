import type { NodePool } from '@wide-lattice/core/plan';
import { Link } from 'react-router';
import { usePlan } from '../plan/PlanContext';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';

/** The cluster's node pools at a glance; they are edited in their sheet. */
export function NodePoolsPart({ clusterId, name }: { readonly clusterId: string; readonly name: string }) {
  const { plan, session } = usePlan();
  const pools = plan.nodePools.filter((pool) => pool.clusterId === clusterId);
  const sheet = `/plans/${session.planId}/demand?show=nodePools&cluster=${clusterId}${pools.length === 0 ? '' : `&filter=${encodeURIComponent(name)}`}`;
  return (
    <Part
      title={`Node pools: ${pools.length}`}
      aside={
        <Link className="btn btn-sm btn-outline" to={sheet}>
          {pools.length === 0 ? 'Add a node pool' : 'Edit node pools'}
        </Link>
      }
    >
      {pools.length === 0 ? (
        <p className="quiet">
          All its nodes are alike. A node pool has other machines, other zones or scale of its own, or pods without
          nodes.
        </p>
      ) : (
        <table className="w-full" aria-label="Node pools">
          <TableHead labels={['Pool', 'Machines', 'Zones', 'Now', 'Scales', 'At horizon']} rightFrom={3} />
          <tbody>
            {pools.map((pool) => (
              <Row key={pool.id} pool={pool} />
            ))}
          </tbody>
        </table>
      )}
    </Part>
  );
}

function Row({ pool }: { readonly pool: NodePool }) {
  const { plan } = usePlan();
  const shape = plan.shapes.find(({ id }) => id === pool.shapeId)?.name ?? 'as the cluster';
  return (
    <tr className="rule-b">
      <th scope="row" className="py-0.5 text-left font-normal">
        {pool.name} {pool.taints.length > 0 && <span className="quiet">tainted</span>}
      </th>
      <td>{pool.kind === 'pods' ? 'pods without nodes' : `${shape}${pool.isPublic ? ', public' : ''}`}</td>
      <td>{pool.zones.length === 0 ? 'all' : pool.zones.join(', ')}</td>
      <td className="text-right">{pool.nodesNow}</td>
      <td className="text-right">
        {pool.nodesMin} to {pool.nodesMax}
      </td>
      <td className="text-right">{pool.nodesHorizon}</td>
    </tr>
  );
}
