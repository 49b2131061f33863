import { addressBits } from '../address/index.js';
import type { Family } from '../address/index.js';
import { demandsOf, PoolSpace } from '../allocation/index.js';
import { byId } from '../plan/index.js';
import type {
  Cluster,
  Network,
  Plan,
  PlanSettings,
  PodMode,
  PodRequirement,
  Profile,
  Shape,
  Site,
} from '../plan/index.js';
import { familiesOf, nodesToAddress, perNodePrefix, rangesNeeded, surgeOf } from '../sizing/index.js';
import { efficiency, segmentSize } from '../wire/index.js';
import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { nativePodsPerNode } from './nativePods.js';
import { podPacket } from './paths.js';

/** What is weighed when pod networks are compared. */
export type Criterion = 'addresses' | 'reach' | 'wire' | 'routes' | 'effort';

/** Every criterion with the field of the plan's settings that holds its weight. */
export const criteria = [
  { id: 'addresses', field: 'weightAddresses', label: 'Addresses' },
  { id: 'reach', field: 'weightReach', label: 'Reach' },
  { id: 'wire', field: 'weightWire', label: 'Wire' },
  { id: 'routes', field: 'weightRoutes', label: 'Routes' },
  { id: 'effort', field: 'weightEffort', label: 'Effort' },
] as const satisfies readonly { id: Criterion; field: keyof PlanSettings; label: string }[];

/** One consequence of a mode: a computed figure, or a fact of the mode in words. */
export type Consequence =
  | { readonly label: string; readonly figure: Figure }
  | { readonly label: string; readonly words: string; readonly isGood: boolean };

/** One mode for one cluster of one plan. */
export interface ModeComparison {
  readonly mode: PodMode;
  readonly consequences: readonly Consequence[];
  /** Why it cannot be; empty when it can. */
  readonly excluded: readonly string[];
  /** Each criterion from 0 (worst) to 1 (best). */
  readonly scores: Readonly<Record<Criterion, number>>;
  /** The weighted mean of the scores, 0 to 100. */
  readonly score: Figure;
}

/** What would change the winner: a weight, and the value from which another mode wins. */
export interface Sensitivity {
  readonly criterion: Criterion;
  readonly weight: number;
  /** The nearest weight of 0 to 10 with another winner; undefined when there is none. */
  readonly turnsAt: number | undefined;
  readonly winner: PodMode | undefined;
}

/** All modes side by side, the winner among those that are not excluded, and how sure it is. */
export interface PodNetworkComparison {
  readonly modes: readonly ModeComparison[];
  readonly winner: PodMode | undefined;
  readonly sensitivities: readonly Sensitivity[];
}

const modes: readonly PodMode[] = ['overlay', 'routed', 'native'];

interface Context {
  readonly plan: Plan;
  readonly cluster: Cluster;
  readonly site: Site;
  readonly profile: Profile;
  readonly network: Network;
  readonly shape: Shape | undefined;
}

/** Compares the three modes for a cluster; undefined when it is not in the plan. */
export function comparePodNetworks(plan: Plan, clusterId: string): PodNetworkComparison | undefined {
  const cluster = byId(plan.clusters, clusterId);
  if (cluster === undefined) return undefined;
  // The plan's integrity was checked when it was made: what a cluster refers to is there.
  const site = byId(plan.sites, cluster.siteId) as Site;
  const profile = byId(plan.profiles, site.profileId) as Profile;
  const network = byId(plan.networks, cluster.networkId) as Network;
  const shape = byId(plan.shapes, cluster.shapeId ?? '');
  const context = { plan, cluster, site, profile, network, shape };
  const compared = modes.map((mode) => compareMode({ ...context, cluster: { ...cluster, podMode: mode } }, mode));
  const winner = winnerOf(compared, plan.settings);
  return {
    modes: compared,
    winner,
    sensitivities: criteria.map(({ id }) => sensitivity(compared, plan.settings, id, winner)),
  };
}

function compareMode(context: Context, mode: PodMode): ModeComparison {
  const { plan, cluster, profile, network } = context;
  const addresses = routableAddresses(context);
  const routes = routesTaken(context);
  const packet = podPacket(cluster, network, mode);
  const segment = segmentSize(packet.value, cluster.family === 'ipv6' ? 6 : 4);
  const share = efficiency(network.mtu, segment.value);
  const pods = podsPerNode(context);
  const scores: Record<Criterion, number> = {
    // A /16 of routable space counts as nothing left to lose.
    addresses: 1 - Math.min(1, Math.log2(1 + addresses.value) / 16),
    reach: mode === 'overlay' ? 0 : mode === 'routed' ? 0.8 : 1,
    wire: Math.min(1, Math.max(0, (share.value - 85) / 15)),
    routes: 1 - Math.min(1, routes.value / profile.routesPerTable),
    effort: mode === 'overlay' ? 0.6 : mode === 'routed' ? 0.4 : 1,
  };
  return {
    mode,
    consequences: [
      { label: 'Addresses from routable space', figure: addresses },
      { label: 'Pods on a node', figure: pods },
      { label: 'Routes in the table', figure: routes },
      { label: 'Largest packet between pods', figure: packet },
      { label: 'TCP segment', figure: segment },
      { label: 'Efficiency', figure: share },
      ...facts[mode],
    ],
    excluded: exclusions(context, pods.value, packet.value),
    scores,
    score: scoreOf(scores, plan.settings, mode),
  };
}

/** What holds of a mode wherever it runs. Common practice. */
const facts: Readonly<Record<PodMode, readonly Consequence[]>> = {
  overlay: [
    { label: 'Pods reached from the network', words: 'no, only by a service', isGood: false },
    {
      label: 'Load balancer sends to',
      words: 'a node’s port, one more hop; the source is lost unless the traffic policy is Local',
      isGood: false,
    },
    { label: 'Network policy', words: 'by the network add-on', isGood: true },
    { label: 'Encryption between nodes', words: 'with WireGuard as encapsulation', isGood: true },
    { label: 'Needs of the system', words: 'a tunnel device in each node’s kernel', isGood: true },
    { label: 'Dual stack', words: 'by the network add-on', isGood: true },
  ],
  routed: [
    { label: 'Pods reached from the network', words: 'yes, where the routes are advertised', isGood: true },
    { label: 'Load balancer sends to', words: 'pods or a node’s port', isGood: true },
    { label: 'Network policy', words: 'by the network add-on', isGood: true },
    { label: 'Encryption between nodes', words: 'only outside of the pod network', isGood: false },
    { label: 'Needs of the system', words: 'a route for each node, by route table or BGP', isGood: false },
    { label: 'Dual stack', words: 'twice the routes', isGood: true },
  ],
  native: [
    { label: 'Pods reached from the network', words: 'yes, like any machine', isGood: true },
    { label: 'Load balancer sends to', words: 'pods', isGood: true },
    { label: 'Network policy', words: 'by filter groups or the network add-on', isGood: true },
    { label: 'Encryption between nodes', words: 'only outside of the pod network', isGood: false },
    { label: 'Needs of the system', words: 'the provider’s interface agent on each node', isGood: true },
    { label: 'Dual stack', words: 'where subnets have both families', isGood: true },
  ],
};

const unable: Readonly<Record<PodRequirement, Readonly<Partial<Record<PodMode, string>>>>> = {
  reachable: { overlay: 'Pods must be reachable, and overlay addresses end at the cluster’s edge.' },
  'reachable on-premises': {
    overlay: 'Pods must be reachable on-premises, and overlay addresses are advertised nowhere.',
  },
  'source kept': { overlay: 'The source address must be kept, and overlay pods leave under a node’s address.' },
  'network policy': {},
  encryption: {
    routed: 'Traffic between nodes must be encrypted, and routed pods send it bare.',
    native: 'Traffic between nodes must be encrypted, and native pods send it bare.',
  },
  multicast: {
    routed: 'Multicast must work, and route tables carry none.',
    native: 'Multicast must work, and provider subnets carry none.',
  },
  'dual stack': {},
  'several attachments': {},
};

function exclusions({ plan, cluster, profile, shape }: Context, pods: number, packet: number): string[] {
  const { podMode: mode, podNeeds } = cluster;
  const nodes = nodesToAddress(cluster.nodesHorizon, surgeOf(cluster, profile)).value;
  const found = podNeeds.flatMap((need) => unable[need][mode] ?? []);
  if (mode === 'overlay' && podNeeds.includes('encryption') && cluster.encapsulation !== 'wireguard')
    found.push('Traffic between nodes must be encrypted, and this overlay is not: choose WireGuard to wrap it in.');
  if (podNeeds.includes('dual stack') && cluster.family !== 'dual')
    found.push('Both families are required, and the cluster runs one: make its family dual.');
  if (mode === 'native' && profile.nativeRule === 'none')
    found.push(`${profile.name} gives pods no addresses from subnets.`);
  if (mode === 'routed' && nodes > profile.routesPerTable)
    found.push(
      `${sayNumber(nodes)} nodes with surge need a route each, and a table of ${profile.name} holds ${sayNumber(profile.routesPerTable)}.`,
    );
  if (mode === 'native' && profile.nativeRule !== 'none' && shape !== undefined && pods < cluster.podsPerNode)
    found.push(
      `A node of shape ${shape.name} holds ${sayNumber(pods)} pods, and ${sayNumber(cluster.podsPerNode)} are wanted.`,
    );
  if (packet < cluster.mtuFloor)
    found.push(`Packets of ${sayNumber(cluster.mtuFloor)} bytes must pass, and ${sayNumber(packet)} is the largest.`);
  const missing = rangeThatFindsNoPlace(plan, cluster);
  if (missing !== undefined) found.push(missing);
  return found;
}

/** The pod range that no pool has room for in this mode; the cluster's present pod ranges count as free. */
function rangeThatFindsNoPlace(plan: Plan, cluster: Cluster): string | undefined {
  const own = plan.allocations.filter((range) => range.clusterId === cluster.id && range.purpose === 'pod');
  const space = new PoolSpace(plan, new Set(own.map(({ id }) => id)));
  for (const { need, demand } of demandsOf(plan, cluster)) {
    if (need.purpose !== 'pod' || space.place(demand) !== undefined) continue;
    return `No pool has room for a /${need.length.value} pod range${need.zone === '' ? '' : ` in zone ${need.zone}`}.`;
  }
  return undefined;
}

function routableAddresses({ cluster, site, profile }: Context): Figure {
  const needs = rangesNeeded(cluster, site, profile).filter(({ purpose, family }) => purpose === 'pod' && family === 4);
  const sizes = needs.map(({ length }) => 2 ** (addressBits(4) - length.value));
  const value = cluster.podMode === 'overlay' ? 0 : sizes.reduce((sum, size) => sum + size, 0);
  return figure(value, 'addresses', () => ({
    title: 'IPv4 addresses the pods take from routable space',
    formula:
      cluster.podMode === 'overlay' ? 'none: overlay addresses stay inside the cluster' : 'sum of its pod ranges',
    inputs: needs.map(({ zone, length }) => ({
      name: zone === '' ? 'Pod range' : `Pod subnet, zone ${zone}`,
      value: `/${length.value}`,
    })),
    steps:
      cluster.podMode === 'overlay'
        ? ['The same range may serve many clusters.']
        : [`${sizes.map(sayNumber).join(' + ')} = ${sayNumber(value)}`],
    result: `${sayNumber(value)} addresses`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

function routesTaken({ cluster, profile }: Context): Figure {
  const nodes = nodesToAddress(cluster.nodesHorizon, surgeOf(cluster, profile)).value;
  const families = familiesOf(cluster).length;
  const value = cluster.podMode === 'routed' ? nodes * families : 0;
  return figure(value, 'routes', () => ({
    title: 'Routes the pods take in the route table',
    formula:
      cluster.podMode === 'routed' ? 'nodes with surge × families' : 'none: no prefix a node in the network’s table',
    inputs: [
      { name: 'Nodes with surge', value: sayNumber(nodes) },
      { name: 'Families', value: String(families) },
      { name: `Routes a table, ${profile.name}`, value: sayNumber(profile.routesPerTable) },
    ],
    steps: [`${sayNumber(value)} of ${sayNumber(profile.routesPerTable)}`],
    result: `${sayNumber(value)} routes`,
    source: { mark: 'C', text: 'Common practice; the limit is the profile’s' },
  }));
}

function podsPerNode({ cluster, profile, shape }: Context): Figure {
  if (cluster.podMode === 'native' && shape !== undefined) return nativePodsPerNode(shape, profile);
  const family: Family = cluster.family === 'ipv6' ? 6 : 4;
  const prefix = perNodePrefix(family, cluster.podsPerNode, cluster.perNodeLength).value;
  const byPrefix = family === 6 ? cluster.podsPerNode : Math.min(cluster.podsPerNode, 2 ** (32 - prefix));
  const value = shape === undefined ? byPrefix : Math.min(byPrefix, shape.podCap);
  return figure(value, 'pods', () => ({
    title: 'Pods on a node',
    formula: 'what the cluster asks for, within the per-node prefix and the shape’s cap',
    inputs: [
      { name: 'Pods a node', value: sayNumber(cluster.podsPerNode) },
      { name: 'Per-node prefix', value: cluster.podMode === 'native' ? 'none' : `/${prefix}` },
      { name: 'Shape', value: shape === undefined ? 'not decided' : `${shape.name}, cap ${shape.podCap}` },
    ],
    steps: [`${sayNumber(value)} pods`],
    result: `${sayNumber(value)} pods`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

function weightsOf(settings: PlanSettings): Record<Criterion, number> {
  return Object.fromEntries(criteria.map(({ id, field }) => [id, settings[field]])) as Record<Criterion, number>;
}

function mean(scores: Readonly<Record<Criterion, number>>, weights: Readonly<Record<Criterion, number>>): number {
  const total = criteria.reduce((sum, { id }) => sum + weights[id], 0);
  if (total === 0) return 0;
  return (100 * criteria.reduce((sum, { id }) => sum + weights[id] * scores[id], 0)) / total;
}

function scoreOf(scores: Readonly<Record<Criterion, number>>, settings: PlanSettings, mode: PodMode): Figure {
  const weights = weightsOf(settings);
  const value = Math.round(10 * mean(scores, weights)) / 10;
  return figure(value, 'of 100', () => ({
    title: `Score of ${mode}`,
    formula: 'sum of weight × score ÷ sum of weights, × 100',
    inputs: criteria.map(({ id, label }) => ({
      name: `${label}, weight ${weights[id]}`,
      value: scores[id].toFixed(2),
    })),
    steps: criteria.map(
      ({ id, label }) =>
        `${label}: ${weights[id]} × ${scores[id].toFixed(2)} = ${(weights[id] * scores[id]).toFixed(2)}`,
    ),
    result: `${value} of 100`,
    source: { mark: 'C', text: 'A weighted mean; scores of reach and effort are judgements, the others are computed' },
  }));
}

function winnerOf(
  compared: readonly ModeComparison[],
  settings: PlanSettings,
  changed: Partial<Record<Criterion, number>> = {},
): PodMode | undefined {
  const weights = { ...weightsOf(settings), ...changed };
  let best: { mode: PodMode; value: number } | undefined;
  for (const { mode, excluded, scores } of compared) {
    const value = mean(scores, weights);
    if (excluded.length === 0 && (best === undefined || value > best.value + 1e-9)) best = { mode, value };
  }
  return best?.mode;
}

function sensitivity(
  compared: readonly ModeComparison[],
  settings: PlanSettings,
  criterion: Criterion,
  winner: PodMode | undefined,
): Sensitivity {
  const weight = weightsOf(settings)[criterion];
  for (let distance = 1; distance <= 10; distance++) {
    for (const turnsAt of [weight - distance, weight + distance]) {
      if (turnsAt < 0 || turnsAt > 10) continue;
      const other = winnerOf(compared, settings, { [criterion]: turnsAt });
      if (other !== winner) return { criterion, weight, turnsAt, winner: other };
    }
  }
  return { criterion, weight, turnsAt: undefined, winner: undefined };
}
