import { addressBits } from '../address/index.js';
import type { Family } from '../address/index.js';
import { demandsOf, PoolSpace } from '../allocation/index.js';
import { byId } from '../plan/index.js';
import type {
  Cluster,
  ClusterFamily,
  Encapsulation,
  Network,
  Plan,
  PlanSettings,
  PodMode,
  PodRequirement,
} from '../plan/index.js';
import {
  bitsFor,
  countsAtHorizon,
  familiesOf,
  nativePodsPerNode,
  nodesToAddress,
  perNodeOf,
  podsOf,
  rangesNeeded,
  sizingOf,
} from '../sizing/index.js';
import type { Need, Sizing } from '../sizing/index.js';
import { efficiency, encapsulations, segmentSize } from '../wire/index.js';
import { figure, sayNumber } from '../working/index.js';
import type { Figure } from '../working/index.js';
import { layersOf, podPacket } from './paths.js';

/** What is weighed when pod networks are compared. */
export type Criterion = 'addresses' | 'reach' | 'wire' | 'routes' | 'effort' | 'wishes';

/** Every criterion with the field of the plan's settings that holds its weight. */
export const criteria = [
  { id: 'addresses', field: 'weightAddresses', label: 'Addresses' },
  { id: 'reach', field: 'weightReach', label: 'Reach' },
  { id: 'wire', field: 'weightWire', label: 'Wire' },
  { id: 'routes', field: 'weightRoutes', label: 'Routes' },
  { id: 'effort', field: 'weightEffort', label: 'Effort' },
  { id: 'wishes', field: 'weightWishes', label: 'Wishes' },
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

/** The three modes in one address family. */
export interface FamilyComparison {
  readonly family: ClusterFamily;
  readonly modes: readonly ModeComparison[];
  /** The best that can be; undefined when none can. */
  readonly winner: PodMode | undefined;
}

/** What would change the winner: a weight, and the value from which another mode wins. */
export interface Sensitivity {
  readonly criterion: Criterion;
  readonly weight: number;
  /** The nearest weight of 0 to 10 with another winner; undefined when there is none. */
  readonly turnsAt: number | undefined;
  readonly winner: PodMode | undefined;
}

/** Modes side by side in each address family, the winner in the cluster's own, and how sure it is. */
export interface PodNetworkComparison {
  readonly families: readonly FamilyComparison[];
  /** The modes in the cluster's own family. */
  readonly modes: readonly ModeComparison[];
  readonly winner: PodMode | undefined;
  readonly sensitivities: readonly Sensitivity[];
}

const modes: readonly PodMode[] = ['overlay', 'routed', 'native'];
const families: readonly ClusterFamily[] = ['ipv4', 'ipv6', 'dual'];

interface Context {
  readonly plan: Plan;
  readonly cluster: Cluster;
  readonly sizing: Sizing;
  readonly network: Network;
  /** Free space with the cluster's own pod ranges given back; asked, never taken from. */
  readonly space: PoolSpace;
}

/** Compares the three modes in each family for a cluster; undefined when it is not in the plan. */
export function comparePodNetworks(plan: Plan, clusterId: string): PodNetworkComparison | undefined {
  const cluster = byId(plan.clusters, clusterId);
  if (cluster === undefined) return undefined;
  // The plan's integrity was checked when it was made: what a cluster refers to is there.
  const network = byId(plan.networks, cluster.networkId) as Network;
  const space = withoutOwnPods(plan, cluster);
  const compared = families.map((family): FamilyComparison => {
    const inFamily = modes.map((podMode) => {
      const as = { ...cluster, podMode, family };
      return compareMode({ plan, cluster: as, sizing: sizingOf(plan, as), network, space });
    });
    return { family, modes: inFamily, winner: winnerOf(inFamily, plan.settings) };
  });
  const own = compared.find(({ family }) => family === cluster.family) as FamilyComparison;
  return {
    families: compared,
    modes: own.modes,
    winner: own.winner,
    sensitivities: criteria.map(({ id }) => sensitivity(own.modes, plan.settings, id, own.winner)),
  };
}

/** The pools' free space as it is without a cluster's pod ranges. */
function withoutOwnPods(plan: Plan, cluster: Cluster): PoolSpace {
  const own = plan.allocations.filter((range) => range.clusterId === cluster.id && range.purpose === 'pod');
  return new PoolSpace(plan, new Set(own.map(({ id }) => id)));
}

function compareMode(context: Context): ModeComparison {
  const { plan, cluster, network, sizing } = context;
  const mode = cluster.podMode;
  const addresses = routableAddresses(context);
  const routes = routesTaken(context);
  const packet = podPacket(cluster, network, mode);
  const segment = segmentSize(packet.value, cluster.family === 'ipv6' ? 6 : 4);
  const share = efficiency(network.mtu, segment.value);
  const pods = podsPerNode(context);
  const wishes = cluster.podWishes.map((wish) => unmet(context, wish)).filter((reason) => reason === undefined).length;
  const scores: Record<Criterion, number> = {
    // A /16 of routable space counts as nothing left to lose.
    addresses: 1 - Math.min(1, Math.log2(1 + addresses.value) / 16),
    reach: mode === 'overlay' ? 0 : mode === 'routed' ? 0.8 : 1,
    wire: Math.min(1, Math.max(0, (share.value - 85) / 15)),
    routes: 1 - Math.min(1, routes.value / sizing.profile.routesPerTable),
    effort: mode === 'overlay' ? 0.6 : mode === 'routed' ? 0.4 : 1,
    wishes: cluster.podWishes.length === 0 ? 1 : wishes / cluster.podWishes.length,
  };
  return {
    mode,
    consequences: [
      { label: 'Addresses from routable space', figure: addresses },
      { label: 'Pods on a node', figure: pods },
      { label: 'Nodes that hold its pods', figure: nodesForPods(context, pods.value) },
      { label: 'Routes in the table', figure: routes },
      { label: 'Largest packet between pods', figure: packet },
      { label: 'TCP segment', figure: segment },
      { label: 'Efficiency', figure: share },
      ...facts[mode],
      encryptionFact(context),
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
    { label: 'Needs of the system', words: 'a tunnel device in each node’s kernel', isGood: true },
    { label: 'Dual stack', words: 'by the network add-on', isGood: true },
  ],
  routed: [
    { label: 'Pods reached from the network', words: 'yes, where the routes are advertised', isGood: true },
    { label: 'Load balancer sends to', words: 'pods or a node’s port', isGood: true },
    { label: 'Network policy', words: 'by the network add-on', isGood: true },
    { label: 'Needs of the system', words: 'a route for each node, by route table or BGP', isGood: false },
    { label: 'Dual stack', words: 'twice the routes', isGood: true },
  ],
  native: [
    { label: 'Pods reached from the network', words: 'yes, like any machine', isGood: true },
    { label: 'Load balancer sends to', words: 'pods', isGood: true },
    { label: 'Network policy', words: 'by filter groups or the network add-on', isGood: true },
    { label: 'Needs of the system', words: 'the provider’s interface agent on each node', isGood: true },
    { label: 'Dual stack', words: 'where subnets have both families', isGood: true },
  ],
};

function encryptionFact({ cluster }: Context): Consequence {
  const label = 'Encryption between nodes';
  const { podMode, encapsulation, encryption } = cluster;
  if (encryption !== 'none') return { label, words: `by ${encapsulations[encryption].name}`, isGood: true };
  if (podMode === 'overlay' && encapsulation === 'wireguard')
    return { label, words: 'by the overlay itself', isGood: true };
  return { label, words: 'none: choose what it encrypts with', isGood: false };
}

const beyondOverlay: Readonly<Partial<Record<PodRequirement, string>>> = {
  reachable: 'Pods must be reachable, and overlay addresses end at the cluster’s edge.',
  'reachable on-premises': 'Pods must be reachable on-premises, and overlay addresses are advertised nowhere.',
  'source kept': 'The source address must be kept, and overlay pods leave under a node’s address.',
};

/** Why a mode does not do what the pod network must or should; undefined when it does. Common practice. */
function unmet({ cluster, sizing }: Context, need: PodRequirement): string | undefined {
  const { podMode: mode, encapsulation, encryption, family } = cluster;
  switch (need) {
    case 'reachable':
    case 'reachable on-premises':
    case 'source kept':
      return mode === 'overlay' ? beyondOverlay[need] : undefined;
    case 'network policy':
      return undefined;
    case 'encryption':
      if (encryption !== 'none' || (mode === 'overlay' && encapsulation === 'wireguard')) return undefined;
      return mode === 'overlay'
        ? 'Traffic between nodes must be encrypted, and this overlay is not: choose WireGuard to wrap it in, or something it encrypts with.'
        : `Traffic between nodes must be encrypted, and ${mode} pods send it bare: choose something it encrypts with.`;
    case 'multicast':
      if (mode === 'overlay') return undefined;
      return `Multicast must work, and ${mode === 'routed' ? 'route tables carry' : 'provider subnets carry'} none.`;
    case 'dual stack':
      return family === 'dual' ? undefined : 'Both families are required, and the cluster runs one: make its family dual.'; // prettier-ignore
    case 'several attachments': {
      const single = sizing.groups.find(({ shape }) => shape !== undefined && shape.interfaces < 2)?.shape;
      return single === undefined
        ? undefined
        : `Pods need more than one attachment, and a node of shape ${single.name} has one interface.`;
    }
  }
}

/** The first node group whose kernel cannot wrap packets as the mode has it. */
function kernelLacks({ cluster, sizing }: Context): string[] {
  return layersOf(cluster, cluster.podMode).flatMap((layer: Encapsulation) => {
    const lacking = sizing.groups.find(({ shape }) => shape?.encapsulations.includes(layer) === false)?.shape;
    return lacking === undefined
      ? []
      : [`The kernel of shape ${lacking.name} cannot wrap packets in ${encapsulations[layer].name}.`];
  });
}

function exclusions(context: Context, pods: number, packet: number): string[] {
  const { cluster, sizing } = context;
  const { profile } = sizing;
  const { podMode: mode, podNeeds } = cluster;
  const routes = nodesToAddress(sizing).value * familiesOf(cluster).length;
  const found = podNeeds.flatMap((need) => unmet(context, need) ?? []);
  found.push(...kernelLacks(context));
  if (mode === 'native' && profile.nativeRule === 'none')
    found.push(`${profile.name} gives pods no addresses from subnets.`);
  if (mode === 'routed' && routes > profile.routesPerTable)
    found.push(
      `${sayNumber(routes)} ${cluster.family === 'dual' ? 'prefixes of' : ''} nodes with surge need a route each, and a table of ${profile.name} holds ${sayNumber(profile.routesPerTable)}.`.replace('  ', ' '), // prettier-ignore
    );
  const [main] = sizing.groups;
  if (mode === 'native' && profile.nativeRule !== 'none' && main?.shape !== undefined && pods < main.podsPerNode)
    found.push(
      `A node of shape ${main.shape.name} holds ${sayNumber(pods)} pods, and ${sayNumber(main.podsPerNode)} are wanted.`,
    );
  if (packet < cluster.mtuFloor)
    found.push(`Packets of ${sayNumber(cluster.mtuFloor)} bytes must pass, and ${sayNumber(packet)} is the largest.`);
  const missing = rangeThatFindsNoPlace(context);
  if (missing !== undefined) found.push(missing);
  return found;
}

/** The pod range that no pool has room for in this mode; the cluster's present pod ranges count as free. */
function rangeThatFindsNoPlace({ plan, cluster, space }: Context): string | undefined {
  const demands = demandsOf(plan, cluster).filter(({ need }) => need.purpose === 'pod');
  const lengths = demands.map(({ demand }) => space.largestFor(demand)?.prefix.length ?? Number.POSITIVE_INFINITY);
  const none = demands.find(({ demand }, i) => (lengths[i] ?? 0) > demand.length);
  if (none !== undefined) return sayMissing(none.need);
  // Equal subnets of several zones fit for sure in one block of them all: only where none is free are they placed one by one.
  const spare = bitsFor(demands.length);
  if (demands.every(({ demand }, i) => (lengths[i] ?? 0) + spare <= demand.length)) return undefined;
  const own = withoutOwnPods(plan, cluster);
  const missing = demands.find(({ demand }) => own.place(demand) === undefined)?.need;
  return missing === undefined ? undefined : sayMissing(missing);
}

function sayMissing({ length, zone }: Need): string {
  return `No pool has room for a /${length.value} pod range${zone === '' ? '' : ` in zone ${zone}`}.`;
}

function routableAddresses({ cluster, sizing }: Context): Figure {
  const needs = rangesNeeded(sizing).filter(({ purpose, family }) => purpose === 'pod' && family === 4);
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
        : [`${sizes.length === 0 ? '0' : sizes.map(sayNumber).join(' + ')} = ${sayNumber(value)}`],
    result: `${sayNumber(value)} addresses`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

function routesTaken({ cluster, sizing }: Context): Figure {
  const { profile } = sizing;
  const nodes = nodesToAddress(sizing).value;
  const count = familiesOf(cluster).length;
  const value = cluster.podMode === 'routed' ? nodes * count : 0;
  return figure(value, 'routes', () => ({
    title: 'Routes the pods take in the route table',
    formula:
      cluster.podMode === 'routed' ? 'nodes with surge × families' : 'none: no prefix a node in the network’s table',
    inputs: [
      { name: 'Nodes with surge', value: sayNumber(nodes) },
      { name: 'Families', value: String(count) },
      { name: `Routes a table, ${profile.name}`, value: sayNumber(profile.routesPerTable) },
    ],
    steps: [`${sayNumber(value)} of ${sayNumber(profile.routesPerTable)}`],
    result: `${sayNumber(value)} routes`,
    source: { mark: 'C', text: 'Common practice; the limit is the profile’s' },
  }));
}

function podsPerNode({ cluster, sizing }: Context): Figure {
  const [main] = sizing.groups;
  const shape = main?.shape;
  const wanted = main?.podsPerNode ?? cluster.podsPerNode;
  if (cluster.podMode === 'native' && shape !== undefined) return nativePodsPerNode(shape, sizing.profile);
  const family: Family = cluster.family === 'ipv6' ? 6 : 4;
  const prefix = perNodeOf(sizing, family).value;
  const byPrefix = family === 6 || cluster.podMode === 'native' ? wanted : Math.min(wanted, 2 ** (32 - prefix));
  const value = shape === undefined ? byPrefix : Math.min(byPrefix, shape.podCap);
  return figure(value, 'pods', () => ({
    title: 'Pods on a node',
    formula: 'what the cluster asks for, within the per-node prefix and the shape’s cap',
    inputs: [
      { name: 'Pods a node', value: sayNumber(wanted) },
      { name: 'Per-node prefix', value: cluster.podMode === 'native' ? 'none' : `/${prefix}` },
      { name: 'Shape', value: shape === undefined ? 'not decided' : `${shape.name}, cap ${shape.podCap}` },
    ],
    steps: [`${sayNumber(value)} pods`],
    result: `${sayNumber(value)} pods`,
    source: { mark: 'C', text: 'Common practice' },
  }));
}

/** Nodes that it takes to run the cluster's pods at the horizon, where a node holds this many. */
function nodesForPods({ sizing }: Context, held: number): Figure {
  const wanted = podsOf(sizing, countsAtHorizon(sizing));
  const [main] = sizing.groups;
  const perNode = Math.min(held, main?.podsPerNode ?? held);
  const value = perNode === 0 ? 0 : Math.ceil(wanted / perNode);
  return figure(value, 'nodes', () => ({
    title: 'Nodes that hold its pods',
    formula: '⌈pods at the horizon ÷ pods on a node⌉',
    inputs: [
      { name: 'Pods at the horizon', value: sayNumber(wanted) },
      { name: 'Pods on a node', value: sayNumber(perNode) },
    ],
    steps:
      perNode === 0
        ? ['A node holds no pods this way.']
        : [`⌈${sayNumber(wanted)} ÷ ${sayNumber(perNode)}⌉ = ${sayNumber(value)}`],
    result: `${sayNumber(value)} nodes`,
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
