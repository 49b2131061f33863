import { containsAddress, formatAddress, parseAddress } from '../address/index.js';
import { balancerHost, balancerInside, nodeHost, podHost, traceFlow } from '../forwarding/index.js';
import type { Host } from '../forwarding/index.js';
import { addressesOf, blockedWay, codeOf, exportedAs, serving } from '../naming/index.js';
import type { Exporter, Imported } from '../naming/index.js';
import {
  byId,
  hostPrefix,
  prefixList,
  rangeOf,
  readBackendRef,
  readGatewayListener,
  selectedBy,
} from '../plan/index.js';
import type {
  Backend,
  Balancer,
  Cluster,
  ClusterService,
  Connection,
  Controller,
  Gateway,
  IngressRoute,
  Listener,
  Member,
  UrlTarget,
  Workload,
} from '../plan/index.js';
import type { Answer } from './answer.js';
import { entrancesAt, entrancesOf } from './entrances.js';
import type { Entrance } from './entrances.js';
import { certifies, commonHost, coversHost } from '../zones/index.js';
import type { IngressState } from './ingressState.js';
import { calledAtNodes, hidesPods } from './holds.js';
import { limited } from './limits.js';
import { legsOf, resolveFor, stagesOf, verdictOf } from './nameLegs.js';
import { RequestProgress, Stopped } from './requestProgress.js';
import type { SeenAt } from './requestProgress.js';
import type { Call } from './routeBook.js';
import { FIRST_NODE_PORT, standingAddress } from './serviceAddresses.js';
import { nameOf, percent } from './words.js';
import { verdictOf as flowVerdict } from '../road/index.js';
import type { Choice, Subject } from '../road/index.js';
import { lackProblem, sayFault, sayLack, sayPolicy, sayTunnelFault } from '../english/index.js';
import { sayProblem } from '../result.js';

/** Follows one request from a place to the pods that answer it. */
export class RequestWalk {
  private readonly way: RequestProgress;

  constructor(
    private readonly state: IngressState,
    private readonly from: Host,
    label: string,
    bytes: number,
  ) {
    this.way = new RequestProgress(state, from, label, bytes);
  }

  /** Asks for a URL. */
  ask(url: UrlTarget): Answer {
    return this.way.answered(() => {
      const [entrance, ...more] = this.entrancesFor(url);
      if (entrance === undefined) throw this.noEntrance(url);
      if (entrance.imported !== undefined) {
        this.callImported(entrance.imported, url.port);
        return;
      }
      this.sayEntrance(url, entrance, more);
      if (entrance.service !== undefined) {
        this.callService(entrance.service, url.port, 1, this.from);
        return;
      }
      if (entrance.balancer === undefined) {
        this.insideOnly(url, entrance.controller);
        return;
      }
      this.atBalancer(url, entrance.balancer, entrance.controller);
    });
  }

  /** Asks a service by its cluster address, or from outside the cluster by its NodePort. */
  askService(service: ClusterService, port: number): Answer {
    return this.way.answered(() => {
      const isInside = this.from.cluster?.id === service.clusterId;
      if (isInside) {
        this.callService(service, port, 1, this.from);
        return;
      }
      if (service.type === 'headless' || service.type === 'ClusterIP')
        throw this.way.stop(
          'broken',
          undefined,
          'service',
          `${nameOf(service)} is of the type ${service.type}: it answers only inside its cluster.`,
          { kind: 'services', id: service.id },
        );
      this.throughNodes(service, port, this.from, undefined, 1);
    });
  }

  // Where it enters.

  /** What the host comes to for who asks. While the plan holds no zones, a host is taken to stand for what is for it. */
  private entrancesFor(url: UrlTarget): Entrance[] {
    const { host } = url;
    if (parseAddress(host).ok) return entrancesAt(this.state, host, this.from);
    const resolution = resolveFor(this.state, this.from, host, this.from.address.family === 6 ? 'AAAA' : 'A');
    this.way.resolution = resolution;
    const { outcome, subject, say } = resolution;
    if (outcome === 'outside' && this.state.names.parts.zones.length === 0)
      return entrancesOf(this.state, url, this.from);
    this.way.stages.push(...stagesOf(resolution));
    this.way.legs.push(...legsOf(this.from, resolution));
    if (outcome !== 'answer')
      throw this.way.stop(
        verdictOf(resolution),
        undefined,
        'name',
        `${host} is not answered (${codeOf[outcome]}): ${say}`,
        subject,
      );
    const imported =
      subject?.kind === 'serviceExports' && this.from.cluster !== undefined
        ? exportedAs(this.state.names.parts, this.from.cluster, resolution.name)
        : undefined;
    if (imported !== undefined)
      return [{ balancer: undefined, controller: undefined, service: undefined, imported, precision: 'exact' }];
    const service = subject?.kind === 'services' ? byId(this.state.parts.services, subject.id) : undefined;
    if (service !== undefined) return [{ balancer: undefined, controller: undefined, service, precision: 'exact' }];
    const addresses = addressesOf(resolution);
    const found = addresses.map((address) => ({ address, entrances: entrancesAt(this.state, address, this.from) }));
    const unheld = found.find(({ entrances }) => entrances.length === 0);
    if (unheld !== undefined)
      throw this.way.stop(
        'broken',
        undefined,
        'listener',
        `${host} resolves to ${unheld.address}, where no load balancer in the plan listens${addresses.length > 1 ? ': part of the traffic is lost' : ''}.`,
        subject,
      );
    return found.flatMap(({ entrances }) => entrances);
  }

  private noEntrance({ host }: UrlTarget): Stopped {
    const unserved = this.state.parts.ingressRoutes.find(({ hosts }) =>
      hosts.some((own) => coversHost(own.toLowerCase(), host, 'labels')),
    );
    if (unserved !== undefined) {
      const gateway = byId(this.state.parts.gateways, unserved.gatewayId ?? '');
      const className = gateway?.className ?? unserved.className;
      const why =
        unserved.form !== 'Ingress' && gateway === undefined
          ? 'it attaches to no gateway'
          : className === ''
            ? 'it names no class'
            : `no controller serves its class ${className}`;
      return this.way.stop(
        'broken',
        undefined,
        'route',
        `The ${unserved.form} ${nameOf(unserved)} is for ${host}, but ${why}.`,
        { kind: 'ingressRoutes', id: unserved.id },
      );
    }
    const known = this.knownHosts();
    const nearest = known
      .filter((each) => sharedLabels(each, host) > 1)
      .sort((a, b) => sharedLabels(b, host) - sharedLabels(a, host));
    const shown = nearest.slice(0, 3).join(', ');
    return this.way.stop(
      'broken',
      undefined,
      'name',
      `Nothing in the plan is for the host ${host}.${shown === '' ? '' : ` Nearest are ${shown}.`}`,
    );
  }

  private knownHosts(): string[] {
    const { controllers, gateways } = this.state.parts;
    const books = [
      ...controllers.map((each) => this.state.bookOf(each)),
      ...gateways.map((each) => this.state.bookOfGateway(each)),
    ];
    return [...new Set(books.flatMap((book) => book.hosts()))].filter((host) => host !== '');
  }

  private sayEntrance(
    { host }: UrlTarget,
    { balancer, controller, service, precision }: Entrance,
    more: readonly Entrance[],
  ): void {
    if (service !== undefined) {
      this.way.stage('name', 'ok', `${host} is the service ${nameOf(service)} for pods of its cluster.`, {
        kind: 'services',
        id: service.id,
      });
      return;
    }
    if (precision === 'address') {
      const shared = [...new Set(more.flatMap((each) => each.balancer?.name ?? []))].filter(
        (name) => name !== balancer?.name,
      );
      if (shared.length > 0)
        this.way.stage(
          'open step',
          'open',
          `${host} answers several addresses: calls to ${shared.join(', ')} are not followed here.`,
        );
      return;
    }
    const what =
      balancer === undefined
        ? `the controller ${controller?.name ?? ''}, which only its cluster calls`
        : `the load balancer ${balancer.name}`;
    const others = more.flatMap((each) => each.balancer?.name ?? []).filter((name) => name !== balancer?.name);
    const also = others.length === 0 ? '' : ` ${[...new Set(others)].join(', ')} would take it, too.`;
    this.way.stage('name', 'ok', `${host} is assumed to resolve to ${what}: the plan holds no zones yet.${also}`);
  }

  private insideOnly(url: UrlTarget, controller: Controller | undefined): void {
    if (controller === undefined) return;
    const cluster = byId(this.state.parts.clusters, controller.clusterId);
    if (this.from.cluster?.id !== controller.clusterId)
      throw this.way.stop(
        'broken',
        undefined,
        'listener',
        `The controller ${controller.name} has no load balancer: only ${cluster?.name ?? 'its cluster'} itself calls it.`,
        { kind: 'controllers', id: controller.id },
      );
    const service = this.serviceOf(controller);
    const at = this.podsOf(service, url.port, this.from);
    this.atController(url, controller, at.host, [url.port], url.scheme === 'https');
  }

  private atBalancer(url: UrlTarget, balancer: Balancer, controller: Controller | undefined): void {
    const subject: Subject = { kind: 'balancers', id: balancer.id };
    const host = balancerHost(this.state.forwarding, balancer);
    if (host === undefined)
      throw this.way.stop(
        'broken',
        undefined,
        'listener',
        `The load balancer ${balancer.name} is in no subnet.`,
        subject,
      );
    this.way.via.push({ what: 'load balancer', name: balancer.name, pods: undefined, isSharedByNode: false });
    const listeners = this.state.listenersOf(balancer);
    const listener = listeners.find(({ port, protocol }) => port === url.port && protocol !== 'udp');
    if (listener === undefined) {
      const has = listeners.map(({ protocol, port }) => `${protocol} ${port}`).join(', ');
      throw this.way.stop(
        'broken',
        undefined,
        'listener',
        `${balancer.name} does not listen on tcp ${url.port}${has === '' ? ': it has no listener yet' : `; it has ${has}`}.`,
        subject,
      );
    }
    if (balancer.address === null)
      this.way.stage(
        'open step',
        'open',
        `The address of ${balancer.name} is not decided: ${formatAddress(host.address)} stands for it.`,
        subject,
      );
    this.way.leg(this.from, host, 'tcp', url.port, true);
    const isEnded = this.atListener(url, listener, balancer);
    const isTls = url.scheme === 'https' && !isEnded;
    const inside = balancerInside(this.state.forwarding, balancer) ?? host;
    if (balancer.client === 'replaced')
      this.way.seen = {
        address: inside.address,
        instead: `the address of ${balancer.name}`,
        isTold: balancer.layer === '7' && !isTls,
      };
    if (controller?.tier === 'on a load balancer' && balancer.layer === '7') {
      this.atController(url, controller, inside, [url.port], isTls);
      return;
    }
    const backend = byId(this.state.parts.backends, listener.backendId ?? '');
    if (backend === undefined)
      throw this.way.stop(
        'broken',
        503,
        'members',
        `The listener ${listener.name} of ${balancer.name} forwards to no backend yet: nothing answers.`,
        { kind: 'listeners', id: listener.id },
      );
    const isSpoken = backend.protocol === 'https' ? isEnded : isTls;
    this.toBackend(url, backend, inside, controller, isSpoken || isTls);
  }

  /** Whether TLS ends at the listener; a request that it does not understand stops there. */
  private atListener(url: UrlTarget, listener: Listener, balancer: Balancer): boolean {
    const { id, name, protocol, certificate } = listener;
    const subject: Subject = { kind: 'listeners', id };
    const at = `The listener ${name} of ${balancer.name}`;
    if (protocol === 'tcp') {
      this.way.stage('listener', 'ok', `${at} takes tcp ${url.port} and passes it on as it is.`, subject);
      return false;
    }
    if ((protocol === 'https' || protocol === 'tls') && url.scheme === 'http')
      throw this.way.stop(
        'refused',
        400,
        'listener',
        `${at} speaks TLS on port ${url.port}, and the request comes without.`,
        subject,
      );
    if (protocol === 'http' && url.scheme === 'https')
      throw this.way.stop(
        'broken',
        undefined,
        'listener',
        `${at} speaks plain HTTP on port ${url.port}: the TLS handshake fails.`,
        subject,
      );
    this.way.stage('listener', 'ok', `${at} takes ${protocol} ${url.port}.`, subject);
    if (protocol === 'http') return false;
    this.certified(url, at, certificate, this.state.namesOn(listener), subject);
    return true;
  }

  private certified(
    { host }: UrlTarget,
    at: string,
    certificate: string,
    names: readonly string[],
    subject: Subject,
  ): void {
    if (certificate === '' && names.length === 0)
      throw this.way.stop(
        'broken',
        undefined,
        'certificate',
        `${at} has no certificate: no TLS connection is made.`,
        subject,
      );
    if (!certifies(names, host))
      throw this.way.stop(
        'refused',
        undefined,
        'certificate',
        [
          `${host} is not on the certificate ${certificate} of ${lowered(at)}${names.length === 0 ? ', whose names are not entered' : `, which covers ${names.slice(0, 3).join(', ')}${names.length > 3 ? ' and others' : ''}`}:`,
          'clients refuse it.',
        ].join(' '),
        subject,
      );
    this.way.stage('certificate', 'ok', `The certificate ${certificate} covers ${host}.`, subject);
  }

  // From a load balancer to its members.

  private toBackend(
    url: UrlTarget,
    backend: Backend,
    inside: Host,
    controller: Controller | undefined,
    isTls: boolean,
  ): void {
    const subject: Subject = { kind: 'backends', id: backend.id };
    const { forwarding } = this.state;
    if (backend.members === 'addresses') {
      const [first, ...rest] = backend.addresses;
      if (first === undefined)
        throw this.way.stop('broken', 503, 'members', `The backend ${backend.name} has no members.`, subject);
      const at = (address: string): Host => ({
        kind: 'machine',
        label: address,
        address: hostPrefix(address),
        networkId: inside.networkId,
        zone: '',
        isPublic: false,
        attachable: [],
      });
      this.health(backend, inside, at(first), backend.port);
      // Where an address is, is found on the way.
      const flow = (address: string) =>
        traceFlow(
          forwarding,
          inside,
          {
            address: hostPrefix(address),
            protocol: 'tcp',
            port: backend.port,
            host: undefined,
            isOutside: true,
            label: address,
          },
          this.way.bytes,
        );
      const main = flow(first);
      this.way.legs.push({ flow: main, chosen: { by: 'backend', name: backend.name, to: first } });
      if (main.verdict !== 'pass') throw this.way.failed(main, `${inside.label} does not reach ${first}.`);
      this.way.others.push(...rest.map(flow));
      this.way.stage(
        'members',
        'ok',
        `The backend ${backend.name} sends to ${backend.addresses.length} fixed ${backend.addresses.length === 1 ? 'address' : 'addresses'}.`,
        subject,
      );
      return;
    }
    const service = byId(this.state.parts.services, backend.serviceId ?? '');
    if (service === undefined)
      throw this.way.stop(
        'broken',
        503,
        'members',
        `The backend ${backend.name} names no service yet: it has no members.`,
        subject,
      );
    const isOfController = controller?.serviceId === service.id;
    const target =
      backend.members === 'nodes'
        ? this.throughNodes(service, backend.port, inside, backend, isOfController ? 0 : 1)
        : this.toPods(service, backend, inside, isOfController ? 0 : 1);
    if (controller !== undefined && isOfController)
      this.atController(url, controller, target.host, [url.port, backend.port], isTls);
  }

  private toPods(service: ClusterService, backend: Backend, inside: Host, share: number) {
    const cluster = this.clusterOf(service);
    if (hidesPods(cluster, byId(this.state.parts.balancers, backend.balancerId)))
      throw this.way.stop(
        'broken',
        503,
        'members',
        `Pods of ${cluster.name} are in an overlay: a load balancer outside the cluster cannot call them. Use its nodes.`,
        { kind: 'backends', id: backend.id },
      );
    const at = this.podsOf(service, backend.port, inside, share);
    this.health(backend, inside, at.host, at.port);
    return at;
  }

  /** To the nodes by NodePort, in each zone, and on to the pods. */
  private throughNodes(service: ClusterService, port: number, from: Host, backend: Backend | undefined, share: number) {
    const cluster = this.clusterOf(service);
    const subject: Subject = { kind: 'services', id: service.id };
    const door = this.doorOf(service, port);
    if (service.type !== 'NodePort' && service.type !== 'LoadBalancer')
      throw this.way.stop(
        'broken',
        503,
        'members',
        `${nameOf(service)} is of the type ${service.type}: it has no NodePort on which nodes could be members.`,
        subject,
      );
    const nodePort = door.port.nodePort ?? FIRST_NODE_PORT;
    const protocol = door.port.protocol === 'udp' ? 'udp' : 'tcp';
    if (door.port.nodePort === undefined)
      this.way.stage(
        'open step',
        'open',
        `The cluster gives the NodePort of ${nameOf(service)}: ${nodePort} stands for it here.`,
        subject,
      );
    const [node, ...rest] = this.nodesOf(cluster);
    if (node === undefined)
      throw this.way.stop('broken', 503, 'members', `${cluster.name} has no node range yet.`, {
        kind: 'clusters',
        id: cluster.id,
      });
    if (backend !== undefined) this.health(backend, from, node, nodePort);
    const chosen: Choice | undefined = backend && { by: 'backend nodes', name: backend.name, method: backend.method };
    this.way.fromBalancer(from, node, protocol, nodePort, chosen);
    for (const other of rest) this.way.further(from, other, protocol, nodePort, true);
    const isLocal = service.externalPolicy === 'local';
    this.way.stage(
      'members',
      'ok',
      isLocal
        ? `Nodes pass calls only to their own pods of ${nameOf(service)}, and leave the client’s address as it is.`
        : `Any node passes calls on to any pod of ${nameOf(service)}, with its own address in place of the client’s.`,
      subject,
    );
    if (!isLocal) this.way.seen = { ...this.way.seen, address: node.address, instead: `the address of a node` };
    return this.podsOf(service, port, node, share);
  }

  /** Health checks go to every member; where they cannot, no member counts as healthy. */
  private health({ id, name, healthPort }: Backend, from: Host, to: Host, port: number): void {
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
      `Health checks of ${name} on tcp ${healthPort} do not reach ${to.label}, so that no member counts as healthy. ${sayFault(this.state.forwarding.parts, flow)}`.trim(),
      { kind: 'backends', id },
    );
  }

  // In the cluster.

  private atController(
    url: UrlTarget,
    controller: Controller,
    host: Host,
    ports: readonly number[],
    isTls: boolean,
  ): void {
    const call = callOf(url);
    const door = byId(this.state.parts.services, controller.serviceId ?? '');
    const pods =
      door === undefined || controller.tier === 'on a load balancer'
        ? undefined
        : podsBehind(door, this.state.workloadsOf(door.clusterId));
    this.way.via.push({
      what: 'controller',
      name: controller.name,
      pods,
      isSharedByNode: door?.externalPolicy === 'local',
    });
    const { route, gateway } = this.routeFor(url, controller, call, ports, isTls);
    const subject: Subject = { kind: 'ingressRoutes', id: route.id };
    const book = gateway === undefined ? this.state.bookOf(controller) : this.state.bookOfGateway(gateway);
    const lost = book.explain(call, route).slice(0, MOST_LOST);
    this.way.stage(
      'route',
      'ok',
      `${controller.name} takes the ${route.form} ${nameOf(route)}, rule ${route.rule}: ${route.hosts.join(', ') || 'every host'}${route.path}.`,
      subject,
      lost,
    );
    this.admitted(route);
    this.withinLimit(url, route);
    if (route.redirect !== '') {
      const status = Number(route.redirectStatus);
      this.way.stage(
        'route',
        'ok',
        `It sends the client to ${route.redirect} instead, with status ${status}.`,
        subject,
      );
      throw new Stopped('pass', status, `Status ${status}: the client is sent to ${route.redirect}.`);
    }
    const changes = changesOf(route);
    if (changes !== '') this.way.stage('route', 'ok', `On its way the request changes: ${changes}.`, subject);
    this.toServices(route, host);
  }

  private routeFor(url: UrlTarget, controller: Controller, call: Call, ports: readonly number[], isTls: boolean) {
    for (const gateway of this.state.gatewaysOf(controller)) {
      const found = this.atGateway(url, gateway, call, ports, isTls);
      if (found !== undefined) return { route: found, gateway };
    }
    const book = this.state.bookOf(controller);
    const route = book.match(call);
    if (route === undefined) throw this.noRoute(url, controller, call);
    if (isTls)
      this.certified(url, `The Ingress ${nameOf(route)}`, route.certificate, this.state.namesOn(route), {
        kind: 'ingressRoutes',
        id: route.id,
      });
    return { route, gateway: undefined };
  }

  /** The rule of a gateway for a request: that of the listener whose host is most precise. */
  private atGateway(
    url: UrlTarget,
    gateway: Gateway,
    call: Call,
    ports: readonly number[],
    isTls: boolean,
  ): IngressRoute | undefined {
    const listeners = gateway.listeners
      .flatMap((text) => readGatewayListener(text) ?? [])
      .filter((each) => ports.includes(each.port) && coversHost(each.host, call.host, 'labels'))
      .sort((a, b) => b.host.length - a.host.length);
    const [listener] = listeners;
    if (listener === undefined) return undefined;
    const subject: Subject = { kind: 'gateways', id: gateway.id };
    // A tls listener without a certificate passes TLS through to the pods by the name in it.
    const endsTls = listener.protocol === 'https' || (listener.protocol === 'tls' && gateway.certificate !== '');
    if (isTls && endsTls)
      this.certified(
        url,
        `The listener ${listener.name} of the gateway ${nameOf(gateway)}`,
        gateway.certificate,
        this.state.namesOn(gateway),
        subject,
      );
    return this.state.bookOfGateway(gateway).match(call, (route) => attaches(route, gateway, listener));
  }

  private noRoute({ host, path }: UrlTarget, controller: Controller, call: Call): Stopped {
    const books = [
      this.state.bookOf(controller),
      ...this.state.gatewaysOf(controller).map((each) => this.state.bookOfGateway(each)),
    ];
    const lost = books.flatMap((book) => book.explain(call, undefined)).slice(0, MOST_LOST);
    const [first] = lost;
    const nearest =
      first === undefined
        ? ' It has no rule for that host.'
        : ` Nearest is ${nameOf(first.route)}, rule ${first.route.rule}: ${first.why}.`;
    return this.way.stop(
      'broken',
      404,
      'route',
      `No route of ${controller.name} takes ${host}${path}.${nearest}`,
      { kind: 'controllers', id: controller.id },
      lost,
    );
  }

  private admitted({ id, name, namespace, allowedSources }: IngressRoute): void {
    if (allowedSources.length === 0) return;
    const subject: Subject = { kind: 'ingressRoutes', id };
    const { address, instead, isTold } = this.way.seen;
    const seen = isTold ? this.from.address : address;
    if (!prefixList(allowedSources).some((prefix) => containsAddress(prefix, seen))) {
      const lost = instead === '' || isTold ? '' : ` It sees ${instead} in place of the client’s.`;
      throw this.way.stop(
        'refused',
        403,
        'source',
        `${namespace}/${name} accepts requests only from ${allowedSources.join(', ')}, and this one comes from ${formatAddress(seen)}.${lost}`,
        subject,
      );
    }
    this.way.stage('source', 'ok', `${formatAddress(seen)} is among the sources it takes.`, subject);
  }

  private withinLimit(
    { perMinute: asked }: UrlTarget,
    { id, name, namespace, perMinute, limitBy }: IngressRoute,
  ): void {
    if (perMinute === null) return;
    const subject: Subject = { kind: 'ingressRoutes', id };
    const { refused, firstAfter } = limited(asked, perMinute, limitBy);
    if (firstAfter === undefined) {
      this.way.stage('limit', 'ok', `It takes ${perMinute} requests per minute of one client.`, subject);
      return;
    }
    const shared =
      this.way.seen.instead === '' || this.way.seen.isTold
        ? ''
        : ` The limit sees ${this.way.seen.instead} as the client of every call, so all share it.`;
    throw this.way.stop(
      'refused',
      429,
      'limit',
      [
        `${namespace}/${name} takes ${perMinute} requests per minute of one client by ${limitBy}:`,
        `of ${asked} per minute ${percent(refused)} are refused, the first after ${Math.round(firstAfter)} s.${shared}`,
      ].join(' '),
      subject,
    );
  }

  private toServices(route: IngressRoute, from: Host): void {
    const subject: Subject = { kind: 'ingressRoutes', id: route.id };
    const refs = route.backends.flatMap((text) => readBackendRef(text) ?? []);
    const sum = refs.reduce((total, { weight }) => total + weight, 0);
    if (refs.length === 0 || sum === 0)
      throw this.way.stop(
        'broken',
        route.form === 'Ingress' ? 503 : 500,
        'service',
        `${nameOf(route)}, rule ${route.rule}, sends to no service.`,
        subject,
      );
    for (const ref of refs) {
      const { port, weight } = ref;
      if (weight === 0) continue;
      const { service, name } = this.state.serviceOf(route, ref);
      if (service === undefined)
        throw this.way.stop(
          'broken',
          route.form === 'Ingress' ? 503 : 500,
          'service',
          `${nameOf(route)}, rule ${route.rule}, sends to the service ${name}, which does not exist.`,
          subject,
        );
      if (service.namespace !== route.namespace)
        this.way.stage(
          'open step',
          'open',
          `${nameOf(route)} calls a service of another namespace: a ReferenceGrant in ${service.namespace} must allow it, which the plan does not hold.`,
          subject,
        );
      this.callService(service, port, weight / sum, from);
    }
  }

  /** From a machine of the cluster to the pods of a service, of which each gets its share. */
  private callService(service: ClusterService, port: number, share: number, from: Host): void {
    if (service.type === 'ExternalName') {
      this.way.stage('service', 'open', `${nameOf(service)} stands for ${service.externalName}: ask for that name.`, {
        kind: 'services',
        id: service.id,
      });
      throw new Stopped(
        'unknown',
        undefined,
        `${nameOf(service)} stands for the name ${service.externalName}, which is outside the cluster.`,
      );
    }
    if (from.kind === 'balancer') this.fromOutside(service, port, from, share);
    else this.podsOf(service, port, from, share);
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
        [
          `Pods of ${cluster.name} are in an overlay, and ${nameOf(service)} has no NodePort:`,
          `the load balancer ${balancer?.name ?? ''} cannot call them. Make it a NodePort service.`,
        ].join(' '),
        { kind: 'services', id: service.id },
      );
    this.podsOf(service, port, from, share);
  }

  // Across clusters.

  /** A service that other clusters export: its calls go to the lowest rank that is reached, parted by weight. */
  private callImported(imported: Imported, port: number): void {
    const { from } = this;
    const cluster = from.cluster as Cluster;
    const { connection, namespace, name, exporters } = imported;
    const of = (exporter: Exporter): Subject => ({ kind: 'serviceExports', id: exporter.exported.id });
    const open = serving(this.state.forwarding, cluster, imported);
    // Where nobody is reached, the way to the first shows why.
    const [first] = [...exporters].sort((a, b) => a.exported.rank - b.exported.rank);
    const called = open.length > 0 ? open : first === undefined ? [] : [first];
    const sum = called.reduce((total, { exported }) => total + exported.weight, 0);
    for (const exporter of exporters) {
      const blocked = called.includes(exporter)
        ? undefined
        : blockedWay(this.state.forwarding, cluster, imported, exporter);
      if (blocked !== undefined)
        this.way.stage(
          'open step',
          'open',
          `${exporter.cluster.name} exports ${namespace}/${name} too and gets no calls. ${blocked}`,
          of(exporter),
        );
    }
    const rank = called[0]?.exported.rank ?? 1;
    const shown = called.map(
      ({ exported, cluster: at }) =>
        `${at.name}${sum > 0 && called.length > 1 ? ` ${percent(exported.weight / sum)}` : ''}`,
    );
    this.way.stage(
      'members',
      'ok',
      `${namespace}/${name} of ${connection.name} is answered by ${shown.join(', ')}${rank > 1 ? `, in rank ${rank}, since none before is reached` : ''}.`,
    );
    for (const exporter of called) {
      if (exporter.service === undefined)
        throw this.way.stop(
          'broken',
          undefined,
          'service',
          `${exporter.cluster.name} exports ${namespace}/${name}, and has no such service.`,
          of(exporter),
        );
      this.callAcross(imported, exporter, exporter.service, port, sum === 0 ? 1 : exporter.exported.weight / sum, from);
    }
    this.way.members = this.way.members.map((each) => ({ ...each, rank }));
    for (const exporter of exporters) {
      const { service, exported, cluster: at } = exporter;
      if (exported.rank <= rank || service === undefined || exported.weight === 0) continue;
      const door = this.state.answeringAt(service, port);
      const up = (door?.members ?? []).filter(({ workload }) => workload.replicasNow > 0);
      const pods = up.reduce((total, { workload }) => total + workload.replicasNow, 0);
      for (const { workload, port: container = 0 } of up)
        this.way.standby.push({
          service,
          workload,
          port: container,
          share: (exported.weight * workload.replicasNow) / pods,
          cluster: at.name,
          rank: exported.rank,
        });
    }
  }

  private callAcross(
    { connection }: Imported,
    exporter: Exporter,
    service: ClusterService,
    port: number,
    share: number,
    from: Host,
  ): void {
    const own = from.cluster as Cluster;
    if (exporter.cluster.id === own.id || connection.way === 'flat') {
      this.callService(service, port, share, from);
      return;
    }
    const { forwarding } = this.state;
    if (connection.way === 'tunnels') {
      const inner = standingAddress(forwarding, exporter.cluster, service, from.address.family);
      if (inner === undefined && service.type !== 'headless')
        throw this.way.stop('unknown', undefined, 'service', `${exporter.cluster.name} has no service range yet.`, {
          kind: 'clusters',
          id: exporter.cluster.id,
        });
      this.way.seen = {
        ...this.way.seen,
        address: forwarding.crossings.shownIn(connection.id, own.id, from.address),
      };
      this.podsOf(service, port, from, share, (pod, podPort) => {
        const show = (address: Host['address']) =>
          forwarding.crossings.shownIn(connection.id, exporter.cluster.id, address);
        if (service.type === 'headless' || inner === undefined) return { address: show(pod.address) };
        return { address: show(inner), port, service: { address: inner, port, pod, podPort } };
      });
      return;
    }
    this.podsOf(service, port, this.throughRelays(connection, exporter, port, from), share);
  }

  /** To the own relay, from relay to relay over the links that one side dialled, and as the last one on to the pods. */
  private throughRelays(connection: Connection, exporter: Exporter, port: number, from: Host): Host {
    const { forwarding } = this.state;
    const own = from.cluster as Cluster;
    const crossing = forwarding.crossings.between(own.id, exporter.cluster.id, connection.id);
    const subject: Subject = { kind: 'connections', id: connection.id };
    if (crossing === undefined || crossing.isHubMissing)
      throw this.way.stop(
        'broken',
        undefined,
        'members',
        `${connection.name} has no way from ${own.name} to ${exporter.cluster.name}.`,
        subject,
      );
    const relay = (cluster: Cluster, which: 'first' | 'other'): Host => {
      const pod = podHost(
        forwarding,
        { clusterId: cluster.id, nodePoolId: null, zone: '' },
        cluster.family === 'ipv6' ? 6 : 4,
        which,
      );
      if (!pod.ok)
        throw this.way.stop(
          'unknown',
          undefined,
          'members',
          sayProblem(lackProblem(this.state.forwarding.parts, pod.lack)),
          {
            kind: 'clusters',
            id: cluster.id,
          },
        );
      return { ...pod.value, label: `relay of ${cluster.name}` };
    };
    const here = relay(own, 'other');
    // Of several exporters the road to the first is drawn.
    const isDrawn = this.way.members.length === 0;
    if (isDrawn) this.way.leg(from, here, 'tcp', port, false, { by: 'relay', name: connection.name });
    for (const [at, member] of crossing.stops.slice(0, -1).entries()) {
      const next = crossing.stops[at + 1] as Member;
      const link = forwarding.tunnelBetween(connection, member, next);
      if (!link.ok) throw this.way.stop('broken', undefined, 'members', sayLack(forwarding.parts, link.lack), subject);
      const { fault, forth, back, failed, room, from: dialler, to } = link.value;
      if (fault !== undefined)
        throw this.way.stop(
          failed === undefined ? 'broken' : flowVerdict(failed),
          undefined,
          'members',
          `The link of ${connection.name} does not come up: ${sayTunnelFault(forwarding.parts, fault, failed)}`,
          subject,
        );
      if (!isDrawn) continue;
      const isOwn = dialler.member === member;
      const aim = {
        address: to.address,
        protocol: 'tcp' as const,
        port: 0,
        host: to.host,
        isOutside: true,
        label: `${dialler.host.label} to ${to.host.label}`,
      };
      this.way.legs.push({
        flow: {
          from: (isOwn ? dialler : to).host,
          aim,
          verdict: 'pass',
          forth: isOwn ? forth : back,
          back: isOwn ? back : forth,
          failed: undefined,
          room,
        },
        chosen: { by: 'link', dialler: dialler.host.label },
      });
    }
    this.way.via.push({ what: 'relay', name: connection.name, pods: undefined, isSharedByNode: false });
    const there = relay(exporter.cluster, 'first');
    this.way.seen = { address: there.address, instead: `the relay of ${exporter.cluster.name}`, isTold: false };
    return there;
  }

  /** The pods that answer at a port of a service; one of them is called on the main road, one of each further workload beside it. */
  private podsOf(
    service: ClusterService,
    port: number,
    from: Host,
    share = 0,
    seenAt?: (pod: Host, port: number) => SeenAt,
  ): { readonly host: Host; readonly port: number } {
    const subject: Subject = { kind: 'services', id: service.id };
    const door = this.doorOf(service, port);
    const up = door.members.filter(({ workload }) => workload.replicasNow > 0);
    const [first] = up;
    if (first === undefined)
      throw this.way.stop(
        'broken',
        503,
        'members',
        `${nameOf(service)} has no pods: ${door.members.length === 0 ? 'its selector selects none' : 'its workloads run none'}.`,
        subject,
      );
    const deaf = up.find((each) => each.port === undefined);
    if (deaf !== undefined)
      throw this.way.stop(
        'broken',
        502,
        'members',
        `${nameOf(service)} sends to the container port ${door.port.target}, on which ${nameOf(deaf.workload)} does not listen.`,
        subject,
      );
    const pods = up.reduce((sum, { workload }) => sum + workload.replicasNow, 0);
    const protocol = door.port.protocol === 'udp' ? 'udp' : 'tcp';
    const isMain = share === 0 || this.way.members.length === 0;
    const reached = up.map(({ workload, port: open = 0 }, at) => {
      const whole = this.podOf(workload, from);
      const isOwn = from.cluster?.id === workload.clusterId;
      // Nodes and load balancers pass on calls of others: policies of the pod hold them by the address that it sees.
      const isPassedOn = from.kind === 'node' || from.kind === 'balancer';
      if (isPassedOn) this.heldByPolicies(whole, protocol, open);
      const target = isPassedOn ? unguarded(whole) : whole;
      if (at === 0 && isMain)
        this.way.fromBalancer(
          from,
          target,
          protocol,
          open,
          { by: 'service', name: nameOf(service) },
          !isOwn,
          seenAt?.(target, open),
        );
      else this.way.further(from, target, protocol, open, !isOwn, seenAt?.(target, open));
      if (share > 0)
        this.way.members.push({
          service,
          workload,
          port: open,
          share: (share * workload.replicasNow) / pods,
          cluster: this.clusterOf(service).name,
          rank: 1,
        });
      return { host: whole, port: open };
    });
    this.way.stage(
      'service',
      'ok',
      `${nameOf(service)} has ${pods} ${pods === 1 ? 'pod' : 'pods'} at port ${door.port.port}: ${up.map(({ workload }) => nameOf(workload)).join(', ')}.`,
      subject,
    );
    return reached[0] ?? { host: from, port };
  }

  private heldByPolicies({ guard, cluster }: Host, protocol: 'tcp' | 'udp', port: number): void {
    const said = guard?.judge('ingress', { workload: undefined, address: this.way.seen.address }, protocol, port);
    if (said?.isAllowed !== false) return;
    const id = said.policies[0]?.id ?? '';
    throw this.way.stop('refused', undefined, 'source', sayPolicy(said), {
      kind: id === '' ? 'clusters' : 'networkPolicies',
      id: id === '' ? (cluster?.id ?? '') : id,
    });
  }

  private doorOf(service: ClusterService, port: number) {
    const door = this.state.answeringAt(service, port);
    if (door !== undefined) return door;
    const has = service.ports.join('; ');
    throw this.way.stop(
      'broken',
      503,
      'service',
      `The service ${nameOf(service)} has no port ${port}${has === '' ? '' : `; it has ${has}`}.`,
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
        'unknown',
        undefined,
        'members',
        made.ok ? 'The cluster is gone.' : sayProblem(lackProblem(this.state.forwarding.parts, made.lack)),
        { kind: 'workloads', id: workload.id },
      );
    return {
      ...made.value,
      label: `pod of ${nameOf(workload)}`,
      guard: this.state.policiesOf(cluster).guardOf(workload),
    };
  }

  private nodesOf(cluster: Cluster): Host[] {
    const ranges = this.state.forwarding.rangesOf(cluster.id).filter(({ purpose }) => purpose === 'node');
    const own = ranges.filter((range) => rangeOf(range).family === this.from.address.family);
    return own.flatMap(({ zone, turn }) => {
      const node = nodeHost(
        this.state.forwarding,
        { clusterId: cluster.id, nodePoolId: null, zone, turn },
        this.from.address.family,
      );
      return node.ok ? [node.value] : [];
    });
  }

  private clusterOf({ clusterId }: ClusterService): Cluster {
    const cluster = byId(this.state.parts.clusters, clusterId);
    if (cluster === undefined)
      throw this.way.stop('unknown', undefined, 'service', 'The cluster of that service is gone.');
    return cluster;
  }

  private serviceOf(controller: Controller): ClusterService {
    const service = byId(this.state.parts.services, controller.serviceId ?? '');
    if (service === undefined)
      throw this.way.stop(
        'broken',
        503,
        'service',
        `The controller ${controller.name} names no service of its own: nothing can call it.`,
        { kind: 'controllers', id: controller.id },
      );
    return service;
  }
}

/** Routes that did not get a request, shown at most. */
const MOST_LOST = 12;

/** Whether a rule attaches to a listener of a gateway, and has a host in common with it. */
export function attaches(
  { listener, namespace, hosts, form }: IngressRoute,
  gateway: Gateway,
  { name, host, protocol }: { readonly name: string; readonly host: string; readonly protocol: string },
): boolean {
  if (listener !== '' && listener !== name) return false;
  if (gateway.takesFrom === 'its namespace' && namespace !== gateway.namespace) return false;
  const isWeb = protocol === 'http' || protocol === 'https';
  if (isWeb !== (form === 'HTTPRoute')) return false;
  return hosts.length === 0 || hosts.some((own) => commonHost(host, own.toLowerCase()) !== undefined);
}

function callOf({ host, path, method, headers, query }: UrlTarget): Call {
  const sent = new Map<string, string>();
  // Of a header that comes twice the values are one list (RFC 9110 5.3).
  for (const { name, value } of headers) sent.set(name, sent.has(name) ? `${sent.get(name) ?? ''}, ${value}` : value);
  const asked = new Map<string, string>();
  for (const [name, value] of new URLSearchParams(query)) if (!asked.has(name)) asked.set(name, value);
  return { host, path: path === '' ? '/' : decoded(path), method, headers: sent, query: asked };
}

function decoded(path: string): string {
  try {
    return decodeURI(path);
  } catch {
    return path;
  }
}

/** Labels that two names have in common, from the right. */
function sharedLabels(a: string, b: string): number {
  const [x, y] = [a.split('.').reverse(), b.split('.').reverse()];
  const differs = x.findIndex((label, at) => label !== y[at]);
  return differs < 0 ? x.length : differs;
}

function unguarded({ guard: _, ...host }: Host): Host {
  return host;
}

/** What a route does to a request before it is sent on, and how it is sent, in words. */
function changesOf({
  rewritePath,
  rewriteHost,
  headerChanges,
  mirror,
  timeoutMs,
  retries,
  pathType,
}: IngressRoute): string {
  return [
    rewritePath === '' ? '' : `${pathType === 'Prefix' ? 'the matched prefix' : 'the path'} becomes ${rewritePath}`,
    rewriteHost === '' ? '' : `the host becomes ${rewriteHost}`,
    ...headerChanges.map((change) => `header: ${change}`),
    mirror === '' ? '' : `a copy goes to ${mirror}`,
    timeoutMs === null ? '' : `it ends after ${timeoutMs} ms`,
    retries === 0 ? '' : `it is sent again up to ${retries} times`,
  ]
    .filter((each) => each !== '')
    .join('; ');
}

function podsBehind(service: ClusterService, workloads: readonly Workload[]): number {
  return selectedBy(service, workloads).reduce((sum, { replicasNow }) => sum + replicasNow, 0);
}

function lowered(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}
