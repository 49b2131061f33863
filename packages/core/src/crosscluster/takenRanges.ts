import { PrefixIndex, lastAddress } from '../address/index.js';
import type { Family, Prefix } from '../address/index.js';
import type { Forwarding } from '../forwarding/index.js';
import { byId, grouped, rangeOf, shownAs, translationsOf } from '../plan/index.js';
import type { Allocation, Cluster, Connection, Member, Plan } from '../plan/index.js';
import { usesOfPlan } from '../verdicts/index.js';
import type { Use } from '../verdicts/index.js';

type Parts = Pick<Plan, 'allocations' | 'clusters' | 'inUse' | 'subnets' | 'blocks' | 'networks'>;

/** A range that a member shows and that somebody else has whom another member reaches: its packets go into the tunnel instead. */
export interface TakenRange {
  readonly member: Member;
  readonly cluster: Cluster;
  readonly allocation: Allocation;
  readonly own: Prefix;
  readonly shown: Prefix;
  /** Who loses the way, and to what. */
  readonly viewer: Cluster;
  readonly use: Use;
}

/** What tunnels of a connection take away from networks that its members reach, one for each range. */
export function takenRanges(
  parts: Parts,
  forwarding: Forwarding,
  { method }: Connection,
  members: readonly Member[],
): TakenRange[] {
  if (method !== 'tunnels') return [];
  const joined = new Set(members.map(({ clusterId }) => clusterId));
  const uses = usesOfPlan(parts).filter(
    ({ kind, clusterId, isInternal }) =>
      kind !== 'blocks' && (clusterId === null || (!isInternal && !joined.has(clusterId))),
  );
  const indexes = new Map<Family, PrefixIndex>();
  const indexOf = (family: Family) => {
    const known = indexes.get(family) ?? new PrefixIndex(family);
    indexes.set(family, known);
    return known;
  };
  uses.forEach(({ prefix }, at) => indexOf(prefix.family).insert(prefix, at));
  const clusters = members.flatMap(({ clusterId }) => byId(parts.clusters, clusterId) ?? []);
  const ranges = grouped(parts.allocations, 'clusterId');
  return members.flatMap((member): TakenRange[] => {
    const cluster = byId(parts.clusters, member.clusterId);
    if (cluster === undefined) return [];
    const shownRanges = (ranges.get(cluster.id) ?? []).filter(
      ({ purpose }) => purpose === 'pod' || purpose === 'service',
    );
    return shownRanges.flatMap((allocation): TakenRange[] => {
      const own = rangeOf(allocation);
      const shown = shownAs(own, translationsOf(member)) ?? own;
      const met: Use[] = [];
      indexOf(shown.family).forEachOverlapping(shown, (at) => met.push(uses[at] as Use));
      for (const use of met) {
        // In its own network a range is where it belongs.
        if (use.networkId === null || use.networkId === cluster.networkId) continue;
        const viewer = clusters.find((each) => each.id !== cluster.id && reaches(forwarding, each, use, shown));
        if (viewer !== undefined) return [{ member, cluster, allocation, own, shown, viewer, use }];
      }
      return [];
    });
  });
}

/** Whether a cluster's network has a way to a range, other than by its default. */
function reaches(forwarding: Forwarding, { networkId }: Cluster, { prefix }: Use, shown: Prefix): boolean {
  const both = prefix.length > shown.length ? prefix : shown;
  const { row } = forwarding.routes.lookUp(networkId, forwarding.routes.mainTable(networkId), lastAddress(both));
  return row !== undefined && row.prefix.length > 0 && (row.hop.kind === 'local' || row.hop.kind === 'link');
}
