import { formatFinding } from '../english/index.js';
import type { FindingCode, FindingFact, FullThing, Names } from '../english/index.js';
import type { Finding } from '../findings/index.js';
import { addTo, byId, grouped, rangeOf } from '../plan/index.js';
import type { Kind, Plan } from '../plan/index.js';
import { usableAddresses } from '../sizing/index.js';
import { partKey } from './clusterParts.js';
import type { NodesOf } from './entryWaits.js';
import type { ConditionType, Graph } from './graph.js';
import { keyOf } from './planObjects.js';

/** The condition that never comes true of what a finding is first about. What a note says stops nothing: the plan only does not say it yet. */
const stops: Partial<Readonly<Record<FindingCode, ConditionType>>> = {
  'backend.opening': 'Healthy',
  'backend.port': 'Healthy',
  'backend.unreached': 'Healthy',
  'balancer.placement': 'Programmed',
  'block.size': 'Ready',
  'certificate.caa': 'Ready',
  'certificate.expired': 'Ready',
  'connection.closed': 'Established',
  'connection.down': 'Established',
  'connection.no-dial': 'Established',
  'connection.no-hub': 'Established',
  'connection.overlap': 'Established',
  'entry.class': 'Accepted',
  'entry.grant': 'ResolvedRefs',
  'entry.no-port': 'ResolvedRefs',
  'entry.no-service': 'ResolvedRefs',
  'entry.unattached': 'Accepted',
  'export.no-service': 'Imported',
  'gateway.outside': 'Ready',
  'listener.certificate': 'Programmed',
  'pods.native-not-offered': 'Available',
  'range.missing': 'Available',
  'record.alias-apex': 'Published',
  'record.alias-beside': 'Published',
  'service.no-balancer': 'EndpointsReady',
  'service.nobody': 'EndpointsReady',
  'subnet.scope': 'Ready',
  'subnet.size': 'Ready',
  'workload.no-room': 'Available',
};

/** Findings by what they are about. */
export class FindingsBySubject {
  private readonly all = new Map<string, Finding[]>();

  constructor(readonly found: readonly Finding[]) {
    for (const finding of found) for (const { kind, id } of finding.subjects) addTo(this.all, keyOf(kind, id), finding);
  }

  /** Those about one entity. */
  of(kind: Kind, id: string): readonly Finding[] {
    return this.all.get(keyOf(kind, id)) ?? [];
  }
}

/** Has every step that a finding rules out never come to be. */
export function refuseByFindings(graph: Graph, names: Names, { found }: FindingsBySubject): void {
  for (const { key, code, subjects, fact } of found) {
    const condition = stops[code];
    const [first] = subjects;
    if (condition === undefined || first === undefined) continue;
    // Room that lacks at the horizon, in an upgrade or without a zone stops nothing that comes up.
    if (fact.code === 'workload.no-room' && fact.case !== 'now') continue;
    // What renews itself is issued anew whatever day the plan says.
    if (fact.code === 'certificate.expired' && fact.renewsItself) continue;
    const own = code === 'pods.native-not-offered' ? partKey.podNetwork(first.id) : keyOf(first.kind, first.id);
    graph.refuse(graph.taskOf(own, condition), {
      why: 'finding',
      key,
      code,
      title: formatFinding(names, fact).title,
    });
  }
}

/** The findings of one code with their facts. */
function factsOf<Code extends FindingCode>(found: readonly Finding[], code: Code) {
  return found.flatMap(({ key, subjects, fact }) => {
    const [subject] = subjects;
    if (fact.code !== code || subject === undefined) return [];
    return [{ key, id: subject.id, fact: fact as Extract<FindingFact, { readonly code: Code }> }];
  });
}

/** Adds what runs out: quotas and tables that findings call too small, and subnets by their addresses. */
export class Stores {
  constructor(
    private readonly graph: Graph,
    private readonly plan: Plan,
    private readonly found: readonly Finding[],
    private readonly nodesOf: NodesOf,
  ) {}

  /** Adds all of them. */
  add(): void {
    this.clustersAtSites();
    this.peerings();
    this.tables();
    this.subnets();
  }

  private store(of: FullThing, name: string, holds: number, key: string, tasks: readonly (number | undefined)[]): void {
    const store = this.graph.addStore({ of, name, holds, key });
    for (const task of tasks) this.graph.take(task, store);
  }

  private clustersAtSites(): void {
    const { graph, plan, found } = this;
    const clusters = grouped(plan.clusters, 'siteId');
    for (const { key, id, fact } of factsOf(found, 'clusters.over-quota')) {
      const first = (clusterId: string) =>
        graph.object(partKey.address(clusterId))?.first ?? graph.object(keyOf('clusters', clusterId))?.first;
      const tasks = (clusters.get(id) ?? []).map((cluster) => first(cluster.id));
      this.store('clusters at a site', fact.site, fact.quota, key, tasks);
    }
  }

  private peerings(): void {
    const { graph, plan, found } = this;
    for (const { key, id, fact } of factsOf(found, 'peerings.over-quota')) {
      const own = plan.links.filter(({ kind, networkIds }) => kind === 'peering' && networkIds.includes(id));
      this.store(
        'peerings of a network',
        fact.network,
        fact.quota,
        key,
        own.map((link) => graph.taskOf(keyOf('links', link.id))),
      );
    }
  }

  /** Routes that are typed, and one for each node of a cluster with routed pods; what is local or learned is there from the beginning. */
  private tables(): void {
    const { graph, plan, found } = this;
    for (const { key, id, fact } of factsOf(found, 'table.over-limit')) {
      const typed = grouped(plan.routes, 'routeTableId').get(id) ?? [];
      const networkId = byId(plan.routeTables, id)?.networkId ?? '';
      const routed = (grouped(plan.clusters, 'networkId').get(networkId) ?? []).filter(
        ({ podMode }) => podMode === 'routed',
      );
      const holds = fact.most - (fact.count - typed.length);
      this.store('route table', fact.table, holds, key, [
        ...typed.map((route) => graph.taskOf(keyOf('routes', route.id))),
        ...routed.flatMap((cluster) =>
          this.nodesOf(cluster.id).map(({ number }) => graph.taskOf(partKey.node(cluster.id, number), 'Registered')),
        ),
      ]);
    }
  }

  /** Devices, endpoints, bastions and load balancers take an address of their subnet each; IPv6 subnets never run out. */
  private subnets(): void {
    const { graph, plan } = this;
    const takers = new Map<string, number[]>();
    for (const kind of ['natDevices', 'firewalls', 'endpoints', 'bastions', 'balancers'] as const)
      for (const { id, subnetId } of plan[kind]) {
        const task = graph.object(keyOf(kind, id))?.first;
        if (task !== undefined) addTo(takers, subnetId, task);
      }
    for (const [subnetId, tasks] of takers) {
      const subnet = byId(plan.subnets, subnetId);
      const profile = byId(plan.profiles, byId(plan.sites, subnet?.siteId ?? '')?.profileId ?? '');
      if (subnet === undefined || profile === undefined) continue;
      const { family, length } = rangeOf(subnet);
      if (family === 4) this.store('subnet', subnet.name, usableAddresses(length, profile).value, '', tasks);
    }
  }
}
