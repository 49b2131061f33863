import { formatNumber } from '@wide-lattice/core/working';
import type { NoRoom, PlacementCase } from '@wide-lattice/core/ingress';
import { setOperation } from '@wide-lattice/core/plan';
import { CircleCheck, OctagonX } from 'lucide-react';
import { toast } from 'sonner';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';

const caseNames: Readonly<Record<PlacementCase, (zone: string) => string>> = {
  now: () => 'Today',
  horizon: () => 'At the horizon',
  'zone lost': (zone) => (zone === '' ? 'Its only zone lost' : `Zone ${zone} lost`),
  upgrade: () => 'Node drained',
};

const lackNames: Readonly<Record<NoRoom, string>> = {
  'no such node': 'no node it may run on',
  zone: 'its zone is full, another is not',
  'pods per node': 'pods per node',
  CPU: 'CPU',
  memory: 'memory',
};

interface PerNodeProps {
  readonly clusterId: string;
  readonly derived: number;
  readonly estimate: number;
}

/** The estimate of pods per node beside what the workloads come to; it can follow them. */
function PerNode({ clusterId, derived, estimate }: PerNodeProps) {
  const commit = useCommit();
  const follow = async () => {
    const problem = await commit('Let pods per node follow from workloads', [
      setOperation('clusters', clusterId, { podsPerNode: derived }),
    ]);
    if (problem === '') toast.success('Pods per node follow from the workloads.');
    else toast.error(problem);
  };
  return (
    <p className="mt-1.5">
      Its workloads come to {formatNumber(derived)} pods per node at the horizon; the estimate at Demand is{' '}
      {formatNumber(estimate)}.{' '}
      {derived !== estimate && (
        <button type="button" className="btn btn-xs btn-outline" onClick={() => void follow()}>
          Use {formatNumber(derived)}
        </button>
      )}
    </p>
  );
}

/** Whether the pods of a cluster find room on its nodes: today, later, with a zone lost, during an upgrade. */
export function RoomPart({ clusterId }: { readonly clusterId: string }) {
  const room = useSlice('roomOnNodes', clusterId);
  if (room === undefined) return null;
  const short = room.workloads.flatMap((workload) => workload.short.map((each) => ({ workload, ...each })));
  const title = `Room on the nodes of ${room.clusterName}`;
  return (
    <Part title={title}>
      <table className="w-full" aria-label={title}>
        <TableHead labels={['Case', 'Pods', 'Nodes', 'CPU', 'Memory', 'Places']} rightFrom={2} />
        <tbody>
          {room.cases.map((each) => (
            <tr key={each.case} className="rule-b">
              <th scope="row" className="py-0.5 pr-2 text-left font-normal whitespace-nowrap">
                {caseNames[each.case](each.zone)}
              </th>
              <td>
                <Found missing={each.missing} />
              </td>
              <td className="pl-3 text-right">{formatNumber(each.nodes)}</td>
              {[each.cpu, each.memory, each.pods].map((share, i) => (
                <td key={i} className="pl-3 text-right whitespace-nowrap">
                  {share === undefined ? (
                    <span className="quiet" title={each.nodes === 0 ? 'no nodes' : 'machine shape not known'}>
                      –
                    </span>
                  ) : (
                    formatShare(share)
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {room.podsPerNode !== undefined && (
        <PerNode clusterId={clusterId} derived={room.podsPerNode} estimate={room.estimate} />
      )}
      {short.length > 0 && (
        <ul className="mt-2" aria-label="Workloads without room">
          {short.map(({ workload, ...each }) => (
            <li key={`${workload.id} ${each.case}`} className="py-0.5">
              <span className="font-semibold">{workload.name}</span>: {formatNumber(each.placed)} of{' '}
              {formatNumber(each.wanted)} find room{' '}
              <span className="quiet">
                ({caseNames[each.case](room.cases.find((of) => of.case === each.case)?.zone ?? '')};{' '}
                {each.lacks === undefined ? '' : `lacks: ${lackNames[each.lacks]}`})
              </span>
            </li>
          ))}
        </ul>
      )}
      <p className="quiet mt-2">
        Shares of what the nodes have that the pods with room ask for. What the system keeps of a machine for itself is
        not taken off.
      </p>
    </Part>
  );
}

function Found({ missing }: { readonly missing: number }) {
  return missing === 0 ? (
    <span className="inline-flex items-center gap-1">
      <CircleCheck size={13} className="text-success" aria-hidden /> all
    </span>
  ) : (
    <span className="text-error inline-flex items-center gap-1 font-semibold whitespace-nowrap">
      <OctagonX size={13} aria-hidden /> {formatNumber(missing)} without room
    </span>
  );
}

function formatShare(share: number): string {
  return share > 0 && share < 1 ? '< 1 %' : `${share.toFixed(0)} %`;
}
