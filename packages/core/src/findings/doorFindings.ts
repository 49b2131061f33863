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
import { sayUnsent } from '../english/index.js';
import { certifies, commonHost, coversHost, MOST_LABEL } from '../zones/index.js';
import type { IngressState } from '../ingress/index.js';
import {
  addOperation,
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
import type { Finding, Fix } from './finding.js';

/** Routes of clusters that nobody carries out, that lead nowhere, or that never get a call. */
export const doorFindings = bySubject({
  name: 'doors by cluster',
  reads: [],
  needs: { ingress: compiled },
  subjects: (_, { ingress }) => ingress.parts.clusters,
  rests: ({ id }, _, { ingress }) => restsOfDoors(ingress, id),
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
function restsOfDoors(state: IngressState, clusterId: string): unknown[] {
  const { parts } = state;
  const routes = state.routesOf(clusterId);
  const controllers = grouped(parts.controllers, 'clusterId').get(clusterId) ?? [];
  const gateways = state.gatewaysIn(clusterId);
  if (routes.length + controllers.length + gateways.length === 0) return [];
  const grants = grouped(parts.referenceGrants, 'clusterId').get(clusterId) ?? [];
  const rests: unknown[] = [
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
      rests.push(gateway, ...listenersOf(gateway).map((listener) => state.namesShown(gateway, listener)));
    if (parents.length === 0 && route.certificate !== '') rests.push(state.namesOn(route));
  }
  for (const { balancerId } of controllers) {
    const balancer = byId(parts.balancers, balancerId ?? '');
    if (balancer === undefined) continue;
    rests.push(balancer);
    for (const listener of state.listenersOf(balancer)) rests.push(listener, state.namesOn(listener));
  }
  return rests;
}

function routeFindings(state: IngressState, route: IngressRoute): Finding[] {
  const cluster = byId(state.parts.clusters, route.clusterId);
  const name = `${cluster?.name ?? ''}: ${route.form} ${route.namespace}/${route.name}, rule ${route.rule}`;
  const say = (
    code: string,
    severity: 'error' | 'warning' | 'note',
    title: string,
    detail: string,
    part = '',
    fixes: readonly Fix[] = [],
  ) =>
    finding(
      code,
      severity,
      [
        { kind: 'ingressRoutes', id: route.id },
        { kind: 'clusters', id: route.clusterId },
      ],
      { title: `${name}: ${title}`, detail, part: `${route.id} ${part}` },
      fixes,
    );
  const parents = state.parentsOf(route);
  const serving = state.controllersOf(route);
  return [
    ...attachment(state, route, say),
    ...rivals(state, route, say),
    ...hostsOf(route, say),
    ...services(state, route, say),
    ...(parents.length === 0
      ? certificates(state, route, undefined, say)
      : parents.flatMap(({ gateway }) => certificates(state, route, gateway, say))),
    ...frontCertificates(state, route, serving, say),
    ...patterns(route, say),
    ...(route.isOldForm
      ? [
          say(
            'door.retired',
            'warning',
            'is in the cluster in a retired API version',
            'An upgrade of the cluster stops taking it. Write its manifest here: it comes in today’s version.',
          ),
        ]
      : []),
  ];
}

type Say = (
  code: string,
  severity: 'error' | 'warning' | 'note',
  title: string,
  detail: string,
  part?: string,
  fixes?: readonly Fix[],
) => Finding;

/** Whether anybody carries the route out: a gateway with a listener for it, and a controller. */
function attachment(state: IngressState, route: IngressRoute, say: Say): Finding[] {
  const parents = state.parentsOf(route);
  const classes = state.classesOf(route);
  if (route.form !== 'Ingress' && parents.length === 0)
    return [
      say(
        'door.unattached',
        'error',
        'attaches to no gateway',
        'The route has no effect. Name the gateway that it attaches to.',
      ),
    ];
  if (state.controllersOf(route).length === 0)
    return [
      say(
        'door.class',
        'error',
        classes.length === 0 ? 'names no class' : `no controller serves the class ${classes.join(' or ')}`,
        'The route has no effect, and its host is not answered. Name a class that a controller of the cluster implements, or add the controller.',
      ),
    ];
  return parents
    .filter(({ gateway }) => !listenersOf(gateway).some((each) => state.attaches(route, gateway, each)))
    .map(({ gateway, listener }) =>
      say(
        'door.unattached',
        'error',
        `attaches to no listener of ${gateway.namespace}/${gateway.name}`,
        `${unattached(state, route, listener, gateway)} Change the listener, the host of the route or of the listener, or what the gateway takes.`,
        gateway.id,
      ),
    );
}

/** Routes of HTTP that share a host with one of gRPC at a listener: one of the two is not accepted. */
function rivals(state: IngressState, route: IngressRoute, say: Say): Finding[] {
  if (route.form !== 'GRPCRoute') return [];
  const told = new Set<string>();
  return state.parentsOf(route).flatMap(({ gateway }) =>
    listenersOf(gateway)
      .filter((listener) => state.attaches(route, gateway, listener))
      .flatMap((listener) =>
        state.rivalsOf(route, gateway, listener).flatMap((rival) => {
          const label = `${rival.form} ${rival.namespace}/${rival.name}`;
          const at = `${gateway.namespace}/${gateway.name}`;
          if (told.has(`${at} ${label}`)) return [];
          told.add(`${at} ${label}`);
          const own = `${route.form} ${route.namespace}/${route.name}`;
          const older = isOlder(route, rival) ? own : isOlder(rival, route) ? label : undefined;
          const accepted =
            older === undefined
              ? 'Only the older of the two is accepted, and the plan does not say which that is.'
              : `Only the ${older} is accepted, since it is older.`;
          return [
            say(
              'door.two-kinds',
              'error',
              `shares hosts with the ${label} at the listener ${listener.name} of ${at}`,
              [
                `${accepted} No rule of the other has any effect.`,
                'Give one of them hosts of its own, or write both as one HTTPRoute, which takes calls of gRPC by their path.',
              ].join(' '),
              `${gateway.id} ${label}`,
            ),
          ];
        }),
      ),
  );
}

function hostsOf({ hosts }: IngressRoute, say: Say): Finding[] {
  return hosts
    .filter((host) => parseAddress(host).ok)
    .map((host) =>
      say(
        'door.host',
        'error',
        `its host ${host} is an address`,
        'Hosts of routes are names: clients that call an address send no name that could match. Use a name, or leave the host empty.',
        host,
      ),
    );
}

function patterns({ pathType, path, headers, query }: IngressRoute, say: Say): Finding[] {
  const conditions = [...headers, ...query]
    .flatMap((text) => readCondition(text) ?? [])
    .filter(({ how }) => how === 'matches')
    .map(({ value }) => value);
  return [...(pathType === 'RegularExpression' ? [path] : []), ...conditions]
    .filter((pattern) => !isPattern(pattern))
    .map((pattern) =>
      say(
        'door.pattern',
        'error',
        `${pattern} is not a regular expression`,
        'It matches nothing. Use the syntax that runs in linear time: no look-around, no references back.',
        pattern,
      ),
    );
}

function services(state: IngressState, route: IngressRoute, say: Say): Finding[] {
  const refs = route.backends.flatMap((text) => readBackendRef(text) ?? []);
  if (refs.length === 0 && route.redirect === '')
    return [
      say(
        'door.no-service',
        'error',
        'sends to no service',
        `${sayUnsent(route.form, unsentStatus(route))} Name a service and its port.`,
      ),
    ];
  return refs.flatMap((ref) => {
    const { port } = ref;
    const { service, name: label } = state.serviceOf(route, ref);
    if (service === undefined)
      return [
        say(
          'door.no-service',
          'error',
          `the service ${label} does not exist`,
          `${sayUnsent(route.form, unsentStatus(route))} Add the service, or name another.`,
          label,
        ),
      ];
    const granted = state.maySend(route, service) ? [] : [ungranted(route, service, say)];
    const ports = service.ports.flatMap((text) => readServicePort(text) ?? []);
    if (ports.some((each) => each.port === port)) return granted;
    return [
      ...granted,
      say(
        'door.no-port',
        'error',
        `the service ${label} has no port ${port}`,
        `It has ${ports.map((each) => each.port).join(', ') || 'no ports'}. Name one of them.`,
        label,
      ),
    ];
  });
}

/** A finding on a gateway. */
function ofGateway(
  state: IngressState,
  { id, clusterId }: Gateway,
  code: string,
  title: string,
  detail: string,
  part: string,
  fixes: readonly Fix[] = [],
): Finding {
  const subjects = [
    { kind: 'gateways', id },
    { kind: 'clusters', id: clusterId },
  ] as const;
  const cluster = byId(state.parts.clusters, clusterId)?.name ?? '';
  return finding(code, 'error', subjects, { title: `${cluster}: ${title}`, detail, part: `${id} ${part}` }, fixes);
}

/** The fix that adds the smallest grant: objects of one kind and namespace may name one object. */
function granting(
  title: string,
  { clusterId, namespace }: Gateway | IngressRoute,
  from: string,
  to: { readonly kind: 'Service' | 'Secret'; readonly namespace: string; readonly name: string },
): Fix {
  const label = `${from.toLowerCase()}-of-${namespace}-to-${to.name.replaceAll('.', '-')}`;
  const grant = withFallbacks('referenceGrants', {
    id: newId(),
    clusterId,
    namespace: to.namespace,
    name: label.slice(0, MOST_LABEL).replace(/-+$/, ''),
    from: [`${from} in ${namespace}`],
    to: [`${to.kind} ${to.name}`],
  });
  return { kind: 'change', title, operations: [addOperation('referenceGrants', grant)] };
}

/** Certificates of another namespace that no grant there lets a gateway use: no TLS connection is made with them. */
function ungrantedSecrets(state: IngressState, gateway: Gateway): Finding[] {
  const own = gateway.namespace;
  const shown = new Set(listenersOf(gateway).map(({ certificate }) => certificate));
  return [...shown].flatMap((certificate) => {
    const { namespace, name } = secretOf(certificate, own);
    if (certificate === '' || state.mayShow(gateway, certificate)) return [];
    return [
      ofGateway(
        state,
        gateway,
        'door.grant',
        `no reference grant allows the gateway ${own}/${gateway.name} to use ${certificate}`,
        `The certificate is in another namespace: its listeners make no TLS connection. A grant in ${namespace} has to name gateways of ${own} and the secret.`,
        certificate,
        [
          granting(`Let every gateway of ${own} use ${certificate}`, gateway, 'Gateway', {
            kind: 'Secret',
            namespace,
            name,
          }),
        ],
      ),
    ];
  });
}

/** Listeners of a gateway that cannot both be at their port. */
function rivalListeners(state: IngressState, gateway: Gateway): Finding[] {
  const own = listenersOf(gateway);
  return own.flatMap((listener, at) => {
    const rival = own.slice(0, at).find((each) => isRivalListener(each, listener));
    if (rival === undefined) return [];
    const why =
      rival.protocol === listener.protocol
        ? `Both are of ${listener.protocol}, of which one listener takes every connection:`
        : `One is ${rival.protocol}, the other ${listener.protocol}, and nothing in a connection tells them apart:`;
    return [
      ofGateway(
        state,
        gateway,
        'door.listeners',
        `the listeners ${rival.name} and ${listener.name} of ${gateway.namespace}/${gateway.name} cannot both be at port ${listener.port}`,
        `${why} the controller accepts one of them or neither. Give one of them another port.`,
        listener.name,
      ),
    ];
  });
}

/** A service of another namespace that no grant there lets the route name: the smallest grant is offered. */
function ungranted(route: IngressRoute, service: ClusterService, say: Say): Finding {
  const { form, namespace } = route;
  const label = `${service.namespace}/${service.name}`;
  return say(
    'door.grant',
    'error',
    `no reference grant allows it to send to ${label}`,
    [
      `The service is in another namespace. ${sayUnsent(route.form, unsentStatus(route))}`,
      `A grant in ${service.namespace} has to name the kind and namespace of the route.`,
    ].join(' '),
    `grant ${label}`,
    [
      granting(`Let every ${form} of ${namespace} send to ${label}`, route, form, {
        kind: 'Service',
        namespace: service.namespace,
        name: service.name,
      }),
    ],
  );
}

function certificates(state: IngressState, route: IngressRoute, gateway: Gateway | undefined, say: Say): Finding[] {
  if (gateway === undefined)
    return route.certificate === '' ? [] : uncovered(route.hosts, route.certificate, state.namesOn(route), say);
  return listenersOf(gateway)
    .filter((listener) => listener.protocol === 'https' && state.attaches(route, gateway, listener))
    .flatMap((listener) => {
      const hosts = route.hosts.filter((host) => commonHost(listener.host, host.toLowerCase()) !== undefined);
      return uncovered(hosts, listener.certificate, state.namesShown(gateway, listener), say, listener.name);
    });
}

/** Hosts that a certificate does not cover, or may not cover, since its names are not entered. */
function uncovered(
  hosts: readonly string[],
  certificate: string,
  covered: readonly string[],
  say: Say,
  at = '',
): Finding[] {
  if (certificate !== '' && covered.length === 0 && hosts.length > 0)
    return [
      say(
        'door.certificate-names',
        'warning',
        `the names on the certificate ${certificate} are not entered`,
        `Whether clients accept it for ${hosts.join(', ')} is not known. Enter the names, or the certificate with them.`,
        at,
      ),
    ];
  return hosts
    .filter((host) => !certifies(covered, host.toLowerCase()))
    .map((host) =>
      say(
        'door.certificate',
        'error',
        `no certificate covers ${host}`,
        [
          `${certificate === '' ? 'The listener has no certificate' : `${certificate} covers ${covered.join(', ')}`}:`,
          'clients refuse the connection. Have the name put on it.',
        ].join(' '),
        at === '' ? host : `${at} ${host}`,
      ),
    );
}

/** Load balancers of layer 7 end TLS themselves: what stands before the route must cover its hosts, too. */
function frontCertificates(
  state: IngressState,
  { hosts }: IngressRoute,
  serving: readonly Controller[],
  say: Say,
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
        say(
          'door.certificate',
          'error',
          `no certificate of ${balancer.name} covers ${host}`,
          [
            `Its listeners end TLS with ${ended.map(({ certificate }) => certificate).join(', ')}:`,
            'clients refuse the connection. Have the name put on one of them.',
          ].join(' '),
          `${balancer.id} ${host}`,
        ),
      );
  });
}

function unattached(
  state: IngressState,
  { hosts, namespace, form }: IngressRoute,
  listener: string,
  gateway: Gateway,
): string {
  const cluster = byId(state.parts.clusters, gateway.clusterId);
  const own = listenersOf(gateway);
  const closed = own.filter((each) => cluster !== undefined && !takesRoutesOf(gateway, each, cluster, namespace));
  if (own.length > 0 && closed.length === own.length)
    return closed.every(({ takesFrom }) => takesFrom === 'its namespace')
      ? `The gateway accepts only routes of its own namespace ${gateway.namespace}.`
      : `The gateway accepts only routes of namespaces with ${gateway.namespaceTerms.join(', ')}, and ${namespace} is none.`;
  if (listener !== '' && !own.some(({ name }) => name === listener)) return `It has no listener ${listener}.`;
  if (own.length > 0 && !own.some((each) => (listener === '' || each.name === listener) && carries(each, form))) {
    const who = listener === '' ? 'None of its listeners takes' : `The listener ${listener} does not take`;
    return `${who} ${form}s; by protocol: ${own.map(({ name, protocol }) => `${name} ${protocol}`).join(', ')}.`;
  }
  const shared = own.some(
    ({ host }) => hosts.length === 0 || hosts.some((each) => coversHost(host, each.toLowerCase(), 'labels')),
  );
  return shared
    ? 'Its listeners take other kinds of routes.'
    : `Its listeners are for ${own.map(({ host }) => host || 'every host').join(', ')}, and none has ${hosts.join(', ')} in common with it.`;
}

function classesTwice(state: IngressState, { clusterId, classes }: Controller, told: Set<string>): Finding[] {
  return classes.flatMap((className) => {
    const serving = state.serving(clusterId, className);
    const key = `${clusterId} ${className}`;
    if (serving.length < 2 || told.has(key)) return [];
    told.add(key);
    const names = serving.map(({ name }) => name).join(' and ');
    const subjects = serving.map(({ id }) => ({ kind: 'controllers' as const, id }));
    return [
      finding('door.class-twice', 'warning', subjects, {
        title: `${byId(state.parts.clusters, clusterId)?.name ?? ''}: ${names} both serve the class ${className}`,
        detail:
          'Each carries out the routes of the class, with addresses of its own, and each writes what it did into them. Leave the class to one.',
        part: key,
      }),
    ];
  });
}

/** Rules that another one of the same host and path comes before for every call. */
function covered(routes: readonly IngressRoute[]): Finding[] {
  const byPlace = new Map<string, IngressRoute[]>();
  for (const route of routes) {
    if (route.form === 'TCPRoute' || route.form === 'TLSRoute') continue;
    const door =
      route.form === 'Ingress' ? route.className : [route.gatewayId ?? '', ...route.furtherParents].join(' ');
    const path = route.pathType === 'Prefix' ? route.path.replace(/\/$/, '') : route.path;
    for (const host of route.hosts.length === 0 ? [''] : route.hosts) {
      const key = [route.clusterId, door, route.listener, host.toLowerCase(), route.pathType, path].join(' ');
      const known = byPlace.get(key);
      if (known === undefined) byPlace.set(key, [route]);
      else known.push(route);
    }
  }
  const coveredBy = new Map<string, IngressRoute[]>();
  for (const alike of byPlace.values()) {
    if (alike.length < 2) continue;
    for (const route of alike) {
      const winner = alike.find((other) => other !== route && asks(other, route) && comesBefore(other, route));
      if (winner !== undefined) coveredBy.set(route.id, [...(coveredBy.get(route.id) ?? []), winner]);
    }
  }
  return routes.flatMap((route) => {
    const winners = coveredBy.get(route.id) ?? [];
    const [first] = winners;
    // A rule with several hosts is covered when it is for each of them.
    if (first === undefined || winners.length < Math.max(1, route.hosts.length)) return [];
    return [
      finding(
        'door.covered',
        'warning',
        [
          { kind: 'ingressRoutes', id: route.id },
          { kind: 'ingressRoutes', id: first.id },
        ],
        {
          title: areUndated(first, route)
            ? [
                `Rule ${first.rule} of ${first.namespace}/${first.name} or rule ${route.rule} of ${route.namespace}/${route.name}`,
                'is never reached: which one depends on their ages',
              ].join(' ')
            : [
                `Rule ${route.rule} of ${route.namespace}/${route.name} is never reached:`,
                `rule ${first.rule} of ${first.namespace}/${first.name} matches first`,
              ].join(' '),
          detail: [
            `Both are for ${route.hosts.join(', ') || 'every host, '}${route.path}, and neither asks for more.`,
            areUndated(first, route)
              ? 'The older gets every request. Enter their ages, remove one, or let it ask for something else.'
              : 'Remove one of them, or let it ask for something else.',
          ].join(' '),
          part: route.id,
        },
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
