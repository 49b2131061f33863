import { containsAddress, formatAddress } from '../address/index.js';
import type { Host } from '../forwarding/index.js';
import {
  byId,
  isRivalListener,
  listenersOf,
  podsFor,
  prefixList,
  readBackendRef,
  readRedirect,
  redirectOf,
  selectedBy,
} from '../plan/index.js';
import type {
  BackendRef,
  ClusterService,
  Controller,
  Gateway,
  IngressRoute,
  OwnListener,
  UrlTarget,
  Workload,
} from '../plan/index.js';
import type { Subject, NearestRoute, RequestChanges, Speaker } from '../road/index.js';
import { certifies, coversHost } from '../zones/index.js';
import { isOlder, limited, unsentStatus, nameOf } from '../ingress/index.js';
import { certified } from './certified.js';
import type { IngressState, Call } from '../ingress/index.js';
import type { RequestProgress } from './requestProgress.js';
import { Stopped } from './requestProgress.js';
import type { ServiceCalls } from './serviceCalls.js';
import { formatRequest } from '../english/index.js';

/** What a controller does with a request: its routes, sources, limits and the services that they name. */
export class ControllerCalls {
  constructor(
    private readonly state: IngressState,
    private readonly way: RequestProgress,
    private readonly from: Host,
    private readonly services: ServiceCalls,
  ) {}

  atController(url: UrlTarget, controller: Controller, host: Host, ports: readonly number[], tls: Tls): void {
    const call = callOf(url);
    const controllerService = byId(this.state.parts.services, controller.serviceId ?? '');
    const pods =
      controllerService === undefined || controller.tier === 'on a load balancer'
        ? undefined
        : podsBehind(controllerService, this.state.workloadsOf(controllerService.clusterId));
    this.way.via.push({
      what: 'controller',
      name: controller.name,
      pods,
      isSharedByNode: controllerService?.externalPolicy === 'local',
    });
    const { route, gateway, admits } = this.routeFor(url, controller, call, ports, tls);
    const subject: Subject = { kind: 'ingressRoutes', id: route.id };
    const book = gateway === undefined ? this.state.bookOf(controller) : this.state.bookOfGateway(gateway);
    const lost = book.explain(call, route, admits).slice(0, MAX_LOST);
    this.way.stage(
      'route',
      'ok',
      { code: 'route.taken', controller: controller.name, by: ruleOf(route), hosts: route.hosts, path: route.path },
      subject,
      lost,
    );
    this.admitted(route);
    this.withinLimit(url, route);
    if (route.redirect !== '') {
      const status = Number(route.redirectStatus);
      const to = this.redirected(url, route);
      this.way.stage('route', 'ok', { code: 'route.redirects', to, status }, subject);
      this.way.sentTo = to;
      throw new Stopped('pass', status, formatRequest(this.state.forwarding.parts, { code: 'route.sent', to, status }));
    }
    const changes = changesOf(route);
    if (changes !== undefined) this.way.stage('route', 'ok', { code: 'route.changes', changes }, subject);
    this.toServices(route, host);
  }

  private redirected(url: UrlTarget, route: IngressRoute): string {
    const read = readRedirect(route.redirect);
    if (read === undefined) return route.redirect;
    const { scheme, host, port, query } = url;
    const path = url.path === '' ? '/' : url.path;
    return redirectOf(read, { scheme, host, port, path, query, prefix: route.path });
  }

  private routeFor(url: UrlTarget, controller: Controller, call: Call, ports: readonly number[], tls: Tls) {
    for (const gateway of this.state.gatewaysOf(controller)) {
      const found = this.atGateway(url, gateway, call, ports, tls);
      if (found !== undefined) return { ...found, gateway };
    }
    const book = this.state.bookOf(controller);
    // TLS is made before anybody knows the path: by the certificate of any rule for the host.
    if (book.hasHost(call.host) !== undefined) this.handshake(url, controller, call, ports, tls);
    const route = book.match(call);
    if (route === undefined) throw this.noRoute(url, controller, call, ports);
    this.comesFirst(route, book.undecided(call, route));
    return { route, gateway: undefined, admits: () => true };
  }

  /** Whether TLS and the port agree, and which certificate is shown for the host, whatever the path. */
  private handshake(url: UrlTarget, controller: Controller, call: Call, ports: readonly number[], tls: Tls): void {
    const [port = url.port] = ports;
    const subject: Subject = { kind: 'controllers', id: controller.id };
    const speaksTls = TLS_PORTS.has(port);
    this.agrees(url, { is: 'controller', controller: controller.name, port }, speaksTls, tls, subject);
    if (tls !== 'arrives') return;
    const own = this.state
      .bookOf(controller)
      .routesFor(call.host)
      .filter(({ certificate, certificateHosts }) => certificate !== '' || certificateHosts.length > 0);
    const covering = own.find((route) => certifies(this.state.namesOn(route), call.host)) ?? own[0];
    const shown = covering ?? this.state.bookOf(controller).routesFor(call.host)[0];
    if (shown !== undefined)
      certified(this.way, url, { is: 'Ingress', route: nameOf(shown) }, shown.certificate, this.state.namesOn(shown), {
        kind: 'ingressRoutes',
        id: shown.id,
      });
  }

  /** A request with TLS at a plain port, or without at one that speaks it, is not understood. */
  private agrees(url: UrlTarget, at: Speaker, speaksTls: boolean, tls: Tls, subject: Subject): void {
    if (tls === 'ended here' || speaksTls === (tls === 'arrives')) return;
    throw tls === 'arrives'
      ? this.way.stop('broken', undefined, 'listener', { code: 'tls.plain', at, port: undefined }, subject)
      : this.way.stop('refused', 400, 'listener', { code: 'tls.missing', at, host: url.host }, subject);
  }

  /** The rule of a gateway for a request: that of the listener whose host is most precise. */
  private atGateway(
    url: UrlTarget,
    gateway: Gateway,
    call: Call,
    ports: readonly number[],
    tls: Tls,
  ): { readonly route: IngressRoute; readonly admits: (route: IngressRoute) => boolean } | undefined {
    const listener = listenerFor(gateway, call, ports);
    if (listener === undefined) return undefined;
    const subject: Subject = { kind: 'gateways', id: gateway.id };
    const at: Speaker = { is: 'gateway', listener: listener.name, gateway: nameOf(gateway) };
    this.mayStand(gateway, listener, subject);
    // A tls listener without a certificate passes TLS through to the pods by the name in it.
    const endsTls = listener.protocol === 'https' || (listener.protocol === 'tls' && listener.certificate !== '');
    const isWeb = listener.protocol === 'http' || listener.protocol === 'https' || listener.protocol === 'tls';
    if (isWeb) this.agrees(url, at, listener.protocol !== 'http', tls, subject);
    if (tls === 'arrives' && endsTls && !this.state.mayShow(gateway, listener.certificate))
      throw this.way.stop(
        'broken',
        undefined,
        'certificate',
        { code: 'certificate.not-granted', gateway: nameOf(gateway), certificate: listener.certificate },
        subject,
      );
    if (tls === 'arrives' && endsTls)
      certified(this.way, url, at, listener.certificate, this.state.namesShown(gateway, listener), subject);
    const book = this.state.bookOfGateway(gateway);
    const attached = (route: IngressRoute) => this.state.attaches(route, gateway, listener);
    const accepted = (route: IngressRoute) =>
      attached(route) && !this.state.rivalsOf(route, gateway, listener).some((rival) => isOlder(rival, route));
    const won = book.match(call, accepted);
    if (won === undefined) {
      const left = book.match(call, attached);
      if (left !== undefined) throw this.notAccepted(left, gateway, listener);
      return undefined;
    }
    this.mayBeAccepted(won, gateway, listener);
    this.comesFirst(won, book.undecided(call, won, accepted));
    return { route: won, admits: accepted };
  }

  /** Of two listeners that cannot both be at their port it is not known which one the controller leaves out. */
  private mayStand(gateway: Gateway, listener: OwnListener, subject: Subject): void {
    const rival = listenersOf(gateway).find((each) => each.name !== listener.name && isRivalListener(each, listener));
    if (rival === undefined) return;
    throw this.way.stop(
      'unknown',
      undefined,
      'listener',
      {
        code: 'listener.rivals',
        listener: listener.name,
        rival: rival.name,
        gateway: nameOf(gateway),
        port: listener.port,
      },
      subject,
    );
  }

  private notAccepted(route: IngressRoute, gateway: Gateway, listener: OwnListener): Stopped {
    const rival = this.state.rivalsOf(route, gateway, listener).find((each) => isOlder(each, route));
    return this.way.stop(
      'broken',
      404,
      'route',
      { code: 'route.not-accepted', ...rivalry(route, rival, gateway, listener) },
      { kind: 'ingressRoutes', id: route.id },
    );
  }

  /** Of two rules that ask for the same the older comes first. */
  private comesFirst(route: IngressRoute, other: IngressRoute | undefined): void {
    if (other === undefined) return;
    throw this.way.stop(
      'unknown',
      undefined,
      'route',
      { code: 'route.tie', one: ruleOf(route), other: ruleOf(other) },
      { kind: 'ingressRoutes', id: route.id },
    );
  }

  /** Of a GRPCRoute and an HTTPRoute for one host it is not known which one is the older, and so accepted. */
  private mayBeAccepted(route: IngressRoute, gateway: Gateway, listener: OwnListener): void {
    const rival = this.state.rivalsOf(route, gateway, listener).find((each) => !isOlder(route, each));
    if (rival === undefined) return;
    throw this.way.stop(
      'unknown',
      undefined,
      'route',
      { code: 'route.age-unknown', ...rivalry(route, rival, gateway, listener) },
      { kind: 'ingressRoutes', id: route.id },
    );
  }

  private noRoute({ host, path }: UrlTarget, controller: Controller, call: Call, ports: readonly number[]): Stopped {
    const books = [
      this.state.bookOf(controller),
      ...this.state.gatewaysOf(controller).map((each) => this.state.bookOfGateway(each)),
    ];
    const lost = books.flatMap((book) => book.explain(call, undefined)).slice(0, MAX_LOST);
    const [first] = lost;
    const [closed] = this.state.gatewaysOf(controller).flatMap((gateway) => {
      const route = this.state.bookOfGateway(gateway).match(call);
      return route === undefined ? [] : [{ gateway, route }];
    });
    const nearest: NearestRoute =
      closed !== undefined
        ? closedBy(closed.gateway, closed.route, listenerFor(closed.gateway, call, ports), ports)
        : first === undefined
          ? { is: 'no rule' }
          : { is: 'near', route: nameOf(first.route), rule: first.route.rule, why: first.why };
    return this.way.stop(
      'broken',
      404,
      'route',
      { code: 'route.none', controller: controller.name, host, path, nearest },
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
      throw this.way.stop(
        'refused',
        403,
        'source',
        {
          code: 'source.refused',
          route: `${namespace}/${name}`,
          allowed: allowedSources,
          from: formatAddress(seen),
          hides: isTold ? undefined : instead,
        },
        subject,
      );
    }
    this.way.stage('source', 'ok', { code: 'source.taken', from: formatAddress(seen) }, subject);
  }

  private withinLimit(
    { perMinute: asked }: UrlTarget,
    { id, name, namespace, rateLimitPerMinute, rateLimitAlgorithm }: IngressRoute,
  ): void {
    if (rateLimitPerMinute === null) return;
    const subject: Subject = { kind: 'ingressRoutes', id };
    const { refused, firstAfter } = limited(asked, rateLimitPerMinute, rateLimitAlgorithm);
    if (firstAfter === undefined) {
      this.way.stage('limit', 'ok', { code: 'limit.kept', perMinute: rateLimitPerMinute }, subject);
      return;
    }
    throw this.way.stop(
      'refused',
      429,
      'limit',
      {
        code: 'limit.refused',
        route: `${namespace}/${name}`,
        perMinute: rateLimitPerMinute,
        by: rateLimitAlgorithm,
        asked,
        refused,
        after: firstAfter,
        hides: this.way.seen.isTold ? undefined : this.way.seen.instead,
      },
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
        unsentStatus(route),
        'service',
        { code: 'backends.none', by: ruleOf(route), status: unsentStatus(route) },
        subject,
      );
    const sent = refs.filter(({ weight }) => weight > 0);
    for (const ref of sent) {
      const share = ref.weight / sum;
      if (sent.length > 1) this.way.attempt(share, () => this.toService(route, ref, share, from));
      else this.toService(route, ref, share, from);
    }
  }

  /** One of the services that a rule sends to, with its share of the calls. */
  private toService(route: IngressRoute, ref: BackendRef, share: number, from: Host): void {
    const subject: Subject = { kind: 'ingressRoutes', id: route.id };
    const { service, name } = this.state.serviceOf(route, ref);
    if (service === undefined)
      throw this.way.stop(
        'broken',
        unsentStatus(route),
        'service',
        { code: 'backends.gone', by: ruleOf(route), service: name, status: unsentStatus(route) },
        subject,
      );
    if (!this.state.maySend(route, service))
      throw this.way.stop(
        'broken',
        unsentStatus(route),
        'service',
        {
          code: 'backends.not-granted',
          by: ruleOf(route),
          service: name,
          there: service.namespace,
          here: route.namespace,
          status: unsentStatus(route),
        },
        subject,
      );
    this.services.callService(service, ref.port, share, from);
  }
}

/** The listener that gets a call: of those at its port the one whose host is most precise. */
function listenerFor(gateway: Gateway, call: Call, ports: readonly number[]): OwnListener | undefined {
  const [listener] = listenersOf(gateway)
    .filter((each) => ports.includes(each.port) && coversHost(each.host, call.host, 'labels'))
    .sort((a, b) => b.host.length - a.host.length);
  return listener;
}

/** Why a route of a gateway that matches does not get a call. */
function closedBy(
  gateway: Gateway,
  route: IngressRoute,
  listener: OwnListener | undefined,
  ports: readonly number[],
): NearestRoute {
  return listener === undefined
    ? { is: 'no listener', gateway: nameOf(gateway), ports }
    : { is: 'not attached', listener: listener.name, gateway: nameOf(gateway), route: nameOf(route) };
}

/** A rule by its names. */
function ruleOf(route: IngressRoute) {
  return { form: route.objectKind, route: nameOf(route), rule: route.rule };
}

/** Two routes of which only one is accepted at a listener. */
function rivalry(route: IngressRoute, rival: IngressRoute | undefined, gateway: Gateway, listener: OwnListener) {
  return {
    form: route.objectKind,
    route: nameOf(route),
    rivalForm: rival?.objectKind ?? '',
    rival: rival === undefined ? '' : nameOf(rival),
    listener: listener.name,
    gateway: nameOf(gateway),
  };
}

/** Whether TLS comes with a request, was ended by the same load balancer, or there is none. */
export type Tls = 'arrives' | 'ended here' | 'none';

/** Ports on which a controller speaks TLS for Ingress rules. Source: common practice. */
const TLS_PORTS: ReadonlySet<number> = new Set([443, 8443]);

/** Routes that did not get a request, shown at most. */
const MAX_LOST = 12;

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

/** What a route does to a request before it is sent on, and how it is sent; undefined where it does nothing. */
function changesOf({
  rewritePath,
  rewriteHost,
  headerChanges,
  mirror,
  timeoutMs,
  retries,
  pathType,
}: IngressRoute): RequestChanges | undefined {
  const isChanged = `${rewritePath}${rewriteHost}${headerChanges.join('')}${mirror}` !== '' || timeoutMs !== null;
  return isChanged || retries > 0
    ? {
        rewritePath,
        isPrefix: pathType === 'Prefix',
        rewriteHost,
        headers: headerChanges,
        mirror,
        timeoutMs,
        retries,
      }
    : undefined;
}

function podsBehind(service: ClusterService, workloads: readonly Workload[]): number {
  return selectedBy(service, workloads).reduce((sum, workload) => sum + podsFor(service, workload), 0);
}
