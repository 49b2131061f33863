import type { Family, Prefix } from '../address/index.js';
import { rangeOf } from '../plan/index.js';
import type { Allocation, Cluster, PlanSettings, Profile, Site } from '../plan/index.js';
import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { monthReached } from './growth.js';
import { entryInNodeSubnet, familiesOf, rangesNeeded, subnetZones } from './needs.js';
import type { Need } from './needs.js';
import { nodesHeld, usableAddresses } from './nodeSubnet.js';
import { nodesToAddress } from './nodesToAddress.js';
import { perNodePrefix } from './perNodePrefix.js';
import { nodesServed } from './podRange.js';
import { serviceBands, serviceUsable } from './serviceRange.js';
import type { ServiceBands } from './serviceRange.js';
import { atRest, saySurge, surgeOf } from './surge.js';
import type { Surge } from './surge.js';

/** One need beside the range that serves it, if any. */
export interface FilledNeed {
  readonly need: Need;
  readonly allocation: Allocation | undefined;
  /** Whether the range is at least as large as needed; true when none is allocated. */
  readonly isLargeEnough: boolean;
}

/** Something that stops growth, on the one scale: nodes. */
export interface Limit {
  readonly name: string;
  readonly nodes: Figure;
  readonly month: Figure;
}

/** What follows from one cluster's decisions and ranges. */
export interface ClusterFigures {
  readonly needs: readonly FilledNeed[];
  /** Ranges that answer no need: another zone, family or mode. */
  readonly strays: readonly Allocation[];
  readonly nodesToAddress: Figure;
  readonly perNode: readonly { readonly family: Family; readonly length: Figure }[];
  readonly pods: Figure;
  readonly services: readonly {
    readonly range: Prefix;
    readonly usable: Figure;
    readonly bands: ServiceBands | undefined;
  }[];
  /** Every limit that the allocated ranges set, tightest first. */
  readonly limits: readonly Limit[];
}

/** What a cluster's figures are computed from. */
export interface ClusterContext {
  readonly cluster: Cluster;
  readonly site: Site;
  readonly profile: Profile;
  readonly settings: PlanSettings;
  /** The cluster's own ranges. */
  readonly allocations: readonly Allocation[];
}

/** Computes needs, consequences and limits of one cluster. */
export function clusterFigures(context: ClusterContext): ClusterFigures {
  const { cluster, site, profile, allocations } = context;
  const needs = rangesNeeded(cluster, site, profile).map((need) => fill(need, allocations));
  const used = new Set(needs.map((filled) => filled.allocation));
  return {
    needs,
    strays: allocations.filter((allocation) => !used.has(allocation)),
    nodesToAddress: nodesToAddress(cluster.nodesHorizon, surgeOf(cluster, profile)),
    perNode: familiesOf(cluster).map((family) => ({
      family,
      length: perNodePrefix(family, cluster.podsPerNode, cluster.perNodeLength),
    })),
    pods: podsAtHorizon(cluster),
    services: needs.flatMap(({ need, allocation }) =>
      need.purpose === 'service' && allocation !== undefined ? [serviceFigures(allocation)] : [],
    ),
    limits: limitsOf(context, needs),
  };
}

function fill(need: Need, allocations: readonly Allocation[]): FilledNeed {
  const allocation = allocations.find(
    (a) => a.purpose === need.purpose && a.zone === need.zone && rangeOf(a).family === need.family,
  );
  return {
    need,
    allocation,
    isLargeEnough: allocation === undefined || rangeOf(allocation).length <= need.length.value,
  };
}

function serviceFigures(allocation: Allocation) {
  const range = rangeOf(allocation);
  return { range, usable: serviceUsable(range), bands: serviceBands(range) };
}

function podsAtHorizon({ nodesHorizon, podsPerNode }: Cluster): Figure {
  const value = nodesHorizon * podsPerNode;
  return figure(value, 'pods', () => ({
    title: 'Pods at the horizon',
    formula: 'nodes at horizon × pods a node',
    inputs: [
      { name: 'Nodes at horizon', value: sayNumber(nodesHorizon) },
      { name: 'Pods a node', value: sayNumber(podsPerNode) },
    ],
    steps: [`${sayNumber(nodesHorizon)} × ${podsPerNode}`],
    result: `${sayNumber(value)} pods`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

function limitsOf(context: ClusterContext, needs: readonly FilledNeed[]): Limit[] {
  const { cluster, profile, settings } = context;
  const found: { name: string; nodes: Figure }[] = [];
  for (const family of familiesOf(cluster)) {
    const ranges = (purpose: 'node' | 'pod') =>
      needs
        .filter(
          ({ need, allocation }) => need.purpose === purpose && need.family === family && allocation !== undefined,
        )
        .map(({ allocation }) => rangeOf(allocation as Allocation));
    found.push(...subnetLimit(context, ranges('node'), family), ...podLimit(context, ranges('pod'), family));
  }
  found.push({ name: 'Nodes a cluster', nodes: quotaLimit(profile) });
  if (cluster.podMode === 'routed')
    found.push({ name: 'Routes a table', nodes: routeLimit(profile, surgeOf(cluster, profile)) });
  return found
    .map(({ name, nodes }) => ({
      name,
      nodes,
      month: monthReached({ ...cluster, horizonMonths: settings.horizonMonths }, nodes.value),
    }))
    .sort((a, b) => a.nodes.value - b.nodes.value);
}

function smallest(ranges: readonly Prefix[]): number | undefined {
  return ranges.length === 0 ? undefined : Math.max(...ranges.map((range) => range.length));
}

function subnetLimit(
  { cluster, site, profile }: ClusterContext,
  ranges: readonly Prefix[],
  family: Family,
): { name: string; nodes: Figure }[] {
  const length = smallest(ranges);
  // A /64 never runs out of node addresses, so IPv6 node subnets set no limit.
  if (length === undefined || family === 6) return [];
  const usable = usableAddresses(length, profile.reservedFirst + profile.reservedLast);
  const zones = subnetZones(site, profile).length;
  return [
    {
      name: 'Node subnets',
      nodes: nodesHeld(usable, { zones, surge: surgeOf(cluster, profile), entryAddresses: entryInNodeSubnet(cluster) }),
    },
  ];
}

function podLimit(
  { cluster, site, profile }: ClusterContext,
  ranges: readonly Prefix[],
  family: Family,
): { name: string; nodes: Figure }[] {
  const length = smallest(ranges);
  if (length === undefined) return [];
  const name = family === 6 ? 'Pod range (IPv6)' : 'Pod range';
  if (cluster.podMode !== 'native') {
    const served = nodesServed(length, perNodePrefix(family, cluster.podsPerNode, cluster.perNodeLength));
    return [{ name, nodes: servedAtRest(served, surgeOf(cluster, profile)) }];
  }
  if (family === 6) return [];
  const zones = subnetZones(site, profile).length;
  const usable = usableAddresses(length, profile.reservedFirst + profile.reservedLast);
  return [{ name: 'Pod subnets', nodes: nativeNodes(usable, cluster, zones, surgeOf(cluster, profile)) }];
}

function servedAtRest(served: Figure, surge: Surge): Figure {
  const value = atRest(served.value, surge);
  return figure(value, 'nodes', () => {
    const working = served.explain();
    return {
      ...working,
      title: 'Nodes at rest the pod range serves',
      formula: `⌊${working.formula} ÷ (1 + surge)⌋`,
      inputs: [...working.inputs, { name: 'Surge', value: saySurge(surge) }],
      steps: [
        ...working.steps,
        `${sayNumber(served.value)} nodes with surge`,
        `${sayNumber(value)} at rest leave room for it`,
      ],
      result: `${sayNumber(value)} nodes`,
    };
  });
}

function nativeNodes(usable: Figure, cluster: Cluster, zones: number, surge: Surge): Figure {
  const running = Math.floor(usable.value / cluster.podsPerNode);
  const value = atRest(running, surge) * zones;
  return figure(value, 'nodes', () => ({
    title: 'Nodes the pod subnets hold',
    formula: '⌊⌊usable ÷ pods a node⌋ ÷ (1 + surge)⌋ × zones',
    inputs: [
      { name: 'Usable addresses in the smallest subnet', value: sayNumber(usable.value) },
      { name: 'Pods a node', value: sayNumber(cluster.podsPerNode) },
      { name: 'Surge', value: saySurge(surge) },
      { name: 'Subnets', value: sayNumber(zones) },
    ],
    steps: [
      `${sayNumber(usable.value)} ÷ ${cluster.podsPerNode} = ${sayNumber(running)} nodes a subnet with surge`,
      `${sayNumber(value)} at rest in all`,
    ],
    result: `${sayNumber(value)} nodes`,
    source: { mark: 'C', text: 'Common practice: each pod takes one address of the subnet' },
  }));
}

function routeLimit(profile: Profile, surge: Surge): Figure {
  const value = atRest(profile.routesPerTable, surge);
  return figure(value, 'nodes', () => ({
    title: 'Nodes the route table allows',
    formula: '⌊routes a table ÷ (1 + surge)⌋',
    inputs: [
      { name: 'Routes a table', value: sayNumber(profile.routesPerTable) },
      { name: 'Surge', value: saySurge(surge) },
    ],
    steps: ['Routed pods take one route a node.'],
    result: `${sayNumber(value)} nodes`,
    source: { mark: 'C', text: 'Common practice; the limit itself is the profile’s' },
  }));
}

function quotaLimit({ nodesPerCluster, name }: Profile): Figure {
  return figure(nodesPerCluster, 'nodes', () => ({
    title: 'Nodes one cluster may have',
    formula: 'the provider’s quota',
    inputs: [{ name: `Nodes a cluster, ${name}`, value: sayNumber(nodesPerCluster) }],
    steps: ['What the provider’s management can carry.'],
    result: `${sayNumber(nodesPerCluster)} nodes`,
    source: { mark: 'C', text: 'Common practice; the limit itself is the profile’s' },
  }));
}
