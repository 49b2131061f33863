import { compareAddresses } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { around, grouped, addressSpan } from '../plan/index.js';
import type { Allocation, Balancer, ClusterService, Plan } from '../plan/index.js';
import { isSameList, once, section } from '../section/index.js';

/** Who takes what comes to an address: devices, services with a fixed address, machines. */
export class Takers {
  private readonly addresses: ReadonlySet<string>;
  private readonly balancers: ReadonlyMap<string, Balancer>;

  constructor(private readonly lists: ReturnType<typeof listsOf>) {
    const { balancers, bastions, endpoints, resolvers, services } = lists;
    this.balancers = new Map([...balancers].reverse().map((each) => [each.address ?? '', each]));
    this.addresses = new Set([
      ...[...bastions, ...endpoints, ...services].map(({ address }) => address ?? ''),
      ...resolvers.flatMap(({ addresses }) => addresses),
    ]);
  }

  /** From the lists of another state: the same object while none of them differs. */
  static of(parts: TakerParts, last?: Takers): Takers {
    const lists = listsOf(parts);
    const names = Object.keys(lists) as (keyof typeof lists)[];
    const isSame = last !== undefined && names.every((name) => isSameList<unknown>(last.lists[name], lists[name]));
    return isSame ? last : new Takers(lists);
  }

  balancerAt(address: string): Balancer | undefined {
    return this.balancers.get(address);
  }

  /** Whether a load balancer answers on some port. */
  listens({ id }: Balancer): boolean {
    return (grouped(this.lists.listeners, 'balancerId').get(id) ?? []).length > 0;
  }

  /** Whether a device, a service, a reservation, a node or a machine in use may have an address. */
  has(address: string, at: Prefix): boolean {
    const { reservations, inUse, nodes } = this.lists;
    if (this.balancers.has(address) || this.addresses.has(address)) return true;
    if (around(inUse, at).length > 0 || around(nodes, at).length > 0) return true;
    return reservations.some((reservation) => {
      const { first, last } = addressSpan(reservation);
      return first.family === at.family && compareAddresses(first, at) <= 0 && compareAddresses(at, last) <= 0;
    });
  }
}

const reads = [
  'balancers',
  'listeners',
  'bastions',
  'endpoints',
  'resolvers',
  'services',
  'reservations',
  'inUse',
  'allocations',
] as const satisfies readonly (keyof Plan)[];
type TakerParts = Pick<Plan, (typeof reads)[number]>;

const fixed = once((services: readonly ClusterService[]) => services.filter(({ address }) => address !== null));
const nodesIn = once((ranges: readonly Allocation[]) => ranges.filter(({ purpose }) => purpose === 'node'));

function listsOf({
  balancers,
  listeners,
  bastions,
  endpoints,
  resolvers,
  services,
  reservations,
  inUse,
  allocations,
}: TakerParts) {
  return {
    balancers,
    listeners,
    bastions,
    endpoints,
    resolvers,
    services: fixed(services),
    reservations,
    inUse,
    nodes: nodesIn(allocations),
  };
}

/** Who takes what comes to an address, the same while nobody of them changed. */
export const takers = section({
  name: 'takers',
  reads,
  needs: {},
  build: (parts) => Takers.of(parts),
  follow: (last, parts) => Takers.of(parts, last.value),
});
