import { addressFurther, formatAddress, parseAddress } from '../address/index.js';
import { placeSubnet } from '../egress/index.js';
import { apiPort, balancerInside, Forwarding, nodeHost, traceFlow } from '../forwarding/index.js';
import type { Host } from '../forwarding/index.js';
import { addressesOf, clientsOf, NameState, typeTo } from '../naming/index.js';
import {
  addOperation,
  applyOperations,
  byId,
  newId,
  positionAtEnd,
  positionInFront,
  readBackendRef,
  listenersOf,
  readServicePort,
  setOperation,
  addressSpan,
  USUAL_BYTES,
  withFallbacks,
} from '../plan/index.js';
import type {
  Balancer,
  Cluster,
  ClusterService,
  Controller,
  EntityOf,
  Gateway,
  IngressRoute,
  Kind,
  Operation,
  Plan,
  Subnet,
} from '../plan/index.js';
import { good } from '../result.js';
import type { Result } from '../result.js';
import { attaches } from './attaches.js';
import { freeAddressFor } from './freeAddress.js';
import { IngressState } from './ingressState.js';
import type { Call } from './routeBook.js';
import { FIRST_NODE_PORT, LAST_STATIC_NODE_PORT } from './serviceAddresses.js';
import { nameOf } from './words.js';
import { refuse, formatProposed } from '../english/index.js';

/** A service that is to be called from outside by a name. */
export interface ExposeRequest {
  readonly serviceId: string;
  readonly port: number;
  readonly host: string;
  /** Begins with a slash. */
  readonly path: string;
  readonly side: 'internal' | 'public';
  readonly isTls: boolean;
}

/** What opens an entry point, as one difference, and what is left to do outside the plan. */
export interface Exposure {
  readonly operations: readonly Operation[];
  /** What each part is for, in its order. */
  readonly parts: readonly string[];
  /** What the plan does not hold yet: names and certificates. */
  readonly openSteps: readonly string[];
}

/** Size of a new subnet for load balancers: some providers want this many addresses to scale into (common practice). */
const ENTRY_LENGTH = 27;
/** Filters that one entry point may pass. */
const MAX_FILTERS = 8;

/** Everything that a service needs to be called by a host name and a path: what is there already is used. */
export function expose(plan: Plan, request: ExposeRequest): Result<Exposure> {
  const service = byId(plan.services, request.serviceId);
  const cluster = byId(plan.clusters, service?.clusterId ?? '');
  if (service === undefined || cluster === undefined) return refuse('expose.service');
  const ports = service.ports.flatMap((text) => readServicePort(text)?.port ?? []);
  if (parseAddress(request.host).ok) return refuse('expose.host', { host: request.host });
  if (!ports.includes(request.port))
    return refuse('expose.port', { service: nameOf(service), port: request.port, ports });
  return new Opening(plan, cluster, request.side).service(service, request);
}

/** A load balancer before the API of a self-run cluster: its members are the control plane's own addresses. */
export function exposeApi(plan: Plan, clusterId: string): Result<Exposure> {
  const cluster = byId(plan.clusters, clusterId);
  if (cluster === undefined) return refuse('expose.cluster');
  if (cluster.controlPlane !== 'self-run') return refuse('expose.hosted', { cluster: cluster.name });
  return new Opening(plan, cluster, 'internal').api();
}

/** Whether a gateway has a listener of the scheme that a rule of a namespace for a host attaches to. */
function takes(gateway: Gateway, cluster: Cluster, namespace: string, host: string, isTls: boolean): boolean {
  const rule = withFallbacks('ingressRoutes', {
    id: '',
    clusterId: gateway.clusterId,
    namespace,
    name: '',
    objectKind: 'HTTPRoute',
    hosts: [host],
  });
  return listenersOf(gateway).some(
    (listener) => listener.protocol === (isTls ? 'https' : 'http') && attaches(rule, '', gateway, listener, cluster),
  );
}

/** A port of a service in the words of its field. */
function portText(name: string, port: number, nodePort: number): string {
  return [name, 'tcp', port, 'to', name, 'node', nodePort].join(' ');
}

class Opening {
  private readonly operations: Operation[] = [];
  private readonly parts: string[] = [];
  private readonly openSteps: string[] = [];

  constructor(
    private readonly plan: Plan,
    private readonly cluster: Cluster,
    private readonly side: 'internal' | 'public',
  ) {}

  service(service: ClusterService, { host, path, port, isTls }: ExposeRequest): Result<Exposure> {
    const takenFrom = this.answeredBy(host, path);
    const refused = this.refused(service, { host, path, port }, takenFrom);
    if (refused !== undefined) return refused;
    const controller = this.controllerFor() ?? this.newController();
    const front = this.front(controller, isTls ? 443 : 80);
    if (!front.ok) return front;
    const certificate = isTls ? `${host}-cert` : '';
    const name = this.freeName(service);
    const gateways = this.plan.gateways.filter(
      ({ clusterId, className }) => clusterId === this.cluster.id && controller.classes.includes(className),
    );
    const gateway = gateways.find((each) => takes(each, this.cluster, service.namespace, host, isTls));
    const of =
      gateway === undefined
        ? { objectKind: 'Ingress' as const, className: controller.classes[0] ?? '', certificate }
        : { objectKind: 'HTTPRoute' as const, gatewayId: gateway.id };
    this.add('ingressRoutes', {
      clusterId: this.cluster.id,
      namespace: service.namespace,
      name,
      hosts: [host],
      path,
      backends: [`${service.name} ${port}`],
      ...of,
    });
    this.parts.push(formatProposed('expose.route', { host, path, route: `${service.namespace}/${name}` }));
    if (takenFrom !== undefined)
      this.openSteps.push(
        formatProposed('expose.takes-over', { host, path, route: nameOf(takenFrom), backends: takenFrom.backends }),
      );
    const [shut] = gateways;
    if (gateway === undefined && shut !== undefined)
      this.openSteps.push(
        formatProposed('expose.no-listener', {
          gateway: nameOf(shut),
          namespace: service.namespace,
          host,
          scheme: isTls ? 'https' : 'http',
        }),
      );
    this.open(front.value);
    if (!this.isAnswered(host, front.value))
      this.openSteps.push(formatProposed('expose.name', { host, address: front.value.address }));
    if (isTls)
      this.openSteps.push(
        gateway === undefined
          ? formatProposed('expose.certificate', { certificate, host })
          : formatProposed('expose.certificate-of-gateway', { host, gateway: nameOf(gateway) }),
      );
    return this.done();
  }

  /** A name for a route that none of its namespace has. */
  private freeName({ namespace, name }: ClusterService): string {
    const taken = new Set(
      this.plan.ingressRoutes
        .filter((each) => each.clusterId === this.cluster.id && each.namespace === namespace)
        .map((each) => each.name),
    );
    const names = [name, ...Array.from({ length: taken.size + 1 }, (_, i) => `${name}-${i + 2}`)];
    return names.find((each) => !taken.has(each)) ?? name;
  }

  /** Why a host and path cannot be given to a service: it has them already, or another route does. */
  private refused(
    service: ClusterService,
    { host, path, port }: Pick<ExposeRequest, 'host' | 'path' | 'port'>,
    takenFrom: IngressRoute | undefined,
  ): Result<never> | undefined {
    const there = this.plan.ingressRoutes.find(
      (each) =>
        each.clusterId === this.cluster.id &&
        each.namespace === service.namespace &&
        each.path === path &&
        each.hosts.includes(host) &&
        each.backends.some((text) => {
          const backend = readBackendRef(text);
          return (
            backend?.service === service.name &&
            backend.port === port &&
            ['', service.namespace].includes(backend.namespace)
          );
        }),
    );
    if (there !== undefined) return refuse('expose.there', { host, path, route: nameOf(there) });
    if (takenFrom?.path === path && takenFrom.hosts.some((own) => own.toLowerCase() === host.toLowerCase()))
      return refuse('expose.taken', { host, path, route: nameOf(takenFrom), backends: takenFrom.backends });
    return undefined;
  }

  /** The route that gets calls of a host and path today, whatever controller or gateway of the cluster takes them. */
  private answeredBy(host: string, path: string): IngressRoute | undefined {
    const state = IngressState.of(this.plan);
    const call: Call = { host: host.toLowerCase(), path, method: 'GET', headers: new Map(), query: new Map() };
    const books = this.plan.controllers
      .filter(({ clusterId }) => clusterId === this.cluster.id)
      .flatMap((each) => [
        state.bookOf(each),
        ...state.gatewaysOf(each).map((gateway) => state.bookOfGateway(gateway)),
      ]);
    return books.flatMap((book) => book.match(call) ?? [])[0];
  }

  api(): Result<Exposure> {
    const { cluster } = this;
    const port = apiPort(cluster);
    const run = this.plan.reservations.find(
      ({ clusterId, count }) => clusterId === cluster.id && count >= cluster.controlNodes,
    );
    if (run === undefined) return refuse('expose.reservation', { cluster: cluster.name });
    const addresses = Array.from({ length: cluster.controlNodes }, (_, i) =>
      formatAddress(addressFurther(addressSpan(run).first, i)),
    );
    const balancer = this.balancer(`${cluster.name}-api`);
    if (!balancer.ok) return balancer;
    const backend = this.add('backends', {
      name: 'control-plane',
      balancerId: balancer.value.id,
      members: 'addresses',
      addresses,
      port,
      protocol: 'tcp',
      healthPath: '',
    });
    this.add('listeners', { name: 'api', balancerId: balancer.value.id, protocol: 'tcp', port, backendId: backend.id });
    this.parts.push(formatProposed('expose.control-plane', { port, nodes: addresses.length }));
    this.open(balancer.value, port);
    this.openSteps.push(
      formatProposed('expose.api-name', { cluster: cluster.name, balancer: balancer.value.name }),
      formatProposed('expose.api-certificate'),
    );
    return this.done();
  }

  /** Whether clients find the load balancer by the name once this is applied: by a record that is there, or that a record controller adds. */
  private isAnswered(host: string, balancer: Balancer): boolean {
    const applied = applyOperations(this.plan, this.operations);
    if (!applied.ok || balancer.address === null) return false;
    const state = NameState.of(applied.plan);
    const clients = clientsOf(state, { balancer, cluster: this.cluster });
    if (clients === undefined) return false;
    return addressesOf(state.answers.of(clients, `${host}.`, typeTo(balancer))).includes(balancer.address);
  }

  private done(): Result<Exposure> {
    return good({ operations: this.operations, parts: this.parts, openSteps: this.openSteps });
  }

  private add<K extends Kind>(kind: K, fields: Partial<EntityOf[K]>): EntityOf[K] {
    const made = withFallbacks(kind, { id: newId(), ...fields });
    this.operations.push(addOperation(kind, made));
    return made;
  }

  /** The controller of the cluster whose load balancer is on that side, or that has none yet. */
  private controllerFor(): Controller | undefined {
    const own = this.plan.controllers.filter(({ clusterId }) => clusterId === this.cluster.id);
    const sideOf = ({ balancerId }: Controller) => byId(this.plan.balancers, balancerId ?? '')?.side;
    return (
      own.find((each) => sideOf(each) === this.side) ??
      own.find((each) => sideOf(each) === undefined && each.serviceId !== null)
    );
  }

  private newController(): Controller {
    const { id, name: clusterName } = this.cluster;
    const taken = new Set(this.plan.controllers.filter(({ clusterId }) => clusterId === id).map(({ name }) => name));
    const name = taken.has('edge') ? `edge-${this.side}` : 'edge';
    const [plain, secure] = this.nodePorts();
    const inCluster = { clusterId: id, namespace: name, name };
    this.add('workloads', {
      ...inCluster,
      labels: [`app=${name}`],
      replicasNow: 2,
      replicasHorizon: 2,
      ports: ['plain tcp 8080', 'secure tcp 8443'],
      cpuMillis: 500,
      memoryMib: 512,
    });
    const service = this.add('services', {
      ...inCluster,
      type: 'NodePort',
      selector: [`app=${name}`],
      ports: [portText('plain', 80, plain), portText('secure', 443, secure)],
    });
    this.countService();
    this.parts.push(formatProposed('expose.controller', { controller: name, cluster: clusterName }));
    return this.add('controllers', { clusterId: id, name, classes: [name], serviceId: service.id, balancerId: null });
  }

  /** The estimates of the cluster where the service made here is one more than they say. */
  private countService(): void {
    const { id, nodePortServices, balancerServices, headlessServices, services } = this.cluster;
    const listed = this.plan.services.filter(({ clusterId, type }) => clusterId === id && type !== 'ExternalName');
    const nodePorts = Math.max(nodePortServices, listed.filter(({ type }) => type === 'NodePort').length + 1);
    const all = Math.max(services, listed.length + 1, nodePorts + balancerServices + headlessServices);
    if (nodePorts > nodePortServices || all > services)
      this.operations.push(setOperation('clusters', id, { nodePortServices: nodePorts, services: all }));
  }

  /** Two NodePorts that no service of the cluster has, from the band that the cluster gives none from. */
  private nodePorts(): readonly [number, number] {
    const taken = new Set(
      this.plan.services
        .filter(({ clusterId }) => clusterId === this.cluster.id)
        .flatMap(({ ports }) => ports.flatMap((text) => readServicePort(text)?.nodePort ?? [])),
    );
    const free: number[] = [];
    for (let port = FIRST_NODE_PORT; free.length < 2 && port <= LAST_STATIC_NODE_PORT; port++)
      if (!taken.has(port)) free.push(port);
    return [free[0] ?? LAST_STATIC_NODE_PORT, free[1] ?? LAST_STATIC_NODE_PORT];
  }

  /** The load balancer before a controller with a listener on a port; made where it is not there. */
  private front(controller: Controller, port: number): Result<Balancer> {
    const known = byId(this.plan.balancers, controller.balancerId ?? '');
    const balancer =
      known === undefined
        ? this.balancer(`${this.cluster.name}-${this.side === 'public' ? 'front' : 'inside'}`)
        : good(known);
    if (!balancer.ok) return balancer;
    const { id: balancerId, name } = balancer.value;
    if (known === undefined) {
      const at = this.operations.findIndex((each) => each.op === 'add' && each.kind === 'controllers');
      const fresh = this.operations[at];
      // One made just now is made with its load balancer, after it.
      if (fresh?.op === 'add' && fresh.kind === 'controllers') {
        this.operations.splice(at, 1);
        this.operations.push(addOperation('controllers', { ...(fresh.entity as Controller), balancerId }));
      } else this.operations.push(setOperation('controllers', controller.id, { balancerId }));
    }
    if (this.plan.listeners.some((each) => each.balancerId === balancerId && each.port === port)) return balancer;
    const backend = this.plan.backends.find(
      (each) => each.balancerId === balancerId && each.serviceId === controller.serviceId && each.port === port,
    );
    const made =
      backend ??
      this.add('backends', {
        name: `${controller.name}-${port}`,
        balancerId,
        members: 'nodes',
        serviceId: controller.serviceId,
        port,
      });
    const layer7 = balancer.value.layer === '7';
    this.add('listeners', {
      name: port === 443 ? 'secure' : 'plain',
      balancerId,
      protocol: layer7 ? (port === 443 ? 'https' : 'http') : 'tcp',
      port,
      backendId: made.id,
    });
    this.parts.push(formatProposed('expose.listener', { port, balancer: name }));
    return balancer;
  }

  private balancer(name: string): Result<Balancer> {
    const taken = this.plan.balancers.find((each) => each.name.toLowerCase() === name.toLowerCase());
    if (taken !== undefined) return refuse('expose.name', { balancer: name });
    const own = this.plan.subnets.filter(({ networkId }) => networkId === this.cluster.networkId);
    const subnet =
      own.find(({ purpose, siteId }) => purpose === 'entry' && siteId === this.cluster.siteId) ??
      own.find(({ purpose }) => purpose === 'entry') ??
      this.entrySubnet();
    if (subnet === undefined) return refuse('expose.subnet', { cluster: this.cluster.name });
    this.parts.push(`load balancer ${name} in ${subnet.name}`);
    const applied = applyOperations(this.plan, this.operations);
    const address =
      freeAddressFor(applied.ok ? applied.plan : this.plan, { subnetId: subnet.id, side: this.side }) ?? null;
    return good(
      this.add('balancers', { name, subnetId: subnet.id, side: this.side, layer: '4', runBy: 'provider', address }),
    );
  }

  /** A new subnet for load balancers at the cluster's site, with a way to the internet where clients are there; undefined without room. */
  private entrySubnet(): Subnet | undefined {
    const { networkId, siteId } = this.cluster;
    const network = byId(this.plan.networks, networkId);
    const site = byId(this.plan.sites, siteId);
    const profile = byId(this.plan.profiles, site?.profileId ?? '');
    if (network === undefined || site === undefined || profile === undefined) return undefined;
    const length = Math.min(profile.smallestSubnet, Math.max(profile.largestSubnet, ENTRY_LENGTH));
    const prefix = placeSubnet(this.plan, networkId, siteId, length);
    if (prefix === undefined) return undefined;
    const taken = new Set([...this.plan.subnets, ...this.plan.routeTables].map(({ name }) => name.toLowerCase()));
    const nameOf = (name: string) =>
      [name, ...Array.from({ length: taken.size }, (_, i) => `${name}-${i + 2}`)].find(
        (each) => !taken.has(each.toLowerCase()),
      ) ?? name;
    const zone = profile.subnetScope === 'zone' ? (site.zones[0] ?? '') : '';
    const place = { name: nameOf(`${network.name}-entry`), networkId, siteId, zone, purpose: 'entry', prefix } as const;
    this.parts.push(formatProposed('expose.subnet', { subnet: place.name, prefix }));
    if (this.side === 'internal') return this.add('subnets', place);
    const table = this.add('routeTables', { name: nameOf(`${network.name}-entry`), networkId });
    this.add('routes', { routeTableId: table.id, prefix: '0.0.0.0/0', nextHop: 'internet' });
    return this.add('subnets', { ...place, isPublic: true, internetEgress: 'direct', routeTableId: table.id });
  }

  /** Rules that let the load balancer call its members, for each filter that would refuse it. */
  private open(balancer: Balancer, apiPortOf?: number): void {
    for (let filters = 0; filters < MAX_FILTERS; filters++) {
      const applied = applyOperations(this.plan, this.operations);
      if (!applied.ok) return;
      const refused = this.refusedBy(applied.plan, balancer, apiPortOf);
      const filter = byId(this.plan.filters, refused?.filterIds[0] ?? '');
      const subnet = byId(this.plan.subnets, balancer.subnetId);
      if (refused === undefined || filter === undefined || subnet === undefined) return;
      const rules = applied.plan.filterRules.filter(
        ({ filterId, direction }) => filterId === filter.id && direction === refused.direction,
      );
      // In front of all, since an earlier one may refuse it.
      const position = (filter.mode === 'ordered' ? positionInFront(rules) : undefined) ?? positionAtEnd(rules);
      if (position === undefined) return;
      this.add('filterRules', {
        filterId: filter.id,
        direction: refused.direction,
        position,
        action: 'allow',
        protocol: 'tcp',
        ports: [String(refused.port)],
        peers: [subnet.prefix],
        note: `${balancer.name} calls its members`,
      });
      this.parts.push(
        formatProposed('expose.rule', { filter: filter.name, port: refused.port, prefix: subnet.prefix }),
      );
    }
  }

  private refusedBy(plan: Plan, { id }: Balancer, apiPortOf: number | undefined) {
    const forwarding = Forwarding.of(plan);
    const balancer = byId(plan.balancers, id);
    const inside = balancer === undefined ? undefined : balancerInside(forwarding, balancer);
    const node = nodeHost(forwarding, { clusterId: this.cluster.id, nodePoolId: null, zone: '' }, 4);
    if (inside === undefined || !node.ok) return undefined;
    for (const port of apiPortOf === undefined ? this.portsOf(plan, id) : [apiPortOf]) {
      const failure = this.failureOf(forwarding, inside, node.value, port);
      if (failure?.code === 'filter') return { ...failure, port };
    }
    return undefined;
  }

  private failureOf(forwarding: Forwarding, from: Host, to: Host, port: number) {
    return traceFlow(
      forwarding,
      from,
      { address: to.address, protocol: 'tcp', port, host: to, isOutside: true, label: to.label },
      USUAL_BYTES,
    ).failed?.failure;
  }

  private portsOf(plan: Plan, balancerId: string): number[] {
    return plan.backends.flatMap((backend) => {
      const service = backend.balancerId === balancerId ? byId(plan.services, backend.serviceId ?? '') : undefined;
      return (
        service?.ports.flatMap((text) => {
          const port = readServicePort(text);
          return port?.port === backend.port && port.nodePort !== undefined ? [port.nodePort] : [];
        }) ?? []
      );
    });
  }
}
