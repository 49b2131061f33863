import type { Subject } from '../road/index.js';
import { addressFaults, daemonPods, missing, nodePortFaults, placements } from '../ingress/index.js';
import type { AddressFault, NoRoom, Placement } from '../ingress/index.js';
import { answering, grouped, nodePoolsOf, rangeOf, selectedBy, setOperation } from '../plan/index.js';
import type { Allocation, NodePool, Plan, ClusterService, Workload } from '../plan/index.js';
import { bySubject, groupsIn, ownersIn, together, valuesIn } from '../section/index.js';
import { demand as sizings, rangesByCluster } from '../sizing/index.js';
import type { Sizing } from '../sizing/index.js';
import { sayNumber } from '../working/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Workloads without room, and services that nobody answers or whose fixed addresses and ports cannot be theirs. */
export const ingressFindings = bySubject({
  name: 'workloads and services by cluster',
  reads: ['workloads', 'services', 'nodePools'],
  needs: { demand: sizings, ranges: rangesByCluster },
  subjects: (_, { demand }) => demand.items,
  rests: ({ id }, parts, { demand, ranges }) => {
    const [workloads, services] = offeredBy(parts, id);
    if (workloads.length + services.length === 0) return [];
    return [demand.of(id), ...workloads, ...services, ...nodePoolsOf(parts, id), ...(ranges.get(id) ?? [])];
  },
  near: (was, is) =>
    together(
      valuesIn(was.needed.demand, is.needed.demand),
      ownersIn(was.parts, is.parts, ['workloads', 'services', 'nodePools']),
      groupsIn(was.needed.ranges, is.needed.ranges),
    ),
  look: ({ id }, parts, { demand, ranges }): readonly Finding[] => {
    const [workloads, services] = offeredBy(parts, id);
    const sizing = demand.of(id);
    if (sizing === undefined || workloads.length + services.length === 0) return [];
    return [
      ...roomFindings(sizing, workloads, nodePoolsOf(parts, id)),
      ...workloads.flatMap((workload) => daemonFindings(workload, sizing, parts)),
      ...services.flatMap((service) => serviceFindings(service, sizing, workloads, services, ranges.get(id) ?? [])),
    ];
  },
});

function offeredBy({ workloads, services }: Pick<Plan, 'workloads' | 'services'>, clusterId: string) {
  return [
    grouped(workloads, 'clusterId').get(clusterId) ?? [],
    grouped(services, 'clusterId').get(clusterId) ?? [],
  ] as const;
}

const caseWords: Readonly<Record<Placement['case'], (zone: string) => string>> = {
  now: () => 'today',
  horizon: () => 'at the horizon',
  'zone lost': (zone) => `while zone ${zone} is lost`,
  upgrade: () => 'while an upgrade drains a node',
};

const lackWords: Readonly<Record<NoRoom, string>> = {
  'no such node': 'there is no node that it may run on, by its node pool, its labels and their taints',
  zone: 'its own zone is full, though another is not: spread anywhere it would find room',
  'pods per node': 'every node already runs as many pods as it may',
  CPU: 'no node has enough CPU left',
  memory: 'no node has enough memory left',
};

function roomFindings(sizing: Sizing, workloads: readonly Workload[], pools: readonly NodePool[]): Finding[] {
  let last = 0;
  // What has no room today has none in the other cases either, and is said once.
  return placements(sizing, workloads, pools).flatMap((placement) => {
    const gone = missing(placement);
    // A cluster in one zone goes with it, as its site was chosen.
    const isOfSite = placement.case === 'zone lost' && sizing.zones.length < 2;
    const isNews = placement.case === 'now' || (gone > last && !isOfSite);
    if (placement.case === 'now') last = gone;
    if (gone === 0 || !isNews) return [];
    const first = placement.workloads.find(({ placed, wanted }) => placed < wanted);
    if (first === undefined) return [];
    const { workload, wanted, placed, lacks } = first;
    const when = caseWords[placement.case](placement.zone);
    return [
      finding(
        placement.case === 'zone lost' ? 'workload.zone-lost' : 'workload.no-room',
        placement.case === 'now' ? 'error' : 'warning',
        [
          { kind: 'workloads', id: workload.id },
          { kind: 'clusters', id: sizing.cluster.id },
        ],
        {
          title: `${sizing.cluster.name}: ${sayNumber(gone)} ${gone === 1 ? 'pod finds' : 'pods find'} no room ${when}`,
          detail: [
            `Of ${workload.namespace}/${workload.name} ${sayNumber(placed)} of ${sayNumber(wanted)} pods find room:`,
            `${lacks === undefined ? '' : lackWords[lacks]}. Add nodes, ask for less, or run fewer pods.`,
          ].join(' '),
          part: `${sizing.cluster.id} ${placement.case}`,
        },
      ),
    ];
  });
}

/** One pod on each node that may run it, whatever was entered. Source: Kubernetes API, DaemonSet v1. */
function daemonFindings(workload: Workload, { cluster }: Sizing, { nodePools }: Pick<Plan, 'nodePools'>): Finding[] {
  if (workload.form !== 'DaemonSet') return [];
  const pods = daemonPods({ clusters: [cluster], nodePools }, workload);
  const { replicasNow, replicasHorizon } = workload;
  if (pods.replicasNow === replicasNow && pods.replicasHorizon === replicasHorizon) return [];
  const say = (now: number, horizon: number) => `${sayNumber(now)} today and ${sayNumber(horizon)} at the horizon`;
  return [
    finding(
      'workload.daemon-pods',
      'warning',
      [
        { kind: 'workloads', id: workload.id },
        { kind: 'clusters', id: cluster.id },
      ],
      {
        title: `${cluster.name}: ${workload.namespace}/${workload.name} runs on each node, and its pods are counted otherwise`,
        detail: [
          `A DaemonSet has one pod on each node that may run it: ${say(pods.replicasNow, pods.replicasHorizon)}.`,
          `The plan says ${say(replicasNow, replicasHorizon)}.`,
        ].join(' '),
      },
      [
        {
          kind: 'change',
          title: 'Take its pods from the nodes',
          operations: [setOperation('workloads', workload.id, pods)],
        },
      ],
    ),
  ];
}

function serviceFindings(
  service: ClusterService,
  { cluster, zones }: Sizing,
  workloads: readonly Workload[],
  services: readonly ClusterService[],
  ranges: readonly Allocation[],
): Finding[] {
  const name = `${cluster.name}: service ${service.namespace}/${service.name}`;
  const subjects = [
    { kind: 'services', id: service.id },
    { kind: 'clusters', id: cluster.id },
  ] as const;
  const selected = selectedBy(service, workloads);
  const found: Finding[] = [];
  if (service.selector.length > 0 && selected.length === 0)
    found.push(
      finding('service.nobody', 'warning', subjects, {
        title: `${name} selects no pods`,
        detail: `No workload of the namespace ${service.namespace} has the labels ${service.selector.join(', ')}. Until one has, nothing answers.`,
      }),
    );
  found.push(...closedPorts(service, name, subjects, workloads));
  const isFromOutside = service.type === 'LoadBalancer' || service.type === 'NodePort';
  const pods = selected.reduce((sum, { replicasNow }) => sum + replicasNow, 0);
  if (isFromOutside && pods === 1)
    found.push(
      finding('service.single', 'warning', subjects, {
        title: `${name} has only one pod`,
        detail: [
          `When that pod${zones.length > 1 ? ', its node or its zone' : ' or its node'} is gone, nothing answers from outside.`,
          'Two or more replicas keep it up.',
        ].join(' '),
      }),
    );
  const serviceRanges = ranges.filter(({ purpose }) => purpose === 'service').map(rangeOf);
  const say = (code: string, faults: readonly AddressFault[]) =>
    faults.map(({ isBroken, title, detail }) =>
      finding(code, isBroken ? 'error' : 'warning', subjects, {
        title: `${name}: ${title}`,
        detail,
        part: `${service.id} ${title}`,
      }),
    );
  return [
    ...found,
    ...say('service.address', addressFaults(service, serviceRanges, services)),
    ...say('service.node-port', nodePortFaults(service, services)),
  ];
}

/** Ports of a service that lead to a container port which a workload behind it does not have. */
function closedPorts(
  service: ClusterService,
  name: string,
  subjects: readonly Subject[],
  workloads: readonly Workload[],
): Finding[] {
  return answering(service, workloads).flatMap(({ port, members }): Finding[] => {
    const first = members.find((member) => member.port === undefined);
    if (first === undefined) return [];
    const open = first.workload.ports.join(', ');
    return [
      finding('service.closed', 'error', subjects, {
        title: `${name} sends ${port.protocol} ${port.port} to a port on which nothing listens`,
        detail: [
          `${first.workload.name} has no container port ${port.target} over ${port.protocol};`,
          `it has ${open === '' ? 'none with a name' : open}. Calls that reach its pods are refused.`,
        ].join(' '),
        part: `${service.id} ${port.protocol} ${port.port}`,
      }),
    ];
  });
}
