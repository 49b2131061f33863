import { byId, controllersOf, classesOf, grouped, readBackendRef, selectedBy, parentsOf } from '../plan/index.js';
import type { ClusterService, IngressRoute, Plan } from '../plan/index.js';
import { closestZones, fullName, selfRunNames, serviceNamed } from '../naming/index.js';
import { isNamedBy } from './certificateNamed.js';
import type { Graph } from './graph.js';
import { partKey } from './clusterParts.js';
import type { ClusterParts, PlannedNode } from './clusterParts.js';
import { keyOf } from './planObjects.js';

/** The nodes of each cluster as they are to come up. */
export type NodesOf = (clusterId: string) => readonly PlannedNode[];

/** What workloads, services, load balancers, names and connections wait for beyond what they refer to. */
export class EntryWaits {
  constructor(
    private readonly graph: Graph,
    private readonly plan: Plan,
    private readonly parts: ClusterParts,
    private readonly nodesOf: NodesOf,
  ) {}

  /** Adds all of them. */
  add(): void {
    this.workloads();
    this.services();
    this.balancers();
    this.routes();
    this.names();
    this.connections();
  }

  private last(
    kind: 'services' | 'workloads' | 'controllers' | 'certificates' | 'zones' | 'connections' | 'members',
    id: string,
  ) {
    return this.graph.taskOf(keyOf(kind, id));
  }

  /** The first nodes of a cluster, of one of its pools where it is named. */
  private readyNodes(clusterId: string, count: number, poolId?: string | null): (number | undefined)[] {
    const all = this.nodesOf(clusterId);
    const own = poolId == null ? all : all.filter((node) => node.poolId === poolId);
    return own.slice(0, Math.max(1, count)).map(({ number }) => this.graph.taskOf(partKey.node(clusterId, number)));
  }

  private workloads(): void {
    const { graph, plan } = this;
    for (const { id, clusterId, nodePoolId, replicasNow } of plan.workloads)
      graph.wait(
        graph.taskOf(keyOf('workloads', id), 'Available'),
        graph.taskOf(partKey.dns(clusterId)),
        ...this.readyNodes(clusterId, replicasNow, nodePoolId),
      );
    for (const { id, clusterId } of plan.recordControllers)
      graph.wait(graph.taskOf(keyOf('recordControllers', id)), ...this.readyNodes(clusterId, 1));
  }

  private services(): void {
    const { graph, plan } = this;
    const workloads = grouped(plan.workloads, 'clusterId');
    for (const service of plan.services)
      graph.wait(
        graph.taskOf(keyOf('services', service.id), 'EndpointsReady'),
        ...selectedBy(service, workloads.get(service.clusterId) ?? []).map(({ id }) => this.last('workloads', id)),
      );
  }

  /** Members are healthy once a node is ready, the service has endpoints, and the filters of nodes and load balancer have their rules. */
  private balancers(): void {
    const { graph, plan, parts } = this;
    for (const { id, balancerId, serviceId } of plan.backends) {
      const service = byId(plan.services, serviceId ?? '');
      const cluster = service?.clusterId ?? '';
      const pools = (grouped(plan.nodePools, 'clusterId').get(cluster) ?? []).map((pool) => pool.id);
      graph.wait(
        graph.taskOf(keyOf('backends', id), 'Healthy'),
        ...(service === undefined ? [] : this.readyNodes(cluster, 1)),
        ...parts.rulesOf(balancerId, cluster, ...pools),
      );
    }
    for (const { id, certificate } of plan.listeners)
      graph.wait(graph.taskOf(keyOf('listeners', id)), this.certificate(certificate, '', ''));
  }

  private certificate(text: string, clusterId: string, namespace: string): number | undefined {
    const found = this.plan.certificates.find((each) => isNamedBy(each, text, clusterId, namespace));
    return found === undefined ? undefined : this.last('certificates', found.id);
  }

  private routes(): void {
    const { graph, plan } = this;
    for (const gateway of plan.gateways)
      graph.wait(
        graph.taskOf(keyOf('gateways', gateway.id), 'Programmed'),
        ...controllersOf(plan, gateway.clusterId, [gateway.className]).map(({ id }) => this.last('controllers', id)),
        this.certificate(gateway.certificate, gateway.clusterId, gateway.namespace),
      );
    for (const route of plan.ingressRoutes) {
      const key = keyOf('ingressRoutes', route.id);
      graph.wait(
        graph.taskOf(key, 'Accepted'),
        ...parentsOf(plan, route).map(({ gateway }) => graph.taskOf(keyOf('gateways', gateway.id), 'Accepted')),
        ...controllersOf(plan, route.clusterId, classesOf(plan, route)).map(({ id }) => this.last('controllers', id)),
      );
      graph.wait(
        graph.taskOf(key, 'ResolvedRefs'),
        ...this.servicesOf(route).map(({ id }) => graph.taskOf(keyOf('services', id), 'Accepted')),
        this.certificate(route.certificate, route.clusterId, route.namespace),
      );
    }
  }

  private servicesOf({ backends, clusterId, namespace }: IngressRoute): ClusterService[] {
    return backends.flatMap((text) => {
      const ref = readBackendRef(text);
      if (ref === undefined) return [];
      const at = ref.namespace === '' ? namespace : ref.namespace;
      return serviceNamed(this.plan, clusterId, at, ref.service) ?? [];
    });
  }

  /** A record waits for what has the address that it answers, a certificate for the names that validate it. */
  private names(): void {
    const { graph, plan } = this;
    const holders = this.holders();
    const records = new Map<string, number>();
    for (const { id, zoneId, name, value } of plan.records) {
      const task = graph.taskOf(keyOf('records', id));
      graph.wait(task, holders.get(value));
      const apex = byId(plan.zones, zoneId)?.apex ?? '';
      if (task !== undefined) records.set(fullName(name, apex), task);
    }
    const publicZones = plan.zones.filter(({ side }) => side === 'public');
    for (const { id, names, issuerKind } of plan.certificates)
      for (const name of names) {
        const plain = name.replace(/^\*\./, '');
        const validated = graph.taskOf(keyOf('certificates', id), 'Validated');
        if (issuerKind === 'public by DNS')
          graph.wait(validated, ...closestZones(publicZones, plain).map((zone) => this.last('zones', zone.id)));
        else if (issuerKind === 'public by HTTP') graph.wait(validated, records.get(plain));
      }
    // The names of a self-run API and ingress are there before its first node: handbook 3, "DNS must resolve both before installation".
    for (const cluster of plan.clusters) {
      const own = selfRunNames(cluster);
      if (own !== undefined)
        graph.wait(graph.taskOf(partKey.control(cluster.id, 1)), records.get(own.api), records.get(own.apps));
    }
  }

  /** The steps after which an address, or a name of a provider, is there. */
  private holders(): Map<string, number> {
    const { graph, plan } = this;
    const found = new Map<string, number>();
    const hold = (text: string, task: number | undefined) => {
      if (text !== '' && task !== undefined) found.set(text, task);
    };
    for (const { id, address, providerName } of plan.balancers) {
      const task = graph.taskOf(keyOf('balancers', id), 'AddressAssigned');
      hold(address ?? '', task);
      hold(providerName, task);
    }
    for (const kind of ['endpoints', 'bastions'] as const)
      for (const { id, address } of plan[kind]) hold(address, graph.taskOf(keyOf(kind, id)));
    for (const { id, addresses } of plan.resolvers)
      for (const address of addresses) hold(address, graph.taskOf(keyOf('resolvers', id)));
    return found;
  }

  /** A member joins with its gateways; a connection stands when all have joined. */
  private connections(): void {
    const { graph, plan } = this;
    for (const { id, connectionId, clusterId, gateways } of plan.members) {
      const joined = this.last('members', id);
      graph.wait(joined, ...this.readyNodes(clusterId, gateways));
      graph.wait(graph.taskOf(keyOf('connections', connectionId), 'Established'), joined);
    }
    for (const { id, memberId, namespace, name } of plan.serviceExports) {
      const member = byId(plan.members, memberId);
      const own = serviceNamed(plan, member?.clusterId ?? '', namespace, name);
      graph.wait(
        graph.taskOf(keyOf('serviceExports', id), 'Imported'),
        this.last('connections', member?.connectionId ?? ''),
        own === undefined ? undefined : this.last('services', own.id),
      );
    }
  }
}
