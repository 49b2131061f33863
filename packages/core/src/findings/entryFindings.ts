import { parseAddress } from '../address/index.js';
import {
  areUndated,
  byOrder,
  carries,
  ingress as compiled,
  isOlder,
  isPattern,
  unsentStatus,
} from '../ingress/index.js';
import type { FactCode, FactOf, FixFact, RuleOf, Unattached } from '../english/index.js';
import { certifies, commonHost, coversHost, MAX_LABEL } from '../zones/index.js';
import type { IngressState } from '../ingress/index.js';
import {
  addOperation,
  addTo,
  byId,
  grouped,
  isRivalListener,
  listenersOf,
  newId,
  readBackendRef,
  readCondition,
  readServicePort,
  secretOf,
  takesRoutesOf,
  withFallbacks,
} from '../plan/index.js';
import type { ClusterService, Controller, Gateway, IngressRoute } from '../plan/index.js';
import { bySubject, ownersIn, together, unless } from '../section/index.js';
import { finding } from './finding.js';
import type { Finding, Fix, Severity } from './finding.js';

/** Routes of clusters that nobody carries out, that lead nowhere, or that never get a call. */
export const entryFindings = bySubject({
  name: 'entry points',
  reads: [],
  needs: { ingress: compiled },
  subjects: (_, { ingress }) => ingress.parts.clusters,
  dependsOn: ({ id }, _, { ingress }) => entryDependsOn(ingress, id),
  near: ({ needed: { ingress: was } }, { needed: { ingress: is } }) =>
    together(
      unless([was.parts.balancers, is.parts.balancers], [was.parts.listeners, is.parts.listeners]),
      ownersIn(was.parts, is.parts, ['clusters'], 'id'),
      ownersIn(was.parts, is.parts, ['ingressRoutes', 'controllers', 'services', 'gateways', 'referenceGrants']),
      ownersIn(was.names.parts, is.names.parts, ['certificates']),
    ),
  look: ({ id }, _, { ingress }) => {
    const routes = ingress.routesOf(id);
    const controllers = grouped(ingress.parts.controllers, 'clusterId').get(id) ?? [];
    const twice = new Set<string>();
    return [
      ...routes.flatMap((route) => routeFindings(ingress, route)),
      ...covered(routes),
      ...controllers.flatMap((controller) => classesTwice(ingress, controller, twice)),
      ...ingress
        .gatewaysIn(id)
        .flatMap((gateway) => [...ungrantedSecrets(ingress, gateway), ...rivalListeners(ingress, gateway)]),
    ];
  },
});

/** What is found about the routes of a cluster follows from these. */
function entryDependsOn(state: IngressState, clusterId: string): unknown[] {
  const { parts } = state;
  const routes = state.routesOf(clusterId);
  const controllers = grouped(parts.controllers, 'clusterId').get(clusterId) ?? [];
  const gateways = state.gatewaysIn(clusterId);
  if (routes.length + controllers.length + gateways.length === 0) return [];
  const grants = grouped(parts.referenceGrants, 'clusterId').get(clusterId) ?? [];
  const dependsOn: unknown[] = [
    byId(parts.clusters, clusterId),
    ...routes,
    ...controllers,
    ...state.servicesOf(clusterId),
    ...grants,
    ...gateways,
  ];
  for (const route of routes) {
    const parents = state.parentsOf(route);
    for (const { gateway } of parents)
      dependsOn.push(gateway, ...listenersOf(gateway).map((listener) => state.namesShown(gateway, listener)));
    if (parents.length === 0 && route.certificate !== '') dependsOn.push(state.namesOn(route));
  }
  for (const { balancerId } of controllers) {
    const balancer = byId(parts.balancers, balancerId ?? '');
    if (balancer === undefined) continue;
    dependsOn.push(balancer);
    for (const listener of state.listenersOf(balancer)) dependsOn.push(listener, state.namesOn(listener));
  }
  return dependsOn;
}

function routeFindings(state: IngressState, route: IngressRoute): Finding[] {
  // Of most routes nothing is told, so what says which it is waits until something is.
  const tell: Tell = (code, severity, fact, part = '', fixes = []) => {
    const subjects = [
      { kind: 'ingressRoutes', id: route.id },
      { kind: 'clusters', id: route.clusterId },
    ] as const;
    const rule = {
      cluster: byId(state.parts.clusters, route.clusterId)?.name ?? '',
      form: route.objectKind,
      route: `${route.namespace}/${route.name}`,
      rule: route.rule,
    };
    return finding(code, severity, subjects, { rule, ...fact } as FactOf<typeof code>, {
      part: `${route.id} ${part}`,
      fixes,
    });
  };
  const parents = state.parentsOf(route);
  const serving = state.controllersOf(route);
  return [
    ...attachment(state, route, tell),
    ...rivals(state, route, tell),
    ...hostsOf(route, tell),
    ...services(state, route, tell),
    ...(parents.length === 0
      ? certificates(state, route, undefined, tell)
      : parents.flatMap(({ gateway }) => certificates(state, route, gateway, tell))),
    ...frontCertificates(state, route, serving, tell),
    ...patterns(route, tell),
    ...(route.isDeprecatedVersion ? [tell('entry.retired', 'warning', {})] : []),
  ];
}

/** Findings on a rule of a route. */
type RuleCode = {
  [Code in FactCode]: FactOf<Code> extends { readonly rule: RuleOf } ? Code : never;
}[FactCode];

/** A finding on the rule that is looked at. */
type Tell = <Code extends RuleCode>(
  code: Code,
  severity: Severity,
  fact: Omit<FactOf<Code>, 'rule'>,
  part?: string,
  fixes?: readonly Fix[],
) => Finding;

/** Whether anybody carries the route out: a gateway with a listener for it, and a controller. */
function attachment(state: IngressState, route: IngressRoute, tell: Tell): Finding[] {
  const parents = state.parentsOf(route);
  if (route.objectKind !== 'Ingress' && parents.length === 0) return [tell('entry.unattached:no-gateway', 'error', {})];
  if (state.controllersOf(route).length === 0)
    return [tell('entry.class', 'error', { classes: state.classesOf(route) })];
  return parents
    .filter(({ gateway }) => !listenersOf(gateway).some((each) => state.attaches(route, gateway, each)))
    .map(({ gateway, listener }) =>
      tell(
        'entry.unattached',
        'error',
        { gateway: `${gateway.namespace}/${gateway.name}`, why: unattached(state, route, listener, gateway) },
        gateway.id,
      ),
    );
}

/** Routes of HTTP that share a host with one of gRPC at a listener: one of the two is not accepted. */
function rivals(state: IngressState, route: IngressRoute, tell: Tell): Finding[] {
  if (route.objectKind !== 'GRPCRoute') return [];
  const told = new Set<string>();
  return state.parentsOf(route).flatMap(({ gateway }) =>
    listenersOf(gateway)
      .filter((listener) => state.attaches(route, gateway, listener))
      .flatMap((listener) =>
        state.rivalsOf(route, gateway, listener).flatMap((rival) => {
          const label = `${rival.objectKind} ${rival.namespace}/${rival.name}`;
          const at = `${gateway.namespace}/${gateway.name}`;
          if (told.has(`${at} ${label}`)) return [];
          told.add(`${at} ${label}`);
          const own = `${route.objectKind} ${route.namespace}/${route.name}`;
          const older = isOlder(route, rival) ? own : isOlder(rival, route) ? label : undefined;
          const fact = { rival: label, listener: listener.name, gateway: at, accepted: older };
          return [tell('entry.two-kinds', 'error', fact, `${gateway.id} ${label}`)];
        }),
      ),
  );
}

function hostsOf({ hosts }: IngressRoute, tell: Tell): Finding[] {
  return hosts.filter((host) => parseAddress(host).ok).map((host) => tell('entry.host', 'error', { host }, host));
}

function patterns({ pathType, path, headers, query }: IngressRoute, tell: Tell): Finding[] {
  const conditions = [...headers, ...query]
    .flatMap((text) => readCondition(text) ?? [])
    .filter(({ how }) => how === 'matches')
    .map(({ value }) => value);
  return [...(pathType === 'RegularExpression' ? [path] : []), ...conditions]
    .filter((pattern) => !isPattern(pattern))
    .map((pattern) => tell('entry.pattern', 'error', { pattern }, pattern));
}

function services(state: IngressState, route: IngressRoute, tell: Tell): Finding[] {
  const refs = route.backends.flatMap((text) => readBackendRef(text) ?? []);
  if (refs.length === 0 && route.redirect === '')
    return [tell('entry.no-service', 'error', { status: unsentStatus(route) })];
  return refs.flatMap((ref) => {
    const { port } = ref;
    const { service, name: label } = state.serviceOf(route, ref);
    if (service === undefined)
      return [tell('entry.no-service:gone', 'error', { service: label, status: unsentStatus(route) }, label)];
    const granted = state.maySend(route, service) ? [] : [ungranted(route, service, tell)];
    const ports = service.ports.flatMap((text) => readServicePort(text) ?? []);
    if (ports.some((each) => each.port === port)) return granted;
    return [
      ...granted,
      tell('entry.no-port', 'error', { service: label, port, ports: ports.map((each) => each.port) }, label),
    ];
  });
}

/** A finding on a gateway. */
function ofGateway<Code extends 'entry.grant:secret' | 'entry.listeners'>(
  state: IngressState,
  { id, clusterId, namespace, name }: Gateway,
  code: Code,
  fact: Omit<FactOf<Code>, 'cluster' | 'gateway'>,
  part: string,
  fixes: readonly Fix[] = [],
): Finding {
  const subjects = [
    { kind: 'gateways', id },
    { kind: 'clusters', id: clusterId },
  ] as const;
  const at = { cluster: byId(state.parts.clusters, clusterId)?.name ?? '', gateway: `${namespace}/${name}` };
  return finding(code, 'error', subjects, { ...at, ...fact } as FactOf<Code>, { part: `${id} ${part}`, fixes });
}

/** The fix that adds the smallest grant: objects of one kind and namespace may name one object. */
function granting(
  offer: FixFact,
  { clusterId, namespace }: Gateway | IngressRoute,
  from: string,
  to: { readonly kind: 'Service' | 'Secret'; readonly namespace: string; readonly name: string },
): Fix {
  const label = `${from.toLowerCase()}-of-${namespace}-to-${to.name.replaceAll('.', '-')}`;
  const grant = withFallbacks('referenceGrants', {
    id: newId(),
    clusterId,
    namespace: to.namespace,
    name: label.slice(0, MAX_LABEL).replace(/-+$/, ''),
    from: [`${from} in ${namespace}`],
    to: [`${to.kind} ${to.name}`],
  });
  return { kind: 'change', offer, operations: [addOperation('referenceGrants', grant)] };
}

/** Certificates of another namespace that no grant there lets a gateway use: no TLS connection is made with them. */
function ungrantedSecrets(state: IngressState, gateway: Gateway): Finding[] {
  const own = gateway.namespace;
  const shown = new Set(listenersOf(gateway).map(({ certificate }) => certificate));
  return [...shown].flatMap((certificate) => {
    const { namespace, name } = secretOf(certificate, own);
    if (certificate === '' || state.mayShow(gateway, certificate)) return [];
    return [
      ofGateway(state, gateway, 'entry.grant:secret', { certificate, namespace, own }, certificate, [
        granting({ code: 'grant.secret', namespace: own, certificate }, gateway, 'Gateway', {
          kind: 'Secret',
          namespace,
          name,
        }),
      ]),
    ];
  });
}

/** Listeners of a gateway that cannot both be at their port. */
function rivalListeners(state: IngressState, gateway: Gateway): Finding[] {
  const own = listenersOf(gateway);
  return own.flatMap((listener, at) => {
    const rival = own.slice(0, at).find((each) => isRivalListener(each, listener));
    if (rival === undefined) return [];
    const fact = { one: rival, other: listener, port: listener.port };
    return [ofGateway(state, gateway, 'entry.listeners', fact, listener.name)];
  });
}

/** A service of another namespace that no grant there lets the route name: the smallest grant is offered. */
function ungranted(route: IngressRoute, service: ClusterService, tell: Tell): Finding {
  const { objectKind, namespace } = route;
  const label = `${service.namespace}/${service.name}`;
  return tell(
    'entry.grant',
    'error',
    { service: label, namespace: service.namespace, status: unsentStatus(route) },
    `grant ${label}`,
    [
      granting({ code: 'grant.service', form: objectKind, namespace, service: label }, route, objectKind, {
        kind: 'Service',
        namespace: service.namespace,
        name: service.name,
      }),
    ],
  );
}

function certificates(state: IngressState, route: IngressRoute, gateway: Gateway | undefined, tell: Tell): Finding[] {
  if (gateway === undefined)
    return route.certificate === '' ? [] : uncovered(route.hosts, route.certificate, state.namesOn(route), tell);
  return listenersOf(gateway)
    .filter((listener) => listener.protocol === 'https' && state.attaches(route, gateway, listener))
    .flatMap((listener) => {
      const hosts = route.hosts.filter((host) => commonHost(listener.host, host.toLowerCase()) !== undefined);
      return uncovered(hosts, listener.certificate, state.namesShown(gateway, listener), tell, listener.name);
    });
}

/** Hosts that a certificate does not cover, or may not cover, since its names are not entered. */
function uncovered(
  hosts: readonly string[],
  certificate: string,
  covered: readonly string[],
  tell: Tell,
  at = '',
): Finding[] {
  if (certificate !== '' && covered.length === 0 && hosts.length > 0)
    return [tell('entry.certificate-names', 'warning', { certificate, hosts }, at)];
  return hosts
    .filter((host) => !certifies(covered, host.toLowerCase()))
    .map((host) =>
      tell('entry.certificate', 'error', { host, certificate, covered }, at === '' ? host : `${at} ${host}`),
    );
}

/** Load balancers of layer 7 end TLS themselves: what stands before the route must cover its hosts, too. */
function frontCertificates(
  state: IngressState,
  { hosts }: IngressRoute,
  serving: readonly Controller[],
  tell: Tell,
): Finding[] {
  return serving.flatMap(({ balancerId }) => {
    const balancer = byId(state.parts.balancers, balancerId ?? '');
    if (balancer?.layer !== '7') return [];
    const all = state
      .listenersOf(balancer)
      .filter(
        ({ protocol, certificate, certificateHosts }) =>
          protocol === 'https' && (certificate !== '' || certificateHosts.length > 0),
      );
    const ended = all.filter((listener) => state.namesOn(listener).length > 0);
    // One whose names are not entered may cover what the others do not: that is told of the listener.
    if (ended.length === 0 || ended.length < all.length) return [];
    return hosts
      .filter((host) => !ended.some((listener) => certifies(state.namesOn(listener), host.toLowerCase())))
      .map((host) =>
        tell(
          'entry.certificate:in-front',
          'error',
          { host, balancer: balancer.name, certificates: ended.map(({ certificate }) => certificate) },
          `${balancer.id} ${host}`,
        ),
      );
  });
}

function unattached(
  state: IngressState,
  { hosts, namespace, objectKind }: IngressRoute,
  listener: string,
  gateway: Gateway,
): Unattached {
  const cluster = byId(state.parts.clusters, gateway.clusterId);
  const own = listenersOf(gateway);
  const closed = own.filter((each) => cluster !== undefined && !takesRoutesOf(gateway, each, cluster, namespace));
  if (own.length > 0 && closed.length === own.length)
    return closed.every(({ allowedRoutes }) => allowedRoutes === 'its namespace')
      ? { is: 'own namespace', namespace: gateway.namespace }
      : { is: 'namespaces', terms: gateway.namespaceTerms, namespace };
  if (listener !== '' && !own.some(({ name }) => name === listener)) return { is: 'no listener', listener };
  if (own.length > 0 && !own.some((each) => (listener === '' || each.name === listener) && carries(each, objectKind)))
    return {
      is: 'protocol',
      listener,
      form: objectKind,
      listeners: own.map(({ name, protocol }) => ({ name, protocol })),
    };
  const shared = own.some(
    ({ host }) => hosts.length === 0 || hosts.some((each) => coversHost(host, each.toLowerCase(), 'labels')),
  );
  return shared ? { is: 'other kinds' } : { is: 'hosts', own: own.map(({ host }) => host), hosts };
}

function classesTwice(state: IngressState, { clusterId, classes }: Controller, told: Set<string>): Finding[] {
  return classes.flatMap((className) => {
    const serving = state.serving(clusterId, className);
    const key = `${clusterId} ${className}`;
    if (serving.length < 2 || told.has(key)) return [];
    told.add(key);
    const subjects = serving.map(({ id }) => ({ kind: 'controllers' as const, id }));
    return [
      finding(
        'entry.class-twice',
        'warning',
        subjects,
        {
          cluster: byId(state.parts.clusters, clusterId)?.name ?? '',
          controllers: serving.map(({ name }) => name),
          className,
        },
        { part: key },
      ),
    ];
  });
}

/** Rules that another one of the same host and path comes before for every call. */
function covered(routes: readonly IngressRoute[]): Finding[] {
  const byPlace = new Map<string, IngressRoute[]>();
  for (const route of routes) {
    if (route.objectKind === 'TCPRoute' || route.objectKind === 'TLSRoute') continue;
    const attachedTo =
      route.objectKind === 'Ingress' ? route.className : [route.gatewayId ?? '', ...route.additionalParents].join(' ');
    const path = route.pathType === 'Prefix' ? route.path.replace(/\/$/, '') : route.path;
    for (const host of route.hosts.length === 0 ? [''] : route.hosts) {
      const key = [route.clusterId, attachedTo, route.listener, host.toLowerCase(), route.pathType, path].join(' ');
      addTo(byPlace, key, route);
    }
  }
  const coveredBy = new Map<string, IngressRoute[]>();
  for (const alike of byPlace.values()) {
    if (alike.length < 2) continue;
    for (const route of alike) {
      const winner = alike.find((other) => other !== route && asks(other, route) && comesBefore(other, route));
      if (winner !== undefined) addTo(coveredBy, route.id, winner);
    }
  }
  return routes.flatMap((route) => {
    const winners = coveredBy.get(route.id) ?? [];
    const [first] = winners;
    // A rule with several hosts is covered when it is for each of them.
    if (first === undefined || winners.length < Math.max(1, route.hosts.length)) return [];
    return [
      finding(
        'entry.covered',
        'warning',
        [
          { kind: 'ingressRoutes', id: route.id },
          { kind: 'ingressRoutes', id: first.id },
        ],
        {
          route: `${route.namespace}/${route.name}`,
          rule: route.rule,
          first: { route: `${first.namespace}/${first.name}`, rule: first.rule },
          hosts: route.hosts,
          path: route.path,
          areUndated: areUndated(first, route),
        },
        { part: route.id },
      ),
    ];
  });
}

/** Whether every call that `other` takes is taken by `first`, host and path being the same. */
function asks(first: IngressRoute, other: IngressRoute): boolean {
  const within = (a: readonly string[], b: readonly string[]) => a.every((each) => b.includes(each));
  return (
    (first.method === 'any' || first.method === other.method) &&
    within(first.headers, other.headers) &&
    within(first.query, other.query)
  );
}

/** Whether a rule that takes the same calls comes first: with as many conditions, by age, name and place. */
function comesBefore(first: IngressRoute, other: IngressRoute): boolean {
  if (
    first.method !== other.method ||
    first.headers.length !== other.headers.length ||
    first.query.length !== other.query.length
  )
    return false;
  return byOrder(first, other) < 0;
}
