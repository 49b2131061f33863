import { formatAddress, parseAddress } from '../address/index.js';
import { formatAstray } from '../english/index.js';
import type { Astray } from '../english/index.js';
import { balancerHost, balancerInside, traceFlow } from '../forwarding/index.js';
import type { FlowTrace, Host } from '../forwarding/index.js';
import { addressesOf, codeOf, exportedAs } from '../naming/index.js';
import { byId, hostPrefix, readUrl, writeUrl } from '../plan/index.js';
import type { Backend, Balancer, ClusterService, Controller, Listener, UrlTarget } from '../plan/index.js';
import type { Speaker, Subject } from '../road/index.js';
import { coversHost } from '../zones/index.js';
import { AcrossCalls } from './acrossCalls.js';
import type { Answer } from './answer.js';
import { certified } from './certified.js';
import { ControllerCalls } from './controllerCalls.js';
import type { Tls } from './controllerCalls.js';
import { entrancesAt, entrancesOf, hidesPods, nameOf } from '../ingress/index.js';
import type { Entrance, IngressState } from '../ingress/index.js';
import { legsOf, resolveFor, stagesOf, verdictOf } from './nameLegs.js';
import type { Stopped } from './requestProgress.js';
import { RequestProgress } from './requestProgress.js';
import { ServiceCalls } from './serviceCalls.js';

/** Consecutive redirects that a client follows. Source: the Fetch standard, HTTP-redirect fetch. */
const MAX_REDIRECTS = 20;

/** The method with which a client follows a redirect. Source: the Fetch standard, HTTP-redirect fetch; RFC 9110 15.4. */
function methodAfter(status: number | undefined, method: string): string {
  const isGetNow =
    ((status === 301 || status === 302) && method === 'POST') ||
    (status === 303 && method !== 'GET' && method !== 'HEAD');
  return isGetNow ? 'GET' : method;
}

/** Follows one request from a place to the pods that answer it. */
export class RequestWalk {
  private readonly way: RequestProgress;
  private readonly services: ServiceCalls;
  private readonly across: AcrossCalls;
  private readonly controllers: ControllerCalls;
  /** Whether nothing in the plan is for the host. */
  private isOutside = false;

  constructor(
    private readonly state: IngressState,
    private readonly from: Host,
    label: string,
    bytes: number,
  ) {
    this.way = new RequestProgress(state, from, label, bytes);
    this.services = new ServiceCalls(state, this.way, from);
    this.across = new AcrossCalls(state, this.way, from, this.services);
    this.controllers = new ControllerCalls(state, this.way, from, this.services);
  }

  /** Asks for a URL, and then for what the client is sent to; `before` is what it was sent on from. */
  ask(url: UrlTarget, before: readonly string[] = []): Answer {
    const answer = this.asked(url);
    const { sentTo } = this.way;
    return sentTo === undefined ? answer : this.followed(answer, url, sentTo, [...before, writeUrl(url)]);
  }

  /** Asks for a URL at an address that the client connects to, and follows no redirect. */
  askAt(url: UrlTarget, address: string): Answer {
    return this.asked(url, address);
  }

  /** The answer to a client that follows a redirect: what it gets there. */
  private followed(answer: Answer, url: UrlTarget, sentTo: string, before: readonly string[]): Answer {
    const astray = (how: Astray): Answer => {
      const said = formatAstray(how);
      return { ...answer, verdict: 'broken', sentence: how.is === 'loop' ? said : `${answer.sentence} ${said}` };
    };
    const read = readUrl(sentTo);
    if (!read.ok) return astray({ is: 'no URL', why: read.problem.message });
    const { headers, perMinute } = url;
    const { status } = answer;
    const next = { ...read.value, headers, perMinute, method: methodAfter(status, url.method) };
    const words = writeUrl(next);
    if (before.includes(words)) return astray({ is: 'loop', status, to: sentTo, isSame: before.at(-1) === words });
    if (before.length > MAX_REDIRECTS) return astray({ is: 'many', count: before.length, most: MAX_REDIRECTS });
    const walk = new RequestWalk(this.state, this.from, words, this.way.bytes);
    const then = walk.ask(next, before);
    const isOpen = walk.isOutside && then.verdict === 'broken';
    return {
      ...then,
      verdict: isOpen ? 'unknown' : then.verdict,
      status: then.verdict === 'pass' || isOpen ? status : then.status,
      sentence: `${answer.sentence} ${then.sentence}`,
      stages: [...answer.stages, ...then.stages],
      flows: [...then.flows, ...answer.flows],
    };
  }

  private asked(url: UrlTarget, at?: string): Answer {
    return this.way.answered(() => {
      const [entrance, ...more] = at === undefined ? this.entrancesFor(url) : entrancesAt(this.state, at, this.from);
      if (entrance === undefined) throw this.noEntrance(url);
      if (entrance.imported !== undefined) {
        this.across.callImported(entrance.imported, url.port);
        return;
      }
      this.recordEntrance(url, entrance, more);
      if (entrance.service !== undefined) {
        this.services.callService(entrance.service, url.port, 1, this.from);
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
        this.services.callService(service, port, 1, this.from);
        return;
      }
      if (service.type === 'headless' || service.type === 'ClusterIP')
        throw this.way.stop(
          'broken',
          undefined,
          'service',
          { code: 'service.inside', service: nameOf(service), type: service.type },
          { kind: 'services', id: service.id },
        );
      this.services.throughNodes(service, port, this.from, undefined, 1);
    });
  }

  /** Asks a service by its NodePort at a node to which a flow came. */
  askNode(flow: FlowTrace, node: Host, service: ClusterService, port: number): Answer {
    return this.way.answered(() => {
      this.way.legs.push({ flow, chosen: undefined });
      this.services.fromNode(service, port, node, 1, node.pool?.id ?? null);
    });
  }

  // Where it enters.

  /** What the host comes to for who asks. While the plan holds no zones, a host is taken to stand for what is for it. */
  private entrancesFor(url: UrlTarget): Entrance[] {
    const { host } = url;
    if (parseAddress(host).ok) return entrancesAt(this.state, host, this.from);
    const resolution = resolveFor(this.state, this.from, host, this.from.address.family === 6 ? 'AAAA' : 'A');
    this.way.resolution = resolution;
    const { outcome, subject, why } = resolution;
    if (outcome === 'outside' && this.state.names.parts.zones.length === 0)
      return entrancesOf(this.state, url, this.from);
    this.way.stages.push(...stagesOf(this.state, resolution));
    this.way.legs.push(...legsOf(this.from, resolution));
    if (outcome !== 'answer')
      throw this.way.stop(
        verdictOf(resolution),
        undefined,
        'name',
        outcome === 'outside'
          ? { code: 'name.unknown', host, why }
          : { code: 'name.unanswered', host, ended: codeOf[outcome], why },
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
        { code: 'address.unheld', host, address: unheld.address, isPart: addresses.length > 1 },
        subject,
      );
    return found.flatMap(({ entrances }) => entrances);
  }

  private noEntrance({ host }: UrlTarget): Stopped {
    // A wildcard stands for one label in an Ingress, for several in routes of the Gateway API.
    const unserved = this.state.parts.ingressRoutes.find(({ hosts, objectKind }) =>
      hosts.some((own) => coversHost(own.toLowerCase(), host, objectKind === 'Ingress' ? 'one label' : 'labels')),
    );
    if (unserved !== undefined) {
      const classes = this.state.classesOf(unserved);
      const why =
        unserved.objectKind !== 'Ingress' && this.state.parentsOf(unserved).length === 0
          ? 'no gateway'
          : classes.length === 0
            ? 'no class'
            : this.state.controllersOf(unserved).length > 0
              ? unserved.objectKind === 'Ingress'
                ? 'no way'
                : 'no listener'
              : 'no controller';
      return this.way.stop(
        'broken',
        undefined,
        'route',
        { code: 'route.unserved', form: unserved.objectKind, route: nameOf(unserved), host, why, classes },
        { kind: 'ingressRoutes', id: unserved.id },
      );
    }
    this.isOutside = true;
    const known = this.knownHosts();
    const nearest = known
      .filter((each) => sharedLabels(each, host) > 1)
      .sort((a, b) => sharedLabels(b, host) - sharedLabels(a, host));
    return this.way.stop('broken', undefined, 'name', { code: 'host.nowhere', host, nearest: nearest.slice(0, 3) });
  }

  private knownHosts(): string[] {
    const { controllers, gateways } = this.state.parts;
    const books = [
      ...controllers.map((each) => this.state.bookOf(each)),
      ...gateways.map((each) => this.state.bookOfGateway(each)),
    ];
    return [...new Set(books.flatMap((book) => book.hosts()))].filter((host) => host !== '');
  }

  private recordEntrance(
    { host }: UrlTarget,
    { balancer, controller, service, precision }: Entrance,
    more: readonly Entrance[],
  ): void {
    if (service !== undefined) {
      this.way.stage(
        'name',
        'ok',
        { code: 'host.service', host, service: nameOf(service) },
        {
          kind: 'services',
          id: service.id,
        },
      );
      return;
    }
    if (precision === 'address') {
      const shared = [...new Set(more.flatMap((each) => each.balancer?.name ?? []))].filter(
        (name) => name !== balancer?.name,
      );
      if (shared.length > 0) this.way.stage('open step', 'open', { code: 'host.several', host, balancers: shared });
      return;
    }
    const others = more.flatMap((each) => each.balancer?.name ?? []).filter((name) => name !== balancer?.name);
    this.way.stage('name', 'ok', {
      code: 'host.assumed',
      host,
      balancer: balancer?.name,
      controller: controller?.name ?? '',
      others: [...new Set(others)],
    });
  }

  private insideOnly(url: UrlTarget, controller: Controller | undefined): void {
    if (controller === undefined) return;
    const cluster = byId(this.state.parts.clusters, controller.clusterId);
    if (this.from.cluster?.id !== controller.clusterId)
      throw this.way.stop(
        'broken',
        undefined,
        'listener',
        { code: 'controller.inside', controller: controller.name, cluster: cluster?.name ?? '' },
        { kind: 'controllers', id: controller.id },
      );
    const service = this.services.serviceOf(controller);
    const at = this.services.podsOf(service, url.port, this.from);
    this.controllers.atController(url, controller, at.host, [url.port], url.scheme === 'https' ? 'arrives' : 'none');
  }

  private atBalancer(url: UrlTarget, balancer: Balancer, controller: Controller | undefined): void {
    const subject: Subject = { kind: 'balancers', id: balancer.id };
    const host = balancerHost(this.state.forwarding, balancer);
    if (host === undefined)
      throw this.way.stop(
        'broken',
        undefined,
        'listener',
        { code: 'balancer.no-subnet', balancer: balancer.name },
        subject,
      );
    this.way.via.push({ what: 'load balancer', name: balancer.name, pods: undefined, isSharedByNode: false });
    const listener = this.listenerOn(url.port, balancer);
    if (balancer.address === null)
      this.way.stage(
        'open step',
        'open',
        { code: 'balancer.open', balancer: balancer.name, address: formatAddress(host.address) },
        subject,
      );
    this.way.leg(this.from, host, 'tcp', url.port, true);
    const isEnded = this.atListener(url, listener, balancer);
    const isTls = url.scheme === 'https' && !isEnded;
    const inside = balancerInside(this.state.forwarding, balancer) ?? host;
    if (balancer.client === 'replaced')
      this.way.seen = {
        address: inside.address,
        instead: { is: 'balancer', balancer: balancer.name },
        isTold: balancer.layer === '7' && !isTls,
      };
    if (controller?.tier === 'on a load balancer' && balancer.layer === '7') {
      this.controllers.atController(
        url,
        controller,
        inside,
        [url.port],
        isTls ? 'arrives' : isEnded ? 'ended here' : 'none',
      );
      return;
    }
    const backend = byId(this.state.parts.backends, listener.backendId ?? '');
    if (backend === undefined)
      throw this.way.stop(
        'broken',
        503,
        'members',
        { code: 'listener.no-backend', listener: listener.name, balancer: balancer.name },
        { kind: 'listeners', id: listener.id },
      );
    const isSpoken = backend.protocol === 'https' ? isEnded : isTls;
    this.toBackend(url, backend, inside, controller, isSpoken || isTls);
  }

  private listenerOn(asked: number, balancer: Balancer): Listener {
    const listeners = this.state.listenersOf(balancer);
    const listener = listeners.find(({ port, protocol }) => port === asked && protocol !== 'udp');
    if (listener !== undefined) return listener;
    const has = listeners.map(({ protocol, port }) => `${protocol} ${port}`);
    throw this.way.stop(
      'broken',
      undefined,
      'listener',
      { code: 'balancer.no-listener', balancer: balancer.name, port: asked, has },
      { kind: 'balancers', id: balancer.id },
    );
  }

  /** Whether TLS ends at the listener; a request that it does not understand stops there. */
  private atListener(url: UrlTarget, listener: Listener, balancer: Balancer): boolean {
    const { id, name, protocol, certificate } = listener;
    const subject: Subject = { kind: 'listeners', id };
    const at: Speaker = { is: 'balancer', listener: name, balancer: balancer.name };
    if (protocol === 'tcp') {
      this.way.stage('listener', 'ok', { code: 'listener.passes', at, port: url.port }, subject);
      return false;
    }
    if ((protocol === 'https' || protocol === 'tls') && url.scheme === 'http')
      throw this.way.stop('refused', 400, 'listener', { code: 'tls.missing-on', at, port: url.port }, subject);
    if (protocol === 'http' && url.scheme === 'https')
      throw this.way.stop('broken', undefined, 'listener', { code: 'tls.plain', at, port: url.port }, subject);
    this.way.stage('listener', 'ok', { code: 'listener.takes', at, protocol, port: url.port }, subject);
    if (protocol === 'http') return false;
    certified(this.way, url, at, certificate, this.state.namesOn(listener), subject);
    return true;
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
    if (backend.members === 'addresses') {
      this.toAddresses(backend, inside);
      return;
    }
    const service = byId(this.state.parts.services, backend.serviceId ?? '');
    if (service === undefined)
      throw this.way.stop('broken', 503, 'members', { code: 'backend.no-service', backend: backend.name }, subject);
    const isOfController = controller?.serviceId === service.id;
    const target =
      backend.members === 'nodes'
        ? this.services.throughNodes(service, backend.port, inside, backend, isOfController ? 0 : 1)
        : this.toPods(service, backend, inside, isOfController ? 0 : 1);
    if (controller !== undefined && isOfController)
      this.controllers.atController(url, controller, target.host, [backend.port, url.port], tlsAt(backend, isTls, url));
  }

  /** To fixed addresses, each with the same share; where an address is, is found on the way. */
  private toAddresses(backend: Backend, inside: Host): void {
    const subject: Subject = { kind: 'backends', id: backend.id };
    const { forwarding } = this.state;
    const [first, ...rest] = backend.addresses;
    if (first === undefined)
      throw this.way.stop('broken', 503, 'members', { code: 'backend.empty', backend: backend.name }, subject);
    const at = (address: string): Host => ({
      kind: 'machine',
      label: address,
      address: hostPrefix(address),
      networkId: inside.networkId,
      zone: '',
      isPublic: false,
      attachable: [],
    });
    this.services.health(backend, inside, at(first), backend.port);
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
    if (main.verdict !== 'pass') throw this.way.failed(main, { from: inside.label, to: first, protocol: '', port: 0 });
    const share = 1 / (rest.length + 1);
    const others = rest.map((address) => ({ address, flow: flow(address), share }));
    this.way.others.push(...others);
    const reached = others.filter((each) => each.flow.verdict === 'pass');
    this.way.addresses.push(first, ...reached.map(({ address }) => address));
    this.way.stage(
      'members',
      'ok',
      { code: 'backend.addresses', backend: backend.name, count: backend.addresses.length },
      subject,
    );
  }

  private toPods(service: ClusterService, backend: Backend, inside: Host, share: number) {
    const cluster = this.services.clusterOf(service);
    if (hidesPods(cluster, byId(this.state.parts.balancers, backend.balancerId)))
      throw this.way.stop(
        'broken',
        503,
        'members',
        { code: 'pods.hidden-from', cluster: cluster.name },
        { kind: 'backends', id: backend.id },
      );
    const at = this.services.podsOf(service, backend.port, inside, share);
    this.services.health(backend, inside, at.host, at.port);
    return at;
  }
}

/** How a request comes to a controller behind a load balancer; where the backend does not say how it is called, that is not judged. */
function tlsAt({ protocol }: Backend, isTls: boolean, { scheme }: UrlTarget): Tls {
  if (isTls) return 'arrives';
  return scheme === 'https' && protocol === 'tcp' ? 'ended here' : 'none';
}

/** Labels that two names have in common, from the right. */
function sharedLabels(a: string, b: string): number {
  const [x, y] = [a.split('.').reverse(), b.split('.').reverse()];
  const differs = x.findIndex((label, at) => label !== y[at]);
  return differs < 0 ? x.length : differs;
}
