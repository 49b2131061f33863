import { balancerHost } from '../forwarding/index.js';
import { byId, listenersOf, readBackendRef } from '../plan/index.js';
import type { Backend, Balancer, Cluster, ClusterService, Controller, IngressRoute } from '../plan/index.js';
import type { Sizing } from '../sizing/index.js';
import type { IngressState } from './ingressState.js';
import { formatProposed } from '../english/index.js';

/** When a load balancer is looked at. */
export type HoldCase = 'now' | 'horizon' | 'node gone';

/** One line of what a load balancer holds. */
export interface Held {
  readonly part: 'address' | 'match rule' | 'backend' | 'member';
  readonly text: string;
}

/** Gives the sizing of a cluster. */
type SizingOf = (clusterId: string) => Sizing | undefined;

/** Members of one backend that are listed one by one; beyond them they are counted. */
const MAX_LISTED = 200;

/** What a load balancer will hold as it follows from the plan: its address, match rules, backends and members. */
export function heldBy(state: IngressState, balancer: Balancer, sizingOf: SizingOf, when: HoldCase): Held[] {
  const host = balancerHost(state.forwarding, balancer);
  const address = balancer.address ?? `not decided${host === undefined ? '' : `, of ${host.subnet?.prefix ?? ''}`}`;
  const held: Held[] = [{ part: 'address', text: address }];
  for (const { protocol, port, backendId, certificate } of state.listenersOf(balancer)) {
    const backend = byId(state.parts.backends, backendId ?? '');
    held.push({
      part: 'match rule',
      text: `${protocol} ${port}${certificate === '' ? '' : ` with ${certificate}`} to ${backend?.name ?? 'nothing yet'}`,
    });
  }
  for (const controller of state.parts.controllers)
    if (controller.balancerId === balancer.id && controller.tier === 'on a load balancer')
      held.push(...matchRules(state, controller));
  for (const backend of state.backendsOf(balancer)) {
    const health = `${backend.healthPort === null ? 'the same port' : `port ${backend.healthPort}`}${backend.healthPath}`;
    held.push({
      part: 'backend',
      text: `${backend.name}: ${backend.protocol}, ${backend.method}, health by ${health}`,
    });
    held.push(...membersOf(state, backend, sizingOf, when));
  }
  for (const controller of state.parts.controllers)
    if (controller.balancerId === balancer.id && controller.tier === 'on a load balancer')
      held.push(...routedMembers(state, balancer, controller, sizingOf, when));
  return held;
}

/** Whether a load balancer outside a cluster calls a service at its nodes: as its own backend says, else wherever the service has NodePorts. */
export function calledAtNodes({ type }: ClusterService, backend: Pick<Backend, 'members'> | undefined): boolean {
  return backend === undefined ? type === 'NodePort' || type === 'LoadBalancer' : backend.members === 'nodes';
}

/** Whether the pods of a cluster cannot be called by a load balancer: in an overlay, by one that the cluster does not run itself. */
export function hidesPods(
  cluster: Pick<Cluster, 'podMode'> | undefined,
  balancer: Pick<Balancer, 'runBy'> | undefined,
): boolean {
  return cluster?.podMode === 'overlay' && balancer?.runBy !== 'cluster';
}

/** The members behind the services that routes on the load balancer send to; those that it has a backend for are listed with that. */
function routedMembers(
  state: IngressState,
  balancer: Balancer,
  controller: Controller,
  sizingOf: SizingOf,
  when: HoldCase,
): Held[] {
  const listed = new Set(state.backendsOf(balancer).map(({ serviceId }) => serviceId));
  const called = new Map<string, { readonly service: ClusterService; readonly port: number }>();
  for (const route of routesOf(state, controller))
    for (const ref of route.backends.flatMap((text) => readBackendRef(text) ?? [])) {
      const { service } = state.serviceOf(route, ref);
      if (service !== undefined && !listed.has(service.id))
        called.set(`${service.id} ${ref.port}`, { service, port: ref.port });
    }
  return [...called.values()].flatMap(({ service, port }): Held[] => {
    const name = `${service.namespace}/${service.name}`;
    const isAtNodes = calledAtNodes(service, undefined);
    const head: Held = {
      part: 'backend',
      text: `${name} on ${port}: ${isAtNodes ? 'nodes' : 'pods'}, kept by ${controller.name}`,
    };
    if (!isAtNodes && hidesPods(byId(state.parts.clusters, service.clusterId), balancer))
      return [head, { part: 'member', text: formatProposed('holds.no-members', { service: name }) }];
    const backend = {
      name,
      members: isAtNodes ? 'nodes' : 'pods',
      addresses: [],
      serviceId: service.id,
      port,
    } as const;
    return [head, ...membersOf(state, backend, sizingOf, when)];
  });
}

/** The rules of the routes that work on the load balancer itself. */
function matchRules(state: IngressState, controller: Controller): Held[] {
  const ports = state.gatewaysOf(controller).flatMap((gateway) => listenersOf(gateway).map(({ port }) => port));
  return routesOf(state, controller).flatMap((route) =>
    (route.hosts.length === 0 ? ['every host, '] : route.hosts).map((host): Held => ({
      part: 'match rule',
      text: `${host}${route.path}${ports.length === 0 ? '' : ` on ${[...new Set(ports)].join(', ')}`} to ${route.backends.join(', ') || route.redirect}`,
    })),
  );
}

function routesOf(state: IngressState, controller: Controller): IngressRoute[] {
  const gateways = state.gatewaysOf(controller);
  return state
    .routesOf(controller.clusterId)
    .filter(
      (route) =>
        state.isOfController(route, controller) ||
        state.parentsOf(route).some(({ gateway }) => gateways.includes(gateway)),
    );
}

function membersOf(
  state: IngressState,
  backend: Pick<Backend, 'name' | 'members' | 'addresses' | 'serviceId' | 'port'>,
  sizingOf: SizingOf,
  when: HoldCase,
): Held[] {
  if (backend.members === 'addresses')
    return backend.addresses.map((address) => ({
      part: 'member',
      text: `${backend.name}: ${address}:${backend.port}`,
    }));
  const service = byId(state.parts.services, backend.serviceId ?? '');
  const sizing = sizingOf(service?.clusterId ?? '');
  if (service === undefined || sizing === undefined) return [];
  const servicePort = state.answeringAt(service, backend.port);
  if (servicePort === undefined) return [];
  const names =
    backend.members === 'nodes'
      ? nodesOf(sizing, when).map((node) => `${node}:${servicePort.port.nodePort ?? 'given NodePort'}`)
      : servicePort.members.flatMap(({ workload, port }) => {
          const pods = when === 'horizon' ? workload.replicasHorizon : workload.replicasNow;
          return Array.from({ length: pods }, (_, i) => `pod ${i + 1} of ${workload.name}:${port ?? '?'}`);
        });
  const listed = names.slice(0, MAX_LISTED).map((name): Held => ({ part: 'member', text: `${backend.name}: ${name}` }));
  const more = names.length - listed.length;
  return more === 0 ? listed : [...listed, { part: 'member', text: `${backend.name}: ${more} more` }];
}

/** The nodes of a cluster by group and zone, numbered; one is gone from the fullest zone of its first group. */
function nodesOf({ groups, cluster }: Sizing, when: HoldCase): string[] {
  return groups.flatMap(({ name, zones, now, horizon }, at) => {
    const count = when === 'horizon' ? horizon : now - (when === 'node gone' && at === 0 && now > 0 ? 1 : 0);
    return Array.from({ length: count }, (_, i) => {
      const zone = zones.length === 0 ? '' : ` in ${zones[i % zones.length] ?? ''}`;
      return `${cluster.name} ${name} node ${Math.floor(i / Math.max(1, zones.length)) + 1}${zone}`;
    });
  });
}

/** The lines that one has and the other has not. */
export function heldDifference(
  before: readonly Held[],
  after: readonly Held[],
): { readonly gone: readonly Held[]; readonly come: readonly Held[] } {
  const key = ({ part, text }: Held) => `${part} ${text}`;
  const [old, fresh] = [new Set(before.map(key)), new Set(after.map(key))];
  return { gone: before.filter((each) => !fresh.has(key(each))), come: after.filter((each) => !old.has(key(each))) };
}
