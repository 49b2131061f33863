import { formatNumber } from '@wide-lattice/core/working';
import { capacityFor, unevenness } from '@wide-lattice/core/load';
import { TableHead } from '../shared/TableHead';
import type { ShownTarget } from '../worker/slices/ingressSlices';

/** Pods are counted as full at this part of their capacity: beyond it waiting grows fast. Common practice. */
const MAX_USE = 0.75;

interface SurviveProps {
  readonly target: ShownTarget & { readonly ok: true };
  readonly perSecond: number;
}

/** Replicas that carry the rate, with every zone and with one lost; what the provider and sharing by node add to it. */
export function SurvivePart({
  target: { groups, zones, nodes: byCluster, via, mostMembers },
  perSecond,
}: SurviveProps) {
  const nodes = byCluster[groups[0]?.cluster ?? ''] ?? 0;
  const byNode = via.filter(({ isSharedByNode, pods }) => isSharedByNode && pods !== undefined && pods > 0);
  const assumed = groups.filter(({ isAssumed }) => isAssumed);
  return (
    <>
      <p className="quiet mb-1">
        Replicas for {formatNumber(perSecond)} per second at {100 * MAX_USE} % of what pods can work on at once
        (Little’s law: requests at once are rate times service time).
      </p>
      <table className="w-full" aria-label="Replicas needed">
        <TableHead labels={['Workload', 'Concurrent', 'Replicas', 'Needed', 'With a zone lost']} rightFrom={1} />
        <tbody>
          {groups.map((group) => (
            <NeededRow key={group.name} group={group} zones={zones.length} perSecond={perSecond} />
          ))}
        </tbody>
      </table>
      {assumed.length > 0 && (
        <p className="text-warning mt-1">
          The service time of {assumed.map(({ name }) => name).join(', ')} is not entered: {assumed[0]?.serviceMs} ms
          are taken.
        </p>
      )}
      {byNode.map(({ name, pods = 0 }) => (
        <p key={name} className="mt-1">
          Traffic to {name} is shared by node, not by pod: spread evenly, {pods} pods on {nodes} nodes, the busiest pod
          gets {unevenness(spreadOver(pods, nodes)).toLocaleString('en-US', { maximumFractionDigits: 2 })} times its
          even share; packed on as few nodes as the scheduler likes, more. Nodes without a pod count as unhealthy.
        </p>
      ))}
      {mostMembers !== undefined && (
        <p className="quiet mt-1">
          The load balancer has {nodes} nodes to call of at most {formatNumber(mostMembers)} members.
        </p>
      )}
    </>
  );
}

interface NeededRowProps {
  readonly group: SurviveProps['target']['groups'][number];
  /** How many zones its pods are in. */
  readonly zones: number;
  readonly perSecond: number;
}

/** The replicas of one workload against what its share of the rate needs. */
function NeededRow({ group: { name, share, serviceMs, concurrency, replicas }, zones, perSecond }: NeededRowProps) {
  const { asked, needed, neededWithoutZone } = capacityFor(
    perSecond * share,
    serviceMs,
    concurrency,
    replicas,
    zones,
    MAX_USE,
  );
  const isShort = replicas < (neededWithoutZone ?? needed);
  return (
    <tr className="rule-b">
      <th scope="row" className="py-0.5 pr-2 text-left font-normal">
        {name}
      </th>
      <td className="text-right">{asked.toLocaleString('en-US', { maximumFractionDigits: 1 })}</td>
      <td className={`text-right ${isShort ? 'text-error font-semibold' : ''}`}>{replicas}</td>
      <td className="text-right">{needed}</td>
      <td className="text-right">{neededWithoutZone ?? 'one zone only'}</td>
    </tr>
  );
}

/** Pods on nodes as evenly as it goes. */
function spreadOver(pods: number, nodes: number): number[] {
  const count = Math.max(1, Math.min(pods, nodes));
  return Array.from({ length: count }, (_, i) => Math.floor(pods / count) + (i < pods % count ? 1 : 0));
}
