import { demandsOf, PoolSpace } from '../allocation/index.js';
import { clusterCost, totalOf } from '../money/index.js';
import { byId } from '../plan/index.js';
import type { Cluster, Plan, PodMode } from '../plan/index.js';
import { countsAtHorizon, nativePodsPerNode, podsOf, sizingOf } from '../sizing/index.js';
import type { Sizing } from '../sizing/index.js';
import { routableAddresses, routesTaken } from './modeFigures.js';

/** What one cluster takes in a mode. */
interface Takes {
  /** IPv4 addresses of routable space for its pods. */
  readonly addresses: number;
  readonly routes: number;
  /** Nodes that hold its pods at the horizon. */
  readonly nodes: number;
  /** A month at the horizon, of what can be computed; null when it has no machine shape. */
  readonly monthly: number | null;
}

/** One cluster of a site before and after a move. */
export interface MovedCluster {
  readonly clusterId: string;
  readonly name: string;
  readonly from: PodMode;
  readonly before: Takes;
  readonly after: Takes;
  /** Pod ranges that no pool has room for once the site's others have theirs; empty when all fit. */
  readonly without: readonly string[];
  /** Whether it is built: then its move is a rebuild. */
  readonly isRebuild: boolean;
}

/** What changes when every cluster of a site has its pods in one mode. */
export interface MoveOfSite {
  readonly clusters: readonly MovedCluster[];
  /** Pools in which some range found no place. */
  readonly exhausted: readonly string[];
  /** Why the mode is not offered at the site at all; empty when it is. */
  readonly cannot: string;
}

/** Works out what a move of all clusters at a site to a pod network would take: addresses, routes, nodes and money, placed together in the pools. */
export function moveSite(plan: Plan, siteId: string, mode: PodMode): MoveOfSite {
  const here = plan.clusters.filter((cluster) => cluster.siteId === siteId);
  const ids = new Set(here.map(({ id }) => id));
  const given = plan.allocations.filter((range) => range.purpose === 'pod' && ids.has(range.clusterId));
  const space = new PoolSpace(plan, new Set(given.map(({ id }) => id)));
  const exhausted = new Set<string>();
  const clusters = here.map((cluster): MovedCluster => {
    const moved = { ...cluster, podMode: mode };
    return {
      clusterId: cluster.id,
      name: cluster.name,
      from: cluster.podMode,
      before: takes(sizingOf(plan, cluster)),
      after: takes(sizingOf(plan, moved)),
      without: placeAll(plan, moved, space, exhausted),
      isRebuild: cluster.isBuilt && cluster.podMode !== mode,
    };
  });
  const site = byId(plan.sites, siteId);
  const profile = byId(plan.profiles, site?.profileId ?? '');
  const isOffered = mode !== 'native' || profile?.nativeRule !== 'none';
  return {
    clusters,
    exhausted: [...exhausted].sort(),
    cannot: isOffered ? '' : `${profile.name} gives pods no addresses from subnets.`,
  };
}

function placeAll(plan: Plan, cluster: Cluster, space: PoolSpace, exhausted: Set<string>): string[] {
  return demandsOf(plan, cluster).flatMap(({ need, demand }) => {
    if (need.purpose !== 'pod' || space.place(demand) !== undefined) return [];
    for (const { name } of space.sourcesFor(demand)) exhausted.add(name);
    return [`/${need.length.value}${need.zone === '' ? '' : ` in zone ${need.zone}`}`];
  });
}

function takes(sizing: Sizing): Takes {
  const { cluster, profile } = sizing;
  const counts = countsAtHorizon(sizing);
  const [main] = sizing.groups;
  const held =
    main?.shape === undefined || cluster.podMode !== 'native'
      ? (main?.podsPerNode ?? 1)
      : Math.min(main.podsPerNode, nativePodsPerNode(main.shape, profile).value);
  const planned = counts.nodes.reduce((sum, count) => sum + count, 0);
  const nodes = held === 0 ? planned : Math.max(planned, Math.ceil(podsOf(sizing, counts) / held));
  const cost = totalOf(clusterCost(sizing, 'horizon'));
  return {
    addresses: routableAddresses({ cluster, sizing }).value,
    routes: routesTaken({ cluster, sizing }).value,
    nodes,
    // More nodes than planned cost their price each.
    monthly: main?.shape === undefined ? null : Math.round(100 * (cost + (nodes - planned) * main.shape.price)) / 100,
  };
}
