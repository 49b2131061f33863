import { balancerHost, balancerInside, internetHost, nodeHost, podHost, traceFlow } from '../forwarding/index.js';
import type { Host } from '../forwarding/index.js';
import { FIRST_NODE_PORT, ingress as compiled } from '../ingress/index.js';
import type { IngressState } from '../ingress/index.js';
import {
  answering,
  byId,
  grouped,
  nodePoolsOf,
  readBackendRef,
  readPolicyRule,
  readServicePort,
  USUAL_BYTES,
} from '../plan/index.js';
import type {
  Answering,
  Backend,
  Balancer,
  Cluster,
  ClusterService,
  IngressRoute,
  Listener,
  NetworkPolicy,
  Plan,
  Profile,
} from '../plan/index.js';
import { countsToHold, demand as sizings, rangesByCluster } from '../sizing/index.js';
import type { Sizing } from '../sizing/index.js';
import { bySubject, groupsIn, ownersIn, together, unless, valuesIn } from '../section/index.js';
import type { Alongside } from '../section/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';
import type { Unfit } from '../english/index.js';
import type { Failed } from '../road/index.js';

type Demand = Alongside<Cluster, Sizing>;

/** Load balancers that answer nothing, cannot reach their members, or break a rule of their provider. */
export const balancerFindings = bySubject({
  name: 'findings by balancer',
  reads: ['profiles', 'filters'],
  needs: { ingress: compiled, demand: sizings },
  subjects: (_, { ingress }) => ingress.parts.balancers,
  dependsOn: (balancer, parts, { ingress, demand }) => [
    // Its packets may go anywhere.
    ingress.forwarding,
    balancer,
    parts.profiles,
    isBefore(balancer, ingress),
    ...ingress.listenersOf(balancer).flatMap((each) => [each, ingress.namesOn(each), backendOf(each, ingress)]),
    ...ingress.backendsOf(balancer).flatMap((backend) => restsOfBackend(backend, ingress, demand)),
  ],
  look: (balancer, parts, { ingress, demand }) => ofBalancer(balancer, ingress, parts, demand),
});

function restsOfBackend(backend: Backend, state: IngressState, demand: Demand): unknown[] {
  const service = byId(state.parts.services, backend.serviceId ?? '');
  return service === undefined
    ? [backend]
    : [backend, service, demand.of(service.clusterId), ...state.workloadsOf(service.clusterId)];
}

/** Routes whose clients are not seen, and entry points that hang on one pod. */
export const routeMisfits = bySubject({
  name: 'routes by cluster',
  reads: ['nodePools'],
  needs: { ingress: compiled, demand: sizings },
  subjects: (_, { ingress }) => ingress.parts.clusters,
  dependsOn: ({ id }, { nodePools }, { ingress, demand }) => {
    const { parts } = ingress;
    const routes = ingress.routesOf(id);
    const controllers = grouped(parts.controllers, 'clusterId').get(id) ?? [];
    // Without either nobody carries a route out.
    if (routes.length === 0 || controllers.length === 0) return [];
    const balancers = controllers.flatMap(({ balancerId }) => byId(parts.balancers, balancerId ?? '') ?? []);
    return [
      demand.of(id),
      ...routes,
      ...routes.flatMap((route) => ingress.parentsOf(route).map(({ gateway }) => gateway)),
      ...controllers,
      ...balancers,
      ...balancers.flatMap((balancer) => ingress.backendsOf(balancer)),
      ...ingress.servicesOf(id),
      ...ingress.workloadsOf(id),
      ...nodePoolsOf({ nodePools }, id),
    ];
  },
  near: (was, is) => {
    const [before, after] = [was.needed.ingress.parts, is.needed.ingress.parts];
    return together(
      unless([before.balancers, after.balancers], [before.backends, after.backends]),
      ownersIn(before, after, ['ingressRoutes', 'controllers', 'services', 'gateways', 'workloads']),
      ownersIn(was.parts, is.parts, ['nodePools']),
      valuesIn(was.needed.demand, is.needed.demand),
    );
  },
  look: ({ id }, _, { ingress, demand }) =>
    ingress.routesOf(id).flatMap((route) => [...sourceLost(route, ingress), ...onOnePod(route, ingress, demand)]),
});

/** Network policies that cut pods off from names. */
export const policiesWithoutNames = bySubject({
  name: 'policies by cluster',
  reads: [],
  needs: { ingress: compiled, ranges: rangesByCluster },
  subjects: (_, { ingress }) => ingress.parts.clusters,
  dependsOn: (cluster, _, { ingress }) => {
    const policies = grouped(ingress.parts.networkPolicies, 'clusterId').get(cluster.id) ?? [];
    return policies.length === 0
      ? []
      : [cluster, ...policies, ...ingress.workloadsOf(cluster.id), ...ingress.forwarding.rangesOf(cluster.id)];
  },
  near: ({ needed: was }, { needed: is }) =>
    together(
      groupsIn(was.ranges, is.ranges),
      ownersIn(was.ingress.parts, is.ingress.parts, ['clusters'], 'id'),
      ownersIn(was.ingress.parts, is.ingress.parts, ['networkPolicies', 'workloads']),
    ),
  look: ({ id }, _, { ingress }) =>
    (grouped(ingress.parts.networkPolicies, 'clusterId').get(id) ?? []).flatMap((policy) =>
      withoutNames(policy, ingress),
    ),
});

/** Whether a controller stands on the load balancer itself. */
function isBefore({ id }: Balancer, { parts }: IngressState): boolean {
  return parts.controllers.some(({ balancerId, tier }) => balancerId === id && tier === 'on a load balancer');
}

function backendOf({ backendId }: Listener, { parts }: IngressState): Backend | undefined {
  return byId(parts.backends, backendId ?? '');
}

function ofBalancer(
  balancer: Balancer,
  state: IngressState,
  { profiles, filters }: Pick<Plan, 'profiles' | 'filters'>,
  demand: Demand,
): Finding[] {
  const found: Finding[] = [];
  const subjects = [{ kind: 'balancers', id: balancer.id }] as const;
  const listeners = state.listenersOf(balancer);
  const backends = state.backendsOf(balancer);
  const onIt = isBefore(balancer, state);
  if (listeners.length === 0)
    found.push(finding('balancer.no-listener', 'warning', subjects, { balancer: balancer.name }));
  for (const listener of listeners) found.push(...ofListener(listener, balancer, state, onIt));
  found.push(...shutListeners(balancer, state));
  for (const backend of backends) found.push(...ofBackend(backend, balancer, state));
  const site = byId(state.parts.sites, byId(state.parts.subnets, balancer.subnetId)?.siteId ?? '');
  const profile = byId(profiles, site?.profileId ?? '');
  if (profile !== undefined)
    found.push(
      ...quotas(balancer, profile, listeners.length, backends, state, demand),
      ...placement(balancer, profile, backends, state, filters),
    );
  return found;
}

/** The certificate of a listener, and whether it leads anywhere; `isFed` says whether a controller works on the load balancer. */
function ofListener(listener: Listener, balancer: Balancer, state: IngressState, isFed: boolean): Finding[] {
  const found: Finding[] = [];
  const own = [
    { kind: 'listeners', id: listener.id },
    { kind: 'balancers', id: balancer.id },
  ] as const;
  if ((listener.protocol === 'https' || listener.protocol === 'tls') && state.namesOn(listener).length === 0)
    found.push(
      listener.certificate !== ''
        ? finding('listener.certificate-names', 'warning', own, {
            balancer: balancer.name,
            listener: listener.name,
            certificate: listener.certificate,
          })
        : finding('listener.certificate', 'error', own, {
            balancer: balancer.name,
            listener: listener.name,
            protocol: listener.protocol,
          }),
    );
  const backend = backendOf(listener, state);
  const isEmpty =
    backend === undefined
      ? !isFed
      : backend.members === 'addresses'
        ? backend.addresses.length === 0
        : backend.serviceId === null;
  if (isEmpty)
    found.push(
      finding('listener.no-members', 'warning', own, {
        balancer: balancer.name,
        listener: listener.name,
        backend: backend?.name,
      }),
    );
  return found;
}

/** Listeners on the internet that a filter of the load balancer or its subnet keeps clients from. */
function shutListeners(balancer: Balancer, state: IngressState): Finding[] {
  const host = balancerHost(state.forwarding, balancer);
  if (balancer.side !== 'public' || host === undefined) return [];
  return state.listenersOf(balancer).flatMap(({ id, name, port, protocol }) => {
    const flow = traceFlow(
      state.forwarding,
      internetHost(),
      {
        address: host.address,
        protocol: protocol === 'udp' ? 'udp' : 'tcp',
        port,
        host,
        isOutside: true,
        label: balancer.name,
      },
      USUAL_BYTES,
    );
    if (flow.failed?.failure.code !== 'filter') return [];
    return [
      finding(
        'listener.opening',
        'error',
        [
          { kind: 'listeners', id },
          { kind: 'balancers', id: balancer.id },
        ],
        { balancer: balancer.name, listener: name, port, failed: flow.failed },
      ),
    ];
  });
}

function ofBackend(backend: Backend, balancer: Balancer, state: IngressState): Finding[] {
  const subjects = [
    { kind: 'backends', id: backend.id },
    { kind: 'balancers', id: balancer.id },
  ] as const;
  const service = byId(state.parts.services, backend.serviceId ?? '');
  if (service === undefined) return [];
  const label = `${service.namespace}/${service.name}`;
  const servicePort = state.answeringAt(service, backend.port);
  if (servicePort === undefined) {
    return [
      finding('backend.port', 'error', subjects, {
        balancer: balancer.name,
        backend: backend.name,
        port: backend.port,
        service: label,
        ports: service.ports.map((text) => readServicePort(text)?.port ?? 0),
      }),
    ];
  }
  if ((servicePort.port.protocol === 'udp') !== (backend.protocol === 'udp'))
    return [
      finding('backend.port:protocol', 'error', subjects, {
        balancer: balancer.name,
        backend: backend.name,
        protocol: backend.protocol,
        service: label,
        port: backend.port,
        speaks: servicePort.port.protocol,
      }),
    ];
  const unfit = unfitting(backend, balancer, service, state);
  if (unfit !== undefined)
    return [
      finding('backend.unreached:unfit', 'error', subjects, {
        balancer: balancer.name,
        backend: backend.name,
        why: unfit,
      }),
    ];
  const member = memberOf(backend, servicePort, service, state);
  const inside = balancerInside(state.forwarding, balancer);
  if (member === undefined || inside === undefined || member.port === 0) return [];
  const ports = [...new Set([member.port, backend.healthPort ?? member.port])];
  return ports.flatMap((port) => {
    const protocol = port === backend.healthPort || backend.protocol !== 'udp' ? 'tcp' : 'udp';
    const flow = traceFlow(
      state.forwarding,
      inside,
      { address: member.host.address, protocol, port, host: member.host, isOutside: true, label: member.host.label },
      USUAL_BYTES,
    );
    return flow.failed === undefined
      ? []
      : [unreached(flow.failed, backend, balancer, port, port === backend.healthPort)];
  });
}

function unreached(
  failed: Failed,
  backend: Backend,
  balancer: Balancer,
  port: number,
  areHealthChecks: boolean,
): Finding {
  const { code } = failed.failure;
  const isClosed = code === 'filter' || code === 'firewall';
  const subjects = [
    { kind: 'backends', id: backend.id },
    { kind: 'balancers', id: balancer.id },
  ] as const;
  return finding(
    isClosed ? 'backend.opening' : 'backend.unreached',
    'error',
    subjects,
    { balancer: balancer.name, backend: backend.name, port, areHealthChecks, failed },
    { part: `${backend.id} ${port}` },
  );
}

function unfitting(
  backend: Backend,
  { runBy }: Balancer,
  service: ClusterService,
  state: IngressState,
): Unfit | undefined {
  if (backend.members === 'nodes' && service.type !== 'NodePort' && service.type !== 'LoadBalancer')
    return { is: 'no NodePort', service: `${service.namespace}/${service.name}` };
  const cluster = byId(state.parts.clusters, service.clusterId);
  if (backend.members === 'pods' && cluster?.podMode === 'overlay' && runBy !== 'cluster')
    return { is: 'overlay', cluster: cluster.name };
  return undefined;
}

function memberOf(
  { members }: Backend,
  servicePort: Answering,
  { clusterId }: ClusterService,
  state: IngressState,
): { readonly host: Host; readonly port: number } | undefined {
  const part = { clusterId, nodePoolId: null, zone: '' };
  const host = members === 'nodes' ? nodeHost(state.forwarding, part, 4) : podHost(state.forwarding, part, 4);
  const port = members === 'nodes' ? (servicePort.port.nodePort ?? FIRST_NODE_PORT) : servicePort.members[0]?.port;
  return host.ok ? { host: host.value, port: port ?? 0 } : undefined;
}

function quotas(
  balancer: Balancer,
  profile: Profile,
  listeners: number,
  backends: readonly Backend[],
  state: IngressState,
  demand: Demand,
): Finding[] {
  const members = backends.reduce((sum, backend) => {
    if (backend.members === 'addresses') return sum + backend.addresses.length;
    const service = byId(state.parts.services, backend.serviceId ?? '');
    const sizing = demand.of(service?.clusterId ?? '');
    if (service === undefined || sizing === undefined) return sum;
    if (backend.members === 'nodes') return sum + countsToHold(sizing).nodes.reduce((all, nodes) => all + nodes, 0);
    const servicePort = state.answeringAt(service, backend.port);
    return sum + (servicePort?.members ?? []).reduce((all, { workload }) => all + workload.replicasHorizon, 0);
  }, 0);
  const over = (of: 'members' | 'listeners', count: number, most: number) =>
    count <= most
      ? []
      : [
          finding(
            'balancer.quota',
            'error',
            [
              { kind: 'balancers', id: balancer.id },
              { kind: 'profiles', id: profile.id },
            ],
            { balancer: balancer.name, of, count, profile: profile.name, most },
            { part: `${balancer.id} ${of}` },
          ),
        ];
  return [
    ...over('members', members, profile.membersPerBalancer),
    ...over('listeners', listeners, profile.listenersPerBalancer),
  ];
}

/** What an appliance must share with its members, as its profile asks for. */
function placement(
  balancer: Balancer,
  { name, balancerPlacement }: Profile,
  backends: readonly Backend[],
  state: IngressState,
  filters: Plan['filters'],
): Finding[] {
  if (balancer.runBy !== 'appliance' || balancerPlacement.length === 0) return [];
  const subnet = byId(state.parts.subnets, balancer.subnetId);
  const clusterIds = new Set(
    backends.flatMap(({ serviceId }) => byId(state.parts.services, serviceId ?? '')?.clusterId ?? []),
  );
  return [...clusterIds].flatMap((clusterId) => {
    const cluster = byId(state.parts.clusters, clusterId);
    if (cluster === undefined || subnet === undefined) return [];
    const node = nodeHost(state.forwarding, { clusterId, nodePoolId: null, zone: '' }, 4);
    const shares = {
      region: cluster.siteId === subnet.siteId,
      network: cluster.networkId === subnet.networkId,
      subnet: node.ok && node.value.subnet?.id === subnet.id,
      filter: filters.some(
        ({ balancerIds, clusterIds: own }) => balancerIds.includes(balancer.id) && own.includes(clusterId),
      ),
    };
    const broken = balancerPlacement.filter((each) => !shares[each]);
    if (broken.length === 0) return [];
    return [
      finding(
        'balancer.placement',
        'error',
        [
          { kind: 'balancers', id: balancer.id },
          { kind: 'clusters', id: clusterId },
        ],
        { balancer: balancer.name, lacking: broken, cluster: cluster.name, profile: name },
      ),
    ];
  });
}

/** Routes that judge clients by their address, which does not come to them. */
function sourceLost(route: IngressRoute, state: IngressState): Finding[] {
  if (route.allowedSources.length === 0 && route.rateLimitPerMinute === null) return [];
  const [controller] = state.controllersOf(route);
  const balancer = byId(state.parts.balancers, controller?.balancerId ?? '');
  if (controller === undefined || balancer === undefined || controller.tier === 'on a load balancer') return [];
  const service = byId(state.parts.services, controller.serviceId ?? '');
  const backend = state.backendsOf(balancer).find(({ serviceId }) => serviceId === controller.serviceId);
  // A load balancer that reads requests hands the address on in a header.
  if (balancer.layer === '7') return [];
  const byBalancer = balancer.client === 'replaced' ? balancer.name : '';
  const byNode =
    backend?.members === 'nodes' && service?.externalPolicy === 'cluster' ? `${service.namespace}/${service.name}` : '';
  if (byBalancer === '' && byNode === '') return [];
  return [
    finding(
      'entry.source',
      'warning',
      [
        { kind: 'ingressRoutes', id: route.id },
        { kind: 'balancers', id: balancer.id },
      ],
      {
        route: `${route.namespace}/${route.name}`,
        rule: route.rule,
        isLimit: route.allowedSources.length === 0,
        balancer: byBalancer,
        service: byNode,
      },
    ),
  ];
}

/** Entry points on the internet that hang on one pod, or on one zone of several. */
function onOnePod(route: IngressRoute, state: IngressState, demand: Demand): Finding[] {
  const serving = state.controllersOf(route);
  const isPublic = serving.some(({ balancerId }) => byId(state.parts.balancers, balancerId ?? '')?.side === 'public');
  if (!isPublic) return [];
  const zones = demand.of(route.clusterId)?.zones.length ?? 1;
  return route.backends.flatMap((text) => {
    const ref = readBackendRef(text);
    const service = ref === undefined ? undefined : state.serviceOf(route, ref).service;
    if (service === undefined) return [];
    const members = answering(service, state.workloadsOf(service.clusterId)).flatMap((each) => each.members);
    const workloads = [...new Set(members.map(({ workload }) => workload))];
    const pods = workloads.reduce((sum, { replicasNow }) => sum + replicasNow, 0);
    const inOneZone =
      zones > 1 &&
      workloads.length > 0 &&
      workloads.every(({ nodePoolId }) => byId(state.forwarding.parts.nodePools, nodePoolId ?? '')?.zones.length === 1);
    if (pods !== 1 && !inOneZone) return [];
    return [
      finding(
        'entry.single',
        'warning',
        [
          { kind: 'ingressRoutes', id: route.id },
          { kind: 'services', id: service.id },
        ],
        {
          host: route.hosts[0] ?? '',
          path: route.path,
          service: `${service.namespace}/${service.name}`,
          isPod: pods === 1,
        },
        { part: `${route.id} ${service.id}` },
      ),
    ];
  });
}

/** Policies that let pods call somebody, and leave out names: UDP and TCP 53 (RFC 1035 4.2). */
function withoutNames(policy: NetworkPolicy, state: IngressState): Finding[] {
  const isEgress = policy.directions.length === 0 ? policy.allowOut.length > 0 : policy.directions.includes('egress');
  if (!isEgress || policy.allowOut.length === 0) return [];
  const cluster = byId(state.parts.clusters, policy.clusterId);
  if (cluster === undefined) return [];
  const guard = state.policiesOf(cluster);
  const selected = state.workloadsOf(policy.clusterId).filter((workload) => guard.selects(policy, workload));
  const cutOff = selected.filter((workload) => !guard.asksNames(workload, state.dnsRangesOf(cluster)));
  const [first] = cutOff;
  if (first === undefined) return [];
  return [
    finding(
      'policy.names',
      'warning',
      [
        { kind: 'networkPolicies', id: policy.id },
        { kind: 'clusters', id: policy.clusterId },
      ],
      {
        cluster: cluster.name,
        policy: `${policy.namespace}/${policy.name}`,
        workload: `${first.namespace}/${first.name}`,
        rules: policy.allowOut.flatMap((text) => readPolicyRule(text) ?? []).length,
      },
    ),
  ];
}
