import type { Host } from '../forwarding/index.js';
import type { Imported } from '../naming/index.js';
import { byId, listenersOf } from '../plan/index.js';
import type { Balancer, ClusterService, Controller, UrlTarget } from '../plan/index.js';
import { certifies, coversHost } from '../zones/index.js';
import type { IngressState } from './ingressState.js';

/** Where a request enters: a load balancer, a controller that the cluster itself calls, or a service by its name inside the cluster. */
export interface Entrance {
  readonly balancer: Balancer | undefined;
  readonly controller: Controller | undefined;
  readonly service: ClusterService | undefined;
  /** A service that other clusters export. */
  readonly imported?: Imported | undefined;
  /** How precisely something there is for the host. */
  readonly precision: 'exact' | 'wildcard' | 'every' | 'address';
}

const precisions: readonly Entrance['precision'][] = ['address', 'exact', 'wildcard', 'every'];

/** Where a request to an address enters: the load balancers that have it, each with the controllers that it feeds, or inside a cluster one of its services. */
export function entrancesAt(state: IngressState, address: string, from: Host): Entrance[] {
  const { balancers, controllers } = state.parts;
  // A fixed address of a service is known in its own cluster alone.
  const service =
    from.cluster === undefined ? undefined : state.servicesOf(from.cluster.id).find((each) => each.address === address);
  if (service !== undefined) {
    const controller = controllers.find(({ serviceId }) => serviceId === service.id);
    return [
      {
        balancer: undefined,
        controller,
        service: controller === undefined ? service : undefined,
        precision: 'address',
      },
    ];
  }
  return balancers.flatMap((balancer): Entrance[] => {
    if (balancer.address !== address) return [];
    const own = controllers.filter(({ balancerId }) => balancerId === balancer.id);
    const whose = own.length === 0 ? [undefined] : own;
    return whose.map((controller) => ({ balancer, controller, service: undefined, precision: 'address' as const }));
  });
}

/**
 * Where a request for a host can enter while the plan holds no zones, the likeliest first: the host is taken to stand for the load balancer
 * whose routes or certificate are for it, for clients outside a public one before an internal one.
 */
export function entrancesOf(state: IngressState, { host }: UrlTarget, from: Host): Entrance[] {
  const { balancers, controllers } = state.parts;
  const byController = controllers.flatMap((controller): Entrance[] => {
    const precision = precisionOf(state, controller, host);
    if (precision === undefined) return [];
    return [{ balancer: byId(balancers, controller.balancerId ?? ''), controller, service: undefined, precision }];
  });
  const fed = new Set(controllers.map(({ balancerId }) => balancerId));
  const byCertificate = balancers.flatMap((balancer): Entrance[] => {
    if (fed.has(balancer.id)) return [];
    const isFor = state.listenersOf(balancer).some((listener) => certifies(state.namesOn(listener), host));
    return isFor ? [{ balancer, controller: undefined, service: undefined, precision: 'exact' }] : [];
  });
  const all = [...byController, ...byCertificate];
  // What is for every host answers for those that nothing names.
  const best = all.some(({ precision }) => precision !== 'every')
    ? all.filter(({ precision }) => precision !== 'every')
    : all;
  return best.sort(
    (a, b) =>
      precisions.indexOf(a.precision) - precisions.indexOf(b.precision) ||
      nearness(state, a, from) - nearness(state, b, from),
  );
}

/** Lower is likelier: clients outside meet public load balancers, those inside a network what is in it. */
function nearness(state: IngressState, { balancer, controller }: Entrance, from: Host): number {
  const isOutside = from.kind === 'internet';
  if (balancer === undefined) return from.cluster !== undefined && from.cluster.id === controller?.clusterId ? 0 : 4;
  if (isOutside) return balancer.side === 'public' ? 0 : 3;
  const networkId = byId(state.parts.subnets, balancer.subnetId)?.networkId;
  return balancer.side === 'internal' ? (networkId === from.networkId ? 1 : 2) : 3;
}

function precisionOf(state: IngressState, controller: Controller, host: string): Entrance['precision'] | undefined {
  const found = new Set<Entrance['precision'] | undefined>([state.bookOf(controller).hasHost(host)]);
  for (const gateway of state.gatewaysOf(controller)) {
    const of = state.bookOfGateway(gateway).hasHost(host);
    const listened = listenersOf(gateway)
      .map(({ host: own }) => own)
      .filter((own) => coversHost(own, host, 'labels'));
    if (listened.length === 0 || of === undefined) continue;
    // A rule without a host takes that of the listener.
    found.add(
      of === 'every' && listened.some((own) => own !== '') ? (listened.includes(host) ? 'exact' : 'wildcard') : of,
    );
  }
  return precisions.find((each) => found.has(each));
}
