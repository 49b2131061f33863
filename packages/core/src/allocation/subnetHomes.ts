import { overlaps } from '../address/index.js';
import type { Prefix } from '../address/index.js';
import { grouped, rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, Plan, Profile, Subnet } from '../plan/index.js';
import { isFromSubnet, sizingOf } from '../sizing/index.js';
import type { Need } from '../sizing/index.js';
import type { PoolSpace } from './poolSpace.js';
import { subnetUse } from './subnetUse.js';

/** A place found in a subnet that stands in the plan. */
export interface Home {
  readonly prefix: Prefix;
  readonly subnet: Subnet;
  /** The clusters that live in it already, by name. */
  readonly withWhom: readonly string[];
}

/** What is asked of the subnets of a network. */
export interface HomeWanted {
  readonly cluster: Cluster;
  readonly need: Need;
  /** IPv4 addresses that it has to hold. */
  readonly addresses: number;
}

interface Room {
  readonly subnet: Subnet;
  readonly prefix: Prefix;
  /** Addresses that are left, what this proposal gave taken off; IPv6 does not run out. */
  left: number;
  readonly names: string[];
}

/**
 * The subnets of a plan as places for clusters, while a proposal fills them: those set aside for the same purpose at the
 * site and in the zone, in which nothing but whole subnets of clusters lies. What lives there is counted at its largest.
 */
export class SubnetHomes {
  private readonly rooms = new Map<string, Room | undefined>();

  /** Ranges whose allocation ids are in `leaving` count as gone, as in the space. */
  constructor(
    private readonly plan: Plan,
    private readonly space: PoolSpace,
    private readonly leaving: ReadonlySet<string>,
  ) {}

  /** The subnet that a cluster's range fits in and that has the least room left then; undefined when none has room. */
  place({ cluster, need, addresses: needed }: HomeWanted, moving?: Allocation): Home | undefined {
    const { purpose, zone, family, length } = need;
    if (!isFromSubnet(cluster, purpose)) return undefined;
    const sizing = sizingOf(this.plan, cluster);
    // Where it leaves from, and where it lives already, is no place for it.
    const not = [moving ?? [], grouped(this.plan.allocations, 'clusterId').get(cluster.id) ?? []].flat().map(rangeOf);
    let best: Room | undefined;
    for (const subnet of grouped(this.plan.subnets, 'networkId').get(cluster.networkId) ?? []) {
      if (
        subnet.siteId !== cluster.siteId ||
        subnet.zone !== zone ||
        subnet.purpose !== purpose ||
        subnet.delegatedTo !== ''
      )
        continue;
      const prefix = rangeOf(subnet);
      if (prefix.family !== family || prefix.length > length.value || not.some((range) => overlaps(prefix, range)))
        continue;
      const room = this.roomIn(subnet, sizing.profile);
      if (room === undefined || room.left < needed) continue;
      if (room.names.length > 0 && !sizing.profile.sharesSubnets) continue;
      if (
        best === undefined ||
        room.left < best.left ||
        (room.left === best.left && room.subnet.name < best.subnet.name)
      )
        best = room;
    }
    if (best === undefined) return undefined;
    const withWhom = [...best.names];
    best.left -= needed;
    best.names.push(cluster.name);
    return { prefix: best.prefix, subnet: best.subnet, withWhom };
  }

  private roomIn(subnet: Subnet, profile: Profile): Room | undefined {
    if (!this.rooms.has(subnet.id)) this.rooms.set(subnet.id, this.measure(subnet, profile));
    return this.rooms.get(subnet.id);
  }

  private measure(subnet: Subnet, profile: Profile): Room | undefined {
    const { usable, taken, living, isParted } = subnetUse(this.plan, subnet, profile, this.leaving);
    // What is set apart keeps its addresses from others.
    if (isParted || !this.space.isClear(subnet)) return undefined;
    const names = living.filter(({ isCluster }) => isCluster).map(({ name }) => name);
    return { subnet, prefix: rangeOf(subnet), left: usable - taken, names };
  }
}
