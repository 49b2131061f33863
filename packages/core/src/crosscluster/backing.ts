import type { Family } from '../address/index.js';
import { formatPair, formatPolicy } from '../english/index.js';
import { PolicySet } from '../ingress/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { answering, grouped, podsFor, selectedBy } from '../plan/index.js';
import type { Cluster, ClusterService, Connection, Member, Plan, Workload } from '../plan/index.js';
import type { PodHosts } from './podHosts.js';

type Answering = ReturnType<typeof answering>;

/** Who stands behind exported services: whether anybody does, and whom network policies let in. Each service is looked at once. */
export class Backing {
  private readonly faults = new Map<ClusterService, string | undefined>();
  private readonly answering = new Map<ClusterService, Answering>();
  private readonly policySets = new Map<string, PolicySet>();

  constructor(
    private readonly parts: Pick<Plan, 'workloads' | 'networkPolicies'>,
    private readonly forwarding: Forwarding,
    private readonly pods: PodHosts,
  ) {}

  /** Why a service answers nobody, whoever asks: no pods, or none that listens; undefined where some port is answered. */
  faultOf(service: ClusterService): string | undefined {
    if (this.faults.has(service)) return this.faults.get(service);
    const made = this.makeFault(service);
    this.faults.set(service, made);
    return made;
  }

  /** Whether any network policy may have a say in what a cluster’s pods take. */
  hasPolicies(clusterId: string): boolean {
    return grouped(this.parts.networkPolicies, 'clusterId').get(clusterId) !== undefined;
  }

  /**
   * Why network policies refuse the calls of a member at every pod of a service; undefined where some pod takes them.
   * Which workload asks is not said, so what holds it at its own side is not judged.
   */
  refusedBy(
    connection: Connection,
    from: Member,
    asker: Cluster,
    cluster: Cluster,
    service: ClusterService,
  ): string | undefined {
    const policies = grouped(this.parts.networkPolicies, 'clusterId').get(cluster.id);
    if (policies === undefined) return undefined;
    const set = this.policySets.get(cluster.id) ?? new PolicySet(cluster, policies);
    this.policySets.set(cluster.id, set);
    const family: Family = cluster.family === 'ipv6' ? 6 : 4;
    // Behind a relay the callers are a pod of its own cluster.
    const asking = this.pods.of(connection.method === 'relays' ? cluster.id : asker.id, family);
    if (!asking.ok) return undefined;
    const address =
      connection.method === 'relays'
        ? asking.value.address
        : this.forwarding.crossings.shownIn(connection.id, from.clusterId, asking.value.address);
    const said = this.answeringOf(service).flatMap(({ port: { protocol }, members }) =>
      members.flatMap(({ workload, port }) =>
        port === undefined ? [] : [set.judge('ingress', workload, { workload: undefined, address }, protocol, port)],
      ),
    );
    return said.length > 0 && said.every(({ isAllowed }) => !isAllowed)
      ? formatPair({ code: 'policies', why: said[0] === undefined ? '' : formatPolicy(said[0]) })
      : undefined;
  }

  private makeFault(service: ClusterService): string | undefined {
    const name = `${service.namespace}/${service.name}`;
    if (service.endpoints.length > 0) return undefined;
    const selected = selectedBy(service, this.workloadsIn(service.clusterId));
    if (selected.every((workload) => podsFor(service, workload) === 0))
      return selected.every(({ replicasNow }) => replicasNow === 0)
        ? formatPair({ code: 'service.no-pod', service: name })
        : formatPair({ code: 'service.none-ready', service: name });
    const servicePorts = this.answeringOf(service);
    const isDeaf =
      servicePorts.length > 0 && servicePorts.every(({ members }) => members.every(({ port }) => port === undefined));
    return isDeaf
      ? formatPair({ code: 'service.deaf', service: name, ports: servicePorts.map(({ port }) => port.target) })
      : undefined;
  }

  private answeringOf(service: ClusterService): Answering {
    const known = this.answering.get(service) ?? answering(service, this.workloadsIn(service.clusterId));
    this.answering.set(service, known);
    return known;
  }

  private workloadsIn(clusterId: string): readonly Workload[] {
    return grouped(this.parts.workloads, 'clusterId').get(clusterId) ?? [];
  }
}
