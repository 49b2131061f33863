import { byId, grouped, nodePoolsOf, readStep, zonesOfCluster } from '../plan/index.js';
import type { Cluster, ClusterService, NodePool, Plan, Profile, Shape, Site } from '../plan/index.js';
import { formatNumber, formatCount } from '../working/index.js';
import { doubt, groupProblems, MAX_NODES, stop, zoneProblems } from './demandProblems.js';
import { inMillionths, nodesInMonth } from './growth.js';
import type { Growth } from './growth.js';
import type { ControlDemand, DemandProblem, LonePods, NodeGroup, Sizing } from './sizing.js';

/** What of a plan a cluster's demand follows from. */
export type DemandPlan = Pick<Plan, 'sites' | 'profiles' | 'shapes' | 'nodePools' | 'services'> & {
  readonly settings: Pick<Plan['settings'], 'horizonMonths'>;
};

const offersOf = new WeakMap<readonly Shape[], Map<string, readonly Shape[]>>();

/** Gathers what a cluster's sizes follow from. What cannot be is a problem in the answer, and the nearest that can be stands in for it. */
export function sizingOf(plan: DemandPlan, entered: Cluster): Sizing {
  // The plan's integrity was checked when it was made: site and profile are there.
  const site = byId(plan.sites, entered.siteId) as Site;
  const profile = byId(plan.profiles, site.profileId) as Profile;
  const pools = nodePoolsOf(plan, entered.id);
  const problems: DemandProblem[] = [];
  const cluster = withCounted(plan, entered, problems);
  const zones = zonesOf(cluster, site, problems);
  const given = groupsOf(plan, cluster, pools, zones, profile);
  const lone = pools.filter(({ kind }) => kind === 'pods').map((pool) => lonePodsOf(pool, zones));
  const growth = growthOf(cluster, given, plan.settings.horizonMonths, problems);
  const factor = growth.perYear === null || growth.nodesNow === 0 ? 1 : growth.nodesHorizon / growth.nodesNow;
  const groups =
    growth.perYear === null
      ? given
      : given.map((group) => ({ ...group, horizon: Math.min(MAX_NODES, Math.ceil(inMillionths(group.now * factor))) }));
  const sizing: Sizing = {
    cluster,
    site,
    profile,
    offers: offersFor(plan, profile),
    zones,
    groups,
    lonePods: lone,
    control: controlOf(plan, cluster),
    growth,
    podsPerNode: Math.max(...groups.map(({ podsPerNode }) => podsPerNode)),
    problems,
  };
  problems.push(...zoneProblems(pools, zones, cluster), ...groupProblems(sizing));
  return sizing;
}

const countedKinds = [
  ['services', 'services', () => true],
  ['nodePortServices', 'NodePort services', ({ type }: ClusterService) => type === 'NodePort'],
  ['balancerServices', 'LoadBalancer services', ({ type }: ClusterService) => type === 'LoadBalancer'],
  ['headlessServices', 'headless services', ({ type }: ClusterService) => type === 'headless'],
] as const;

/**
 * The cluster with the services that the plan lists, where they are more than its estimate says. Below that the estimate stands: it also
 * counts what is not listed yet, and a range that is sized for too few cannot grow.
 */
function withCounted(plan: DemandPlan, cluster: Cluster, problems: DemandProblem[]): Cluster {
  const listed = grouped(plan.services, 'clusterId').get(cluster.id);
  if (listed === undefined) return cluster;
  // An ExternalName service takes nothing of the cluster.
  const inCluster = listed.filter(({ type }) => type !== 'ExternalName');
  const counted = countedKinds.flatMap(([field, words, isOf]) => {
    const count = inCluster.filter(isOf).length;
    return count > cluster[field] ? [{ field, words, count }] : [];
  });
  if (counted.length === 0) return cluster;
  problems.push(
    ...counted.map(({ field, words, count }) =>
      doubt(
        field,
        [
          `the plan lists ${formatNumber(count)} ${count === 1 ? words.replace(/s$/, '') : words},`,
          `and the estimate says ${formatNumber(cluster[field])}: those listed are counted`,
        ].join(' '),
        'Raise the estimate to what is expected at the horizon.',
      ),
    ),
  );
  const raised = Object.fromEntries(counted.map(({ field, count }) => [field, count]));
  const whole = { ...cluster, ...raised };
  // Each kind is a part of all.
  return {
    ...whole,
    services: Math.max(whole.services, whole.nodePortServices + whole.balancerServices + whole.headlessServices),
  };
}

function zonesOf(cluster: Cluster, site: Site, problems: DemandProblem[]): readonly string[] {
  const { zoneCount } = cluster;
  if (zoneCount !== null && zoneCount > site.zones.length)
    problems.push(
      stop(
        'zoneCount',
        `${site.name} has ${formatCount(site.zones.length, 'zone')}; ${zoneCount} are required`,
        'Ask for fewer zones, or add zones to the site.',
      ),
    );
  return zonesOfCluster(cluster, site);
}

function groupsOf(
  plan: DemandPlan,
  cluster: Cluster,
  pools: readonly NodePool[],
  zones: readonly string[],
  profile: Profile,
): NodeGroup[] {
  const ofNodes = pools.filter(({ kind }) => kind === 'nodes');
  const shape = byId(plan.shapes, cluster.shapeId ?? '');
  const main: NodeGroup = {
    name: 'main',
    poolId: null,
    shape,
    zones,
    now: cluster.nodesNow,
    most: cluster.nodesNow,
    horizon: cluster.nodesHorizon,
    surge: { percent: cluster.surgePercent, least: profile.leastSurge },
    podsPerNode: cluster.podsPerNode,
    isPublic: false,
    additionalInterfaceSubnetIds: [],
  };
  const hasMain = ofNodes.length === 0 || cluster.nodesNow > 0 || cluster.nodesHorizon > 0;
  return [
    ...(hasMain ? [main] : []),
    ...ofNodes.map((pool): NodeGroup => ({
      name: pool.name,
      poolId: pool.id,
      shape: pool.shapeId === null ? shape : byId(plan.shapes, pool.shapeId),
      zones: within(pool, zones),
      now: pool.nodesNow,
      most: pool.nodesMax,
      horizon: Math.max(pool.nodesMax, pool.nodesHorizon),
      surge: { percent: pool.surgePercent, least: profile.leastSurge },
      podsPerNode: pool.podsPerNode ?? cluster.podsPerNode,
      isPublic: pool.isPublic,
      additionalInterfaceSubnetIds: pool.additionalInterfaceSubnetIds,
    })),
  ];
}

/** The pool's zones among the cluster's; all of these when none is. */
function within(pool: NodePool, zones: readonly string[]): readonly string[] {
  const own = zones.filter((zone) => pool.zones.includes(zone));
  return own.length === 0 ? zones : own;
}

function lonePodsOf(pool: NodePool, zones: readonly string[]): LonePods {
  return {
    name: pool.name,
    zones: within(pool, zones),
    now: pool.nodesNow,
    most: pool.nodesMax,
    horizon: Math.max(pool.nodesMax, pool.nodesHorizon),
  };
}

function controlOf(plan: DemandPlan, cluster: Cluster): ControlDemand {
  const { controlPlane, apiEndpoint } = cluster;
  if (controlPlane === 'hosted')
    return {
      nodes: 0,
      shape: undefined,
      spare: 0,
      virtualAddresses: 0,
      endpoints: apiEndpoint === 'private' ? 1 : 0,
    };
  const shape = byId(plan.shapes, cluster.controlShapeId ?? cluster.shapeId ?? '');
  return { nodes: cluster.controlNodes, shape, spare: 1, virtualAddresses: 2, endpoints: 0 };
}

function growthOf(
  cluster: Cluster,
  groups: readonly NodeGroup[],
  horizonMonths: number,
  problems: DemandProblem[],
): Growth {
  const sum = (count: (group: NodeGroup) => number) => groups.reduce((total, group) => total + count(group), 0);
  const nodesNow = sum(({ now }) => now);
  const perYear = cluster.growth === 'compound' ? cluster.growthPerYear : null;
  const plain: Growth = {
    kind: cluster.growth,
    nodesNow,
    nodesHorizon: sum(({ horizon }) => horizon),
    horizonMonths,
    perYear,
    steps: cluster.growthSteps.flatMap((text) => readStep(text) ?? []),
  };
  if (cluster.growth === 'compound' && nodesNow === 0)
    problems.push(
      stop(
        'growth',
        'compound growth starts from no nodes, so it stays at none',
        'Enter the nodes it has now, or choose linear growth.',
      ),
    );
  const wanted = nodesInMonth(plain, horizonMonths);
  if (perYear !== null && wanted > MAX_NODES) {
    let month = 0;
    while (nodesInMonth(plain, month) <= MAX_NODES) month++;
    problems.push(
      stop(
        'growthPerYear',
        `growth of ${formatNumber(perYear)} % a year from ${formatNumber(nodesNow)} nodes passes ${formatNumber(MAX_NODES)} in month ${month}`,
        'Lower the growth, or the horizon.',
      ),
    );
  }
  const high = plain.steps.find(({ nodes }) => nodes > plain.nodesHorizon);
  if (cluster.growth === 'steps' && high !== undefined)
    problems.push({
      ...stop(
        'growthSteps',
        `${high.nodes} nodes in month ${high.month} are more than the ${plain.nodesHorizon} at the horizon, which ranges are sized for`,
        'Raise the nodes at the horizon to the highest step.',
      ),
      isStopping: false,
    });
  return perYear === null ? plain : { ...plain, nodesHorizon: Math.min(MAX_NODES, Math.ceil(wanted)) };
}

function offersFor({ shapes }: DemandPlan, profile: Profile): readonly Shape[] {
  let known = offersOf.get(shapes);
  if (known === undefined) offersOf.set(shapes, (known = new Map<string, readonly Shape[]>()));
  let offers = known.get(profile.id);
  if (offers === undefined)
    known.set(profile.id, (offers = shapes.filter(({ profileId }) => profileId === profile.id)));
  return offers;
}
