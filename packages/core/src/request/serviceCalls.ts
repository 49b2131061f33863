import { formatRequest } from '../english/index.js';
import { areNodesGone, nodeHost, podHost, traceFlow } from '../forwarding/index.js';
import type { Host } from '../forwarding/index.js';
import { byId, hostPrefix, podsFor, rangeOf } from '../plan/index.js';
import type { Answering, Backend, Cluster, ClusterService, Controller, Workload } from '../plan/index.js';
import { verdictOfLack } from '../road/index.js';
import type { Choice, Subject } from '../road/index.js';
import { calledAtNodes, hidesPods, FIRST_NODE_PORT, nameOf } from '../ingress/index.js';
import type { IngressState } from '../ingress/index.js';
import { Stopped } from './requestProgress.js';
import type { SeenAt, RequestProgress } from './requestProgress.js';

/** The machine that a call came to, and at which port. */
interface Reached {
  readonly host: Host;
  readonly port: number;
}

/** Calls of a service: to its nodes and pods, of which each gets its share. */
export class ServiceCalls {
  constructor(
    private readonly state: IngressState,
    private readonly way: RequestProgress,
    private readonly from: Host,
  ) {}

  /** From a machine of the cluster to the pods of a service, of which each gets its share. */
  callService(service: ClusterService, port: number, share: number, from: Host): void {
    if (service.type === 'ExternalName') {
      this.way.stage(
        'service',
        'open',
        { code: 'external.ask', service: nameOf(service), target: service.externalName },
        {
          kind: 'services',
          id: service.id,
        },
      );
      throw new Stopped(
        'unknown',
        undefined,
        formatRequest(this.state.forwarding.parts, {
          code: 'external.outside',
          service: nameOf(service),
          target: service.externalName,
        }),
      );
    }
    if (from.kind === 'balancer') {
      this.fromOutside(service, port, from, share);
      return;
    }
    this.heldByLocality(service, port, from);
    this.podsOf(service, port, from, share);
  }

  /** A service that answers on the caller's own node only: whether a pod of it is there. */
  private heldByLocality(service: ClusterService, port: number, from: Host): void {
    if (service.internalPolicy !== 'local' || from.cluster?.id !== service.clusterId) return;
    if (service.endpoints.length > 0)
      throw this.way.stop(
        'broken',
        undefined,
        'members',
        { code: 'local.endpoints', service: nameOf(service) },
        { kind: 'services', id: service.id },
      );
    const own = from.pool?.id ?? null;
    const up = this.portOf(service, port).members.filter(({ workload }) => podsFor(service, workload) > 0);
    const there = up.filter(({ workload }) => workload.nodePoolId === own);
    if (up.length === 0 || there.some(({ workload }) => workload.objectKind === 'DaemonSet')) return;
    const subject: Subject = { kind: 'services', id: service.id };
    throw there.length === 0
      ? this.way.stop('broken', undefined, 'members', { code: 'local.elsewhere', service: nameOf(service) }, subject)
      : this.way.stop('unknown', undefined, 'members', { code: 'local.unsaid', service: nameOf(service) }, subject);
  }

  /**
   * A load balancer outside the cluster calls nodes by their NodePort, or pods that can be called there; a backend of
   * its own says which.
   */
  private fromOutside(service: ClusterService, port: number, from: Host, share: number): void {
    const balancer = byId(this.state.parts.balancers, from.attachable[0] ?? '');
    const backend = this.state.parts.backends.find(
      (each) => each.balancerId === balancer?.id && each.serviceId === service.id,
    );
    if (calledAtNodes(service, backend)) {
      this.throughNodes(service, port, from, backend, share);
      return;
    }
    const cluster = this.clusterOf(service);
    if (hidesPods(cluster, balancer))
      throw this.way.stop(
        'broken',
        503,
        'members',
        {
          code: 'pods.hidden',
          cluster: cluster.name,
          service: nameOf(service),
          balancer: balancer?.name ?? '',
        },
        { kind: 'services', id: service.id },
      );
    this.podsOf(service, port, from, share);
  }

  /** To the nodes by NodePort, in each zone, and on to the pods. */
  throughNodes(service: ClusterService, port: number, from: Host, backend: Backend | undefined, share: number) {
    const cluster = this.clusterOf(service);
    const subject: Subject = { kind: 'services', id: service.id };
    const servicePort = this.portOf(service, port);
    if (service.type !== 'NodePort' && service.type !== 'LoadBalancer')
      throw this.way.stop(
        'broken',
        503,
        'members',
        { code: 'node-port.type', service: nameOf(service), type: service.type },
        subject,
      );
    const nodePort = servicePort.port.nodePort ?? FIRST_NODE_PORT;
    const protocol = servicePort.port.protocol === 'udp' ? 'udp' : 'tcp';
    if (servicePort.port.nodePort === undefined)
      this.way.stage(
        'open step',
        'open',
        { code: 'node-port.open', service: nameOf(service), port: nodePort },
        subject,
      );
    const isLocal = service.externalPolicy === 'local';
    const pools = isLocal ? [...new Set(servicePort.members.map(({ workload }) => workload.nodePoolId))] : [null];
    const [node, ...rest] = pools.flatMap((nodePoolId) => this.nodesOf(cluster, nodePoolId));
    if (node === undefined)
      throw this.way.stop(
        'broken',
        503,
        'members',
        { code: 'nodes.none', cluster: cluster.name },
        {
          kind: 'clusters',
          id: cluster.id,
        },
      );
    if (backend !== undefined) this.health(backend, from, node, nodePort);
    const chosen: Choice | undefined = backend && { by: 'backend nodes', name: backend.name, method: backend.method };
    this.way.fromBalancer(from, node, protocol, nodePort, chosen);
    for (const other of rest) this.way.further(from, other, protocol, nodePort, true, 1 / (rest.length + 1));
    this.way.stage(
      'members',
      'ok',
      isLocal
        ? { code: 'nodes.own-pods', service: nameOf(service), pools: this.namesOf(pools) }
        : { code: 'nodes.any', service: nameOf(service) },
      subject,
    );
    return this.fromNode(service, port, node, share);
  }

  /** From a node that was called at a NodePort: to its own pods, or to any of them with its own address in place of the client’s. */
  fromNode(service: ClusterService, port: number, node: Host, share: number, poolId?: string | null) {
    if (service.externalPolicy === 'local') return this.onNode(service, port, node, share, poolId);
    this.way.seen = { ...this.way.seen, address: node.address, instead: { is: 'node' } };
    return this.podsOf(service, port, node, share);
  }

  private namesOf(poolIds: readonly (string | null)[]): string[] {
    return poolIds.flatMap((id) => byId(this.state.parts.nodePools, id ?? '')?.name ?? []);
  }

  /** To the pods on the node itself: nothing leaves it, and their policies see the client. */
  private onNode(service: ClusterService, port: number, node: Host, share: number, poolId?: string | null) {
    const servicePort = this.portOf(service, port);
    const up = this.listening(service, servicePort).filter(
      ({ workload }) => poolId === undefined || workload.nodePoolId === poolId,
    );
    const pods = up.reduce((sum, { workload }) => sum + podsFor(service, workload), 0);
    const protocol = servicePort.port.protocol === 'udp' ? 'udp' : 'tcp';
    let reached: Reached | undefined;
    for (const { workload, port: open } of up) {
      const part = podsFor(service, workload) / pods;
      this.inShare(up.length > 1, part * (share === 0 ? 1 : share), () => {
        const host = this.podOf(workload, node);
        this.heldByPolicies(host, protocol, open);
        reached ??= { host, port: open };
        if (share > 0) this.answeredBy(service, workload, open, share * part);
      });
    }
    this.recordPods(service, servicePort, up, pods);
    return reached ?? { host: node, port };
  }

  private inShare(isPart: boolean, share: number, run: () => void): void {
    if (isPart) this.way.attempt(share, run);
    else run();
  }

  private answeredBy(service: ClusterService, workload: Workload, port: number, share: number): void {
    this.way.members.push({ service, workload, port, share, cluster: this.clusterOf(service).name, rank: 1 });
  }

  private recordPods(service: ClusterService, servicePort: Answering, up: readonly Listening[], pods: number): void {
    this.way.stage(
      'service',
      'ok',
      {
        code: 'service.pods',
        service: nameOf(service),
        pods,
        port: servicePort.port.port,
        workloads: up.map(({ workload }) => nameOf(workload)),
      },
      { kind: 'services', id: service.id },
    );
  }

  /** The workloads whose pods are endpoints: those that run and listen on the port. */
  private listening(service: ClusterService, servicePort: Answering): Listening[] {
    const subject: Subject = { kind: 'services', id: service.id };
    const running = servicePort.members.filter(({ workload }) => podsFor(service, workload) > 0);
    const up = running.flatMap(({ workload, port }) => (port === undefined ? [] : [{ workload, port }]));
    if (up.length > 0) return up;
    const [deaf] = running;
    if (deaf === undefined)
      throw this.way.stop(
        'broken',
        503,
        'members',
        { code: 'service.no-pods', service: nameOf(service), why: this.whyNoPods(service, servicePort) },
        subject,
      );
    const isNamed = !/^\d+$/.test(servicePort.port.target);
    throw this.way.stop(
      'broken',
      isNamed ? 503 : 502,
      'members',
      {
        code: 'service.deaf',
        service: nameOf(service),
        target: servicePort.port.target,
        workload: nameOf(deaf.workload),
      },
      subject,
    );
  }

  private whyNoPods({ selector }: ClusterService, { members }: Answering) {
    if (selector.length === 0) return 'no selector';
    if (members.length === 0) return 'none selected';
    const running = members.filter(({ workload }) => workload.replicasNow > 0);
    if (running.length === 0) return 'none run';
    const { forwarding } = this.state;
    return running.every(({ workload }) => areNodesGone(forwarding, workload.clusterId, workload.nodePoolId))
      ? 'zones lost'
      : 'none ready';
  }

  /** To the endpoints of a service without a selector, each with its share; where they are is found on the way. */
  private endpointsOf(service: ClusterService, servicePort: Answering, from: Host, share: number): Reached {
    const subject: Subject = { kind: 'services', id: service.id };
    const { port: own, target } = servicePort.port;
    const port = Number(target);
    if (!Number.isInteger(port))
      throw this.way.stop(
        'broken',
        503,
        'members',
        { code: 'service.named-endpoints', service: nameOf(service), target },
        subject,
      );
    const protocol = servicePort.port.protocol === 'udp' ? 'udp' : 'tcp';
    const flow = (address: string) =>
      traceFlow(
        this.state.forwarding,
        from,
        { address: hostPrefix(address), protocol, port, host: undefined, isOutside: true, label: address },
        this.way.bytes,
      );
    const count = service.endpoints.length;
    const part = (share === 0 ? 1 : share) / count;
    let isMain = true;
    for (const address of service.endpoints)
      this.inShare(count > 1, part, () => {
        const found = flow(address);
        // The first that is reached stands for the road; of one alone it is shown where it ends.
        if (isMain && (count === 1 || found.verdict === 'pass')) {
          this.way.legs.push({ flow: found, chosen: { by: 'service', name: nameOf(service) } });
          isMain = false;
        } else if (found.verdict === 'pass') this.way.others.push({ flow: found, share: part });
        if (found.verdict !== 'pass')
          throw this.way.failed(found, { from: from.label, to: address, protocol: '', port: 0 });
        this.way.addresses.push(address);
      });
    this.way.stage(
      'service',
      'ok',
      { code: 'service.endpoints', service: nameOf(service), port: own, addresses: service.endpoints },
      subject,
    );
    return { host: from, port };
  }

  /** Health checks go to every member; where they cannot, no member counts as healthy. */
  health({ id, name, healthPort }: Backend, from: Host, to: Host, port: number): void {
    if (healthPort === null || healthPort === port) return;
    const flow = traceFlow(
      this.state.forwarding,
      from,
      {
        address: to.address,
        protocol: 'tcp',
        port: healthPort,
        host: to,
        isOutside: true,
        label: `health check of ${name}`,
      },
      this.way.bytes,
    );
    if (flow.verdict === 'pass') return;
    this.way.legs.push({ flow, chosen: { by: 'health', name } });
    throw this.way.stop(
      'broken',
      503,
      'members',
      { code: 'health.unreached', backend: name, port: healthPort, to: to.label, failed: flow.failed },
      { kind: 'backends', id },
    );
  }

  /** The pods that answer at a port of a service; one of them is called on the main road, one of each further workload beside it. */
  podsOf(
    service: ClusterService,
    port: number,
    from: Host,
    share = 0,
    seenAt?: (pod: Host, port: number) => SeenAt,
  ): Reached {
    const servicePort = this.portOf(service, port);
    if (service.endpoints.length > 0) return this.endpointsOf(service, servicePort, from, share);
    const up = this.listening(service, servicePort);
    const pods = up.reduce((sum, { workload }) => sum + podsFor(service, workload), 0);
    const protocol = servicePort.port.protocol === 'udp' ? 'udp' : 'tcp';
    let isMain = share === 0 || this.way.members.length === 0;
    let reached: Reached | undefined;
    // Nodes and load balancers pass on calls of others: policies of the pod hold them by the address that it sees.
    const isPassedOn = from.kind === 'node' || from.kind === 'balancer';
    for (const { workload, port: open } of up) {
      const part = (share === 0 ? 1 : share) * (podsFor(service, workload) / pods);
      this.inShare(up.length > 1, part, () => {
        const whole = this.podOf(workload, from);
        const isOwn = from.cluster?.id === workload.clusterId;
        if (isPassedOn) this.heldByPolicies(whole, protocol, open);
        const target = isPassedOn ? unguarded(whole) : whole;
        const seen = seenAt?.(target, open);
        if (isMain) {
          this.way.fromBalancer(from, target, protocol, open, { by: 'service', name: nameOf(service) }, !isOwn, seen);
          isMain = false;
        } else this.way.further(from, target, protocol, open, !isOwn, part, seen);
        reached ??= { host: whole, port: open };
        if (share > 0) this.answeredBy(service, workload, open, part);
      });
    }
    this.recordPods(service, servicePort, up, pods);
    return reached ?? { host: from, port };
  }

  private heldByPolicies({ guard, cluster }: Host, protocol: 'tcp' | 'udp', port: number): void {
    const said = guard?.judge('ingress', { workload: undefined, address: this.way.seen.address }, protocol, port);
    if (said?.isAllowed !== false) return;
    const id = said.policies[0]?.id ?? '';
    throw this.way.stop(
      'refused',
      undefined,
      'source',
      { code: 'policy', decision: said },
      {
        kind: id === '' ? 'clusters' : 'networkPolicies',
        id: id === '' ? (cluster?.id ?? '') : id,
      },
    );
  }

  /** A port of a service with who answers there. */
  portOf(service: ClusterService, port: number): Answering {
    const servicePort = this.state.answeringAt(service, port);
    if (servicePort !== undefined) return servicePort;
    if (service.type === 'headless')
      throw this.way.stop(
        'broken',
        undefined,
        'service',
        { code: 'service.headless-port', service: nameOf(service), port },
        { kind: 'services', id: service.id },
      );
    throw this.way.stop(
      'broken',
      503,
      'service',
      { code: 'service.no-port', service: nameOf(service), port, has: service.ports },
      { kind: 'services', id: service.id },
    );
  }

  private podOf(workload: Workload, from: Host): Host {
    const cluster = byId(this.state.parts.clusters, workload.clusterId);
    const isOwn = from.cluster?.id === workload.clusterId;
    const made = podHost(
      this.state.forwarding,
      { clusterId: workload.clusterId, nodePoolId: workload.nodePoolId, zone: '' },
      from.address.family,
      isOwn ? 'other' : 'first',
    );
    if (!made.ok || cluster === undefined)
      throw this.way.stop(
        made.ok ? 'unknown' : verdictOfLack(made.lack),
        undefined,
        'members',
        made.ok ? { code: 'cluster.gone' } : { code: 'lack', lack: made.lack },
        { kind: 'workloads', id: workload.id },
      );
    return {
      ...made.value,
      label: `pod of ${nameOf(workload)}`,
      guard: this.state.policiesOf(cluster).guardOf(workload),
    };
  }

  private nodesOf(cluster: Cluster, nodePoolId: string | null): Host[] {
    const ranges = this.state.forwarding.rangesOf(cluster.id).filter(({ purpose }) => purpose === 'node');
    const own = ranges.filter((range) => rangeOf(range).family === this.from.address.family);
    return own.flatMap(({ zone, turn }) => {
      const node = nodeHost(
        this.state.forwarding,
        { clusterId: cluster.id, nodePoolId, zone, turn },
        this.from.address.family,
      );
      return node.ok ? [node.value] : [];
    });
  }

  clusterOf({ clusterId }: ClusterService): Cluster {
    const cluster = byId(this.state.parts.clusters, clusterId);
    if (cluster === undefined) throw this.way.stop('unknown', undefined, 'service', { code: 'service.cluster-gone' });
    return cluster;
  }

  serviceOf(controller: Controller): ClusterService {
    const service = byId(this.state.parts.services, controller.serviceId ?? '');
    if (service === undefined)
      throw this.way.stop(
        'broken',
        503,
        'service',
        { code: 'controller.no-service', controller: controller.name },
        { kind: 'controllers', id: controller.id },
      );
    return service;
  }
}

/** A workload whose pods listen on a port. */
interface Listening {
  readonly workload: Workload;
  readonly port: number;
}

function unguarded({ guard: _, ...host }: Host): Host {
  return host;
}
