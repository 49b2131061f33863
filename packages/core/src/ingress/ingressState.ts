import type { Prefix } from '../address/index.js';
import { areNodesGone, NO_FAULTS } from '../forwarding/index.js';
import type { Faults, Forwarding } from '../forwarding/index.js';
import { NameState } from '../naming/index.js';
import {
  answering,
  byId,
  changedBetween,
  classesOf,
  controllersOf,
  grouped,
  mayName,
  parentsOf,
  rangeOf,
  readContainerPort,
  secretOf,
  selectedBy,
} from '../plan/index.js';
import type {
  Answering,
  Backend,
  BackendRef,
  Balancer,
  Cluster,
  ClusterService,
  Controller,
  Gateway,
  OwnListener,
  IngressRoute,
  Listener,
  Plan,
  RouteParent,
  Workload,
} from '../plan/index.js';
import { attaches, sharesHost } from './attaches.js';
import { PolicySet } from './policies.js';
import { RouteBook } from './routeBook.js';

/** The collections that ingress reads beside what forwarding does. */
export const ingressReads = [
  'clusters',
  'sites',
  'subnets',
  'workloads',
  'nodePools',
  'services',
  'balancers',
  'backends',
  'listeners',
  'controllers',
  'gateways',
  'ingressRoutes',
  'networkPolicies',
  'referenceGrants',
] as const satisfies readonly (keyof Plan)[];

/** What ingress reads of a plan. */
export type IngressParts = Pick<Plan, (typeof ingressReads)[number]>;

const none: readonly never[] = [];

/** The entry points of a plan: routes compiled by controller and gateway, and network policies by cluster. Each is made when it is first asked for. */
export class IngressState {
  private readonly books: Map<string, RouteBook>;
  private readonly policies = new Map<string, PolicySet>();
  private readonly parents = new Map<IngressRoute, readonly RouteParent[]>();
  private readonly carriers = new Map<IngressRoute, readonly Controller[]>();

  constructor(
    readonly parts: IngressParts,
    readonly forwarding: Forwarding,
    readonly names: NameState,
    before?: IngressState,
  ) {
    this.books = before === undefined ? new Map<string, RouteBook>() : this.followed(before);
  }

  static of(plan: Plan): IngressState {
    const names = NameState.of(plan);
    return new IngressState(plan, names.forwarding, names);
  }

  /** The same while zones are lost, each as site id and zone: nodes and devices that stand there are gone, and pods that run there alone. */
  without(zones: ReadonlySet<string>): IngressState {
    return this.drilled({ zones });
  }

  /** The same while something is gone, and links are cut. */
  drilled(gone: Partial<Faults>, cut: ReadonlySet<string> = new Set()): IngressState {
    const { parts } = this.forwarding;
    const left = this.forwarding.with(
      { ...NO_FAULTS, ...gone },
      cut.size === 0 ? parts : { ...parts, links: parts.links.filter(({ id }) => !cut.has(id)) },
    );
    const workloads = this.parts.workloads.map((each) =>
      areNodesGone(left, each.clusterId, each.nodePoolId) ? { ...each, notReady: each.replicasNow } : each,
    );
    return new IngressState(
      { ...this.parts, workloads },
      left,
      new NameState({ ...this.names.parts, workloads }, left),
    );
  }

  /** The rules of Ingress objects that a controller carries out. */
  bookOf(controller: Controller): RouteBook {
    return this.book(controller.id, 'one label', () =>
      this.routesOf(controller.clusterId).filter((route) => this.isOfController(route, controller)),
    );
  }

  /** The rules that attach to a gateway. */
  bookOfGateway(gateway: Gateway): RouteBook {
    return this.book(gateway.id, 'labels', () =>
      this.routesOf(gateway.clusterId).filter((route) => this.isAt(route, gateway.id)),
    );
  }

  /** The gateways of a controller’s classes. */
  gatewaysOf({ clusterId, classes }: Controller): readonly Gateway[] {
    return this.gatewaysIn(clusterId).filter(({ className }) => classes.includes(className));
  }

  policiesOf(cluster: Cluster): PolicySet {
    const known = this.policies.get(cluster.id);
    if (known !== undefined) return known;
    const made = new PolicySet(cluster, grouped(this.parts.networkPolicies, 'clusterId').get(cluster.id) ?? none);
    this.policies.set(cluster.id, made);
    return made;
  }

  /** The ranges that the cluster's DNS has its addresses in: pods, and the service before them. */
  dnsRangesOf({ id }: Cluster): readonly Prefix[] {
    return this.forwarding
      .rangesOf(id)
      .filter(({ purpose }) => purpose === 'pod' || purpose === 'service')
      .map(rangeOf);
  }

  listenersOf({ id }: Balancer): readonly Listener[] {
    return grouped(this.parts.listeners, 'balancerId').get(id) ?? none;
  }

  backendsOf({ id }: Balancer): readonly Backend[] {
    return grouped(this.parts.backends, 'balancerId').get(id) ?? none;
  }

  workloadsOf(clusterId: string): readonly Workload[] {
    return grouped(this.parts.workloads, 'clusterId').get(clusterId) ?? none;
  }

  servicesOf(clusterId: string): readonly ClusterService[] {
    return grouped(this.parts.services, 'clusterId').get(clusterId) ?? none;
  }

  serviceNamed(clusterId: string, namespace: string, name: string): ClusterService | undefined {
    return this.servicesOf(clusterId).find((each) => each.namespace === namespace && each.name === name);
  }

  /** The names on the certificate that a listener, a route or a gateway uses: those of the certificate itself where the plan holds it. */
  namesOn(user: Listener | IngressRoute): readonly string[] {
    const held =
      'namespace' in user
        ? this.names.certificateOf(user.certificate, user.clusterId, user.namespace)
        : this.names.certificateOf(user.certificate, null, '');
    return held?.names ?? user.certificateHosts;
  }

  /** The gateways that a route attaches to, each with the listener that it names. */
  parentsOf(route: IngressRoute): readonly RouteParent[] {
    const known = this.parents.get(route) ?? parentsOf(this.parts, route);
    this.parents.set(route, known);
    return known;
  }

  /** Whether a route attaches to a listener of a gateway. */
  attaches(route: IngressRoute, gateway: Gateway, listener: OwnListener): boolean {
    const cluster = byId(this.parts.clusters, gateway.clusterId);
    const own = this.parentsOf(route).filter((parent) => parent.gateway.id === gateway.id);
    return cluster !== undefined && own.some((parent) => attaches(route, parent.listener, gateway, listener, cluster));
  }

  /**
   * Routes of the other kind for HTTP that have hosts in common with a route at a listener to which both attach: of two such only the older
   * is accepted. Source: the Gateway API, hostnames of GRPCRoute (from memory of its reference).
   */
  rivalsOf(route: IngressRoute, gateway: Gateway, listener: OwnListener): readonly IngressRoute[] {
    const other =
      route.objectKind === 'GRPCRoute' ? 'HTTPRoute' : route.objectKind === 'HTTPRoute' ? 'GRPCRoute' : undefined;
    if (other === undefined) return none;
    return this.routesOf(route.clusterId).filter(
      (each) =>
        each.objectKind === other && sharesHost(route, each, listener) && this.attaches(each, gateway, listener),
    );
  }

  /** The classes by which controllers find a route. */
  classesOf(route: IngressRoute): readonly string[] {
    return classesOf(this.parts, route);
  }

  /** The controllers of a cluster that serve a class. */
  serving(clusterId: string, className: string): readonly Controller[] {
    return controllersOf(this.parts, clusterId, [className]);
  }

  /** The controllers that carry a route out. */
  controllersOf(route: IngressRoute): readonly Controller[] {
    const known = this.carriers.get(route) ?? controllersOf(this.parts, route.clusterId, this.classesOf(route));
    this.carriers.set(route, known);
    return known;
  }

  gatewaysIn(clusterId: string): readonly Gateway[] {
    return grouped(this.parts.gateways, 'clusterId').get(clusterId) ?? none;
  }

  routesOf(clusterId: string): readonly IngressRoute[] {
    return grouped(this.parts.ingressRoutes, 'clusterId').get(clusterId) ?? none;
  }

  /** Whether a route may send to a service: of another namespace where a grant there says so. */
  maySend({ clusterId, objectKind, namespace }: IngressRoute, service: ClusterService): boolean {
    const to = { kind: 'Service', namespace: service.namespace, name: service.name } as const;
    return mayName(this.parts, clusterId, { kind: objectKind, namespace }, to);
  }

  /** The names on the certificate that a listener of a gateway shows. */
  namesShown(gateway: Gateway, { certificate }: Pick<OwnListener, 'certificate'>): readonly string[] {
    const held = this.names.certificateOf(certificate, gateway.clusterId, gateway.namespace);
    return held?.names ?? (certificate === gateway.certificate ? gateway.certificateHosts : none);
  }

  /** Whether a gateway may show a certificate: a secret of another namespace where a grant there says so. */
  mayShow({ clusterId, namespace }: Gateway, certificate: string): boolean {
    const secret = { kind: 'Secret', ...secretOf(certificate, namespace) } as const;
    return mayName(this.parts, clusterId, { kind: 'Gateway', namespace }, secret);
  }

  /** Whether a controller carries out an Ingress rule. */
  isOfController(route: IngressRoute, { clusterId, classes }: Controller): boolean {
    if (route.objectKind !== 'Ingress' || route.clusterId !== clusterId) return false;
    return this.classesOf(route).some((each) => classes.includes(each));
  }

  private isAt(route: IngressRoute, gatewayId: string): boolean {
    return this.parentsOf(route).some(({ gateway }) => gateway.id === gatewayId);
  }

  /** The service that a route sends to, with the name that it is looked for by; undefined where there is none. */
  serviceOf(
    route: IngressRoute,
    { namespace, service }: BackendRef,
  ): { readonly name: string; readonly service: ClusterService | undefined } {
    const where = namespace === '' ? route.namespace : namespace;
    return { name: `${where}/${service}`, service: this.serviceNamed(route.clusterId, where, service) };
  }

  /** A port of a service with who answers there; undefined when it has no such port. */
  answeringAt(service: ClusterService, port: number): Answering | undefined {
    const workloads = this.workloadsOf(service.clusterId);
    const all = answering(service, workloads);
    return service.type === 'headless'
      ? headlessAt(all, selectedBy(service, workloads), port)
      : all.find((each) => each.port.port === port);
  }

  private book(key: string, reach: 'one label' | 'labels', routes: () => readonly IngressRoute[]): RouteBook {
    const known = this.books.get(key);
    if (known !== undefined) return known;
    const made = RouteBook.of(routes(), reach);
    this.books.set(key, made);
    return made;
  }

  /** The books of the state before, with the routes that an edit changed in their places. */
  private followed(before: IngressState): Map<string, RouteBook> {
    if (before.parts.controllers !== this.parts.controllers || before.parts.gateways !== this.parts.gateways)
      return new Map();
    const { gone, come } = changedBetween(before.parts.ingressRoutes, this.parts.ingressRoutes);
    if (gone.length + come.length === 0) return before.books;
    const books = new Map(before.books);
    for (const [key, book] of before.books) {
      const controller = byId(this.parts.controllers, key);
      const isOwn = (route: IngressRoute) =>
        controller === undefined ? this.isAt(route, key) : this.isOfController(route, controller);
      const [left, joined] = [gone.filter(isOwn), come.filter(isOwn)];
      if (left.length + joined.length > 0) books.set(key, book.after(left, joined));
    }
    return books;
  }
}

/** Pods of a headless service are called at their own ports: nothing translates one. */
function headlessAt(all: readonly Answering[], selected: readonly Workload[], port: number): Answering | undefined {
  const listensOn = ({ ports }: Workload) =>
    ports.length === 0 || ports.some((text) => readContainerPort(text)?.port === port);
  const members = selected.map((workload) => ({ workload, port: listensOn(workload) ? port : undefined }));
  if (selected.length > 0 && members.every((each) => each.port === undefined)) return undefined;
  const named = all.find((each) => each.members.some((member) => member.port === port)) ?? all[0];
  return named === undefined ? undefined : { port: { ...named.port, port, target: String(port) }, members };
}
