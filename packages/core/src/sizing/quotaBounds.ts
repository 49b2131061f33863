import { figure, formatNumber } from '../working/index.js';
import type { Bound, LimitContext } from './bound.js';
import { common, given, memory } from './bound.js';
import { countsOf, nodesAtOnce, nodesAtRest, podsOf, workersAtOnce } from './counts.js';
import type { Counts } from './counts.js';
import { nativePodsPerNode } from './nativePods.js';
import { familiesOf } from './needs.js';
import { raiseBalancer, raiseQuota, raiseRoutes, raiseShape } from './raises.js';
import type { Sizing } from './sizing.js';

/** Pods one cluster may run. From memory: stated limits of the Kubernetes API. */
const PODS_PER_CLUSTER = 150_000;

export function quotaBound(sizing: Sizing): Bound {
  const { profile } = sizing;
  const source = common('what the provider’s management can carry; the limit itself is the profile’s');
  return {
    code: 'nodes-per-cluster',
    name: 'Nodes per cluster',
    what: 'nodes that one cluster may have',
    capacity: given(
      profile.nodesPerCluster,
      'nodes',
      'Nodes one cluster may have',
      `Nodes per cluster, ${profile.name}`,
      source,
    ),
    demandOf: (counts) => nodesAtRest(sizing, counts),
    formula: 'n + control nodes',
    source,
    raises: (target) =>
      raiseQuota(`${profile.name} to allow`, nodesAtRest(sizing, countsOf(sizing, target)), 'nodes per cluster'),
  };
}

export function podsBound(sizing: Sizing): Bound {
  const source = memory('Stated limits of the Kubernetes API: 150,000 pods per cluster');
  return {
    code: 'pods-per-cluster',
    name: 'Pods per cluster',
    what: 'pods that one cluster may run',
    capacity: given(PODS_PER_CLUSTER, 'pods', 'Pods one cluster may run', 'Pods per cluster', source),
    demandOf: (counts) => podsOf(sizing, counts),
    formula: 'n × pods per node',
    source,
    raises: () => [],
  };
}

export function shapeBounds(sizing: Sizing): Bound[] {
  const { cluster, profile, groups } = sizing;
  return groups.flatMap(({ shape, podsPerNode, name, horizon }, at) => {
    if (shape === undefined || horizon === 0) return [];
    const isNative = cluster.podMode === 'native' && profile.nativeRule !== 'none';
    const held = isNative
      ? nativePodsPerNode(shape, profile)
      : given(
          shape.podCap,
          'pods',
          'Pods one node of the shape may run',
          `Pod cap of ${shape.name}`,
          common('the cap is the shape’s'),
        );
    // A shape that holds the pods of each node sets no limit to their number.
    if (held.value >= podsPerNode) return [];
    return [
      {
        code: 'machine-shape' as const,
        name: 'Machine shape',
        what: `pods on a node of shape ${shape.name}`,
        capacity: held,
        demandOf: (counts: Counts) => ((counts.nodes[at] ?? 0) > 0 ? podsPerNode : 0),
        formula: `pods per node${groups.length === 1 ? '' : ` of ${name}`}`,
        source: common('interfaces and slots of the shape, and its cap'),
        raises: () => raiseShape(sizing, at, held.value),
      },
    ];
  });
}

export function routesBound(sizing: Sizing): Bound {
  const { profile, cluster } = sizing;
  const families = familiesOf(cluster).length;
  const source = common('one route per node and family; the limit itself is the profile’s');
  return {
    code: 'routes-per-table',
    name: 'Routes per table',
    what: 'routes that one route table may hold',
    capacity: given(
      profile.routesPerTable,
      'routes',
      'Routes one table may hold',
      `Routes per table, ${profile.name}`,
      source,
    ),
    demandOf: (counts) => families * nodesAtOnce(sizing, counts),
    formula: 'n × (1 + surge) × families',
    source,
    raises: (target) => raiseRoutes(sizing, families * nodesAtOnce(sizing, countsOf(sizing, target))),
  };
}

export function balancerBound(sizing: Sizing): Bound {
  const { cluster, profile } = sizing;
  const isByNode = cluster.podMode === 'overlay';
  const workers = (counts: Counts) => workersAtOnce(sizing, counts);
  const source = common(
    isByNode ? 'a load balancer sends to a port on every node' : 'a load balancer sends to the pods of its service',
  );
  return {
    code: 'balancer-members',
    name: 'Load balancer members',
    what: 'members that one load balancer can send to',
    capacity: given(
      profile.membersPerBalancer,
      'members',
      'Members a load balancer can send to',
      `Members per load balancer, ${profile.name}`,
      source,
    ),
    demandOf: (counts) =>
      isByNode ? workers(counts) : Math.ceil(podsOf(sizing, counts) / Math.max(1, cluster.services)),
    formula: isByNode ? 'n × (1 + surge)' : '⌈pods ÷ services⌉, as they are on average',
    source,
    raises: (target) => raiseBalancer(sizing, workers(countsOf(sizing, target))),
  };
}

/** A cluster at its largest grows on in further clusters, of which the site has so many left. */
export function siteBound({ sizing, neighbours }: LimitContext): Bound {
  const { profile, site } = sizing;
  const free = profile.clustersPerSite - neighbours.clusters;
  const value = free < 0 ? 0 : profile.nodesPerCluster * (1 + free);
  const source = common('clusters at their largest; both limits are the profile’s');
  return {
    code: 'clusters-per-site',
    name: 'Clusters per site',
    what: 'nodes in this cluster and in those the site has left',
    capacity: figure(value, 'nodes', () => ({
      title: 'Nodes in all clusters the site has left',
      formula: 'nodes per cluster × (1 + clusters per site − clusters there)',
      inputs: [
        { name: `Nodes per cluster, ${profile.name}`, value: formatNumber(profile.nodesPerCluster) },
        { name: 'Clusters per site', value: formatNumber(profile.clustersPerSite) },
        { name: `Clusters at ${site.name}`, value: formatNumber(neighbours.clusters) },
      ],
      steps: [free < 0 ? 'The site has more clusters than it may.' : `${free} more clusters can be made`],
      result: `${formatNumber(value)} nodes`,
      source,
    })),
    demandOf: (counts) => nodesAtRest(sizing, counts),
    formula: 'n + control nodes',
    source,
    raises: () => raiseQuota(`${profile.name} to allow`, neighbours.clusters + 1, 'clusters per site'),
  };
}
