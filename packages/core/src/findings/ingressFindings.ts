import type { Subject } from '../road/index.js';
import { addressFaults, daemonPods, fitsSurely, missing, nodePortFaults, placements } from '../ingress/index.js';
import type { Prefix } from '../address/index.js';
import { grouped, nodePoolsOf, portsAnswered, rangeOf, selectedBy, setOperation } from '../plan/index.js';
import type { NodePool, Plan, ClusterService, Workload } from '../plan/index.js';
import { bySubject, groupsIn, ownersIn, together, valuesIn } from '../section/index.js';
import { demand as sizings, rangesByCluster } from '../sizing/index.js';
import type { Sizing } from '../sizing/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';

/** Workloads without room, and services that nobody answers or whose fixed addresses and ports cannot be theirs. */
export const ingressFindings = bySubject({
  name: 'workload findings',
  reads: ['workloads', 'services', 'nodePools'],
  needs: { demand: sizings, ranges: rangesByCluster },
  subjects: (_, { demand }) => demand.items,
  dependsOn: ({ id }, parts, { demand, ranges }) => {
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
    const serviceRanges = (ranges.get(id) ?? []).filter(({ purpose }) => purpose === 'service').map(rangeOf);
    return [
      ...roomFindings(sizing, workloads, nodePoolsOf(parts, id)),
      ...workloads.flatMap((workload) => daemonFindings(workload, sizing, parts)),
      ...services.flatMap((service) => serviceFindings(service, sizing, workloads, services, serviceRanges)),
    ];
  },
});

function offeredBy({ workloads, services }: Pick<Plan, 'workloads' | 'services'>, clusterId: string) {
  return [
    grouped(workloads, 'clusterId').get(clusterId) ?? [],
    grouped(services, 'clusterId').get(clusterId) ?? [],
  ] as const;
}

function roomFindings(sizing: Sizing, workloads: readonly Workload[], pools: readonly NodePool[]): Finding[] {
  if (fitsSurely(sizing, workloads, pools)) return [];
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
    return [
      finding(
        placement.case === 'zone lost' ? 'workload.zone-lost' : 'workload.no-room',
        placement.case === 'now' ? 'error' : 'warning',
        [
          { kind: 'workloads', id: workload.id },
          { kind: 'clusters', id: sizing.cluster.id },
        ],
        {
          cluster: sizing.cluster.name,
          pods: gone,
          case: placement.case,
          zone: placement.zone,
          workload: `${workload.namespace}/${workload.name}`,
          placed,
          wanted,
          lack: lacks,
        },
        { part: `${sizing.cluster.id} ${placement.case}` },
      ),
    ];
  });
}

/** One pod on each node that may run it, whatever was entered. Source: Kubernetes API, DaemonSet v1. */
function daemonFindings(workload: Workload, { cluster }: Sizing, { nodePools }: Pick<Plan, 'nodePools'>): Finding[] {
  if (workload.objectKind !== 'DaemonSet') return [];
  const pods = daemonPods({ clusters: [cluster], nodePools }, workload);
  const { replicasNow, replicasHorizon } = workload;
  if (pods.replicasNow === replicasNow && pods.replicasHorizon === replicasHorizon) return [];
  return [
    finding(
      'workload.daemon-pods',
      'warning',
      [
        { kind: 'workloads', id: workload.id },
        { kind: 'clusters', id: cluster.id },
      ],
      {
        cluster: cluster.name,
        workload: `${workload.namespace}/${workload.name}`,
        nodes: { today: pods.replicasNow, horizon: pods.replicasHorizon },
        planned: { today: replicasNow, horizon: replicasHorizon },
      },
      {
        fixes: [
          {
            kind: 'change',
            offer: { code: 'workload.pods' },
            operations: [setOperation('workloads', workload.id, pods)],
          },
        ],
      },
    ),
  ];
}

function serviceFindings(
  service: ClusterService,
  { cluster, zones }: Sizing,
  workloads: readonly Workload[],
  services: readonly ClusterService[],
  serviceRanges: readonly Prefix[],
): Finding[] {
  const of = { cluster: cluster.name, service: `${service.namespace}/${service.name}` };
  const subjects = [
    { kind: 'services', id: service.id },
    { kind: 'clusters', id: cluster.id },
  ] as const;
  const selected = selectedBy(service, workloads);
  const found: Finding[] = [];
  if (service.selector.length > 0 && selected.length === 0)
    found.push(
      finding('service.nobody', 'warning', subjects, {
        ...of,
        namespace: service.namespace,
        selector: service.selector,
      }),
    );
  found.push(...closedPorts(service, of, subjects, selected));
  const isFromOutside = service.type === 'LoadBalancer' || service.type === 'NodePort';
  const pods = selected.reduce((sum, { replicasNow }) => sum + replicasNow, 0);
  if (isFromOutside && pods === 1)
    found.push(finding('service.single', 'warning', subjects, { ...of, zones: zones.length }));
  for (const { isBroken, code, fact } of [
    ...addressFaults(service, serviceRanges, services),
    ...nodePortFaults(service, services),
  ])
    found.push(
      finding(
        code,
        isBroken ? 'error' : 'warning',
        subjects,
        { ...of, ...fact },
        { part: `${service.id} ${code} ${'address' in fact ? fact.address : fact.nodePort}` },
      ),
    );
  return found;
}

/** Ports of a service that lead to a container port which a workload behind it does not have. */
function closedPorts(
  service: ClusterService,
  of: { readonly cluster: string; readonly service: string },
  subjects: readonly Subject[],
  selected: readonly Workload[],
): Finding[] {
  return portsAnswered(service, selected).flatMap(({ port, members }): Finding[] => {
    const first = members.find((member) => member.port === undefined);
    if (first === undefined) return [];
    return [
      finding(
        'service.closed',
        'error',
        subjects,
        {
          ...of,
          protocol: port.protocol,
          port: port.port,
          workload: first.workload.name,
          target: port.target,
          open: first.workload.ports,
        },
        { part: `${service.id} ${port.protocol} ${port.port}` },
      ),
    ];
  });
}
