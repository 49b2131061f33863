import { formatPrefix } from '@wide-lattice/core/address';
import { answering, missing, placements, selectedBy } from '@wide-lattice/core/ingress';
import type { NoRoom, PlacementCase } from '@wide-lattice/core/ingress';
import { byId, grouped, rangeOf } from '@wide-lattice/core/plan';
import { demand, serviceBands } from '@wide-lattice/core/sizing';
import type { SliceHost } from '../sliceHost';

/** One port of a service and who answers there, as it is shown. */
interface ShownDoor {
  readonly port: string;
  readonly nodePort: string;
  readonly members: readonly {
    readonly workloadId: string;
    readonly name: string;
    readonly pods: number;
    /** Of each 100 calls, by pods; where nobody listens they are refused. */
    readonly share: number;
    readonly port: number | undefined;
  }[];
}

/** Who answers at a service. */
export interface ShownService {
  readonly name: string;
  readonly clusterName: string;
  readonly address: string;
  readonly doors: readonly ShownDoor[];
}

/** The workloads of a cluster on its nodes, case by case. */
export interface ShownRoom {
  readonly clusterId: string;
  readonly clusterName: string;
  readonly cases: readonly {
    readonly case: PlacementCase;
    readonly zone: string;
    readonly nodes: number;
    readonly missing: number;
    /** Shares of what the nodes have that is asked for, in percent; undefined where the machine shape is not known. */
    readonly cpu: number | undefined;
    readonly memory: number | undefined;
    readonly pods: number | undefined;
  }[];
  /** Workloads by the cases in which pods of theirs find no room. */
  readonly workloads: readonly {
    readonly id: string;
    readonly name: string;
    readonly pods: number;
    readonly short: readonly { readonly case: PlacementCase; readonly placed: number; readonly wanted: number; readonly lacks: NoRoom | undefined }[]; // prettier-ignore
  }[];
}

/** Workloads, services and who answers at them. */
export const ingressSlices = {
  serviceDoors: ({ plan }: SliceHost, id: string): ShownService | undefined => {
    const service = byId(plan.services, id);
    const cluster = byId(plan.clusters, service?.clusterId ?? '');
    if (service === undefined || cluster === undefined) return undefined;
    const ranges = (grouped(plan.allocations, 'clusterId').get(cluster.id) ?? []).filter(({ purpose }) => purpose === 'service'); // prettier-ignore
    return {
      name: `${service.namespace}/${service.name}`,
      clusterName: cluster.name,
      address: addressOf(service, ranges.map(rangeOf)),
      doors: answering(service, plan.workloads).map(({ port, members }): ShownDoor => {
        const pods = members.reduce((sum, { workload }) => sum + workload.replicasNow, 0);
        return {
          port: `${port.protocol} ${port.port}`,
          nodePort: nodePortOf(service.type, port.nodePort),
          members: members.map(({ workload, port: open }) => ({
            workloadId: workload.id,
            name: workload.name,
            pods: workload.replicasNow,
            share: pods === 0 ? 0 : (100 * workload.replicasNow) / pods,
            port: open,
          })),
        };
      }),
    };
  },
  /** The services that select a workload, by id and name. */
  selecting: ({ plan }: SliceHost, workloadId: string) =>
    plan.services.flatMap((service) =>
      selectedBy(service, plan.workloads).some(({ id }) => id === workloadId)
        ? [{ id: service.id, name: `${service.namespace}/${service.name}`, type: service.type }]
        : [],
    ),
  roomOnNodes: ({ plan, evaluation }: SliceHost, clusterId: string): ShownRoom | undefined => {
    const sizing = evaluation.ask(demand).of(clusterId);
    const workloads = grouped(plan.workloads, 'clusterId').get(clusterId) ?? [];
    if (sizing === undefined || workloads.length === 0) return undefined;
    const all = placements(sizing, workloads, plan.nodePools);
    const share = (asked: number, held: number) => (held === 0 ? undefined : (100 * asked) / held);
    return {
      clusterId,
      clusterName: sizing.cluster.name,
      cases: all.map((placement) => ({
        case: placement.case,
        zone: placement.zone,
        nodes: placement.nodes,
        missing: missing(placement),
        cpu: share(placement.asked.cpu, placement.held.cpu),
        memory: share(placement.asked.memory, placement.held.memory),
        pods: share(placement.asked.pods, placement.held.pods),
      })),
      workloads: workloads.map(({ id, namespace, name, replicasNow }) => ({
        id,
        name: `${namespace}/${name}`,
        pods: replicasNow,
        short: all.flatMap((placement) =>
          placement.workloads.flatMap(({ workload, placed, wanted, lacks }) =>
            workload.id === id && placed < wanted ? [{ case: placement.case, placed, wanted, lacks }] : [],
          ),
        ),
      })),
    };
  },
};

function addressOf(
  {
    type,
    address,
    externalName,
  }: { readonly type: string; readonly address: string | null; readonly externalName: string },
  ranges: readonly ReturnType<typeof rangeOf>[],
): string {
  if (type === 'ExternalName') return `stands for ${externalName}`;
  if (type === 'headless') return 'none: its name gives the addresses of its pods';
  const [range] = ranges;
  if (range === undefined) return address ?? 'given once the cluster has a service range';
  const bands = serviceBands(range);
  return address === null
    ? `given by the cluster from ${formatPrefix(range)}, above ${bands?.staticLast ?? ''}`
    : `${address}, fixed, of ${formatPrefix(range)}`;
}

function nodePortOf(type: string, nodePort: number | undefined): string {
  if (nodePort !== undefined) return String(nodePort);
  return type === 'NodePort' || type === 'LoadBalancer' ? 'given' : '';
}
