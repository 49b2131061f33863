import { demandsOf } from '../allocation/index.js';
import type { Encapsulation, PodRequirement } from '../plan/index.js';
import { bitsFor, familiesOf, nodesToAddress } from '../sizing/index.js';
import type { Need } from '../sizing/index.js';
import { encapsulations } from '../wire/index.js';
import { formatNumber } from '../working/index.js';
import { withoutOwnPods } from './modeContext.js';
import type { Context } from './modeContext.js';
import { layersOf, podPacket } from './paths.js';

const beyondOverlay: Readonly<Partial<Record<PodRequirement, string>>> = {
  reachable: 'Pods must be reachable, and overlay addresses end at the cluster’s edge.',
  'reachable on-premises': 'Pods must be reachable on-premises, and overlay addresses are advertised nowhere.',
  'source kept': 'The source address must be kept, and overlay pods leave under a node’s address.',
};

/** Why a mode does not do what the pod network must or should; undefined when it does. Common practice. */
export function unmet({ cluster, sizing, network }: Context, need: PodRequirement): string | undefined {
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
      return family === 'dual'
        ? undefined
        : 'Both families are required, and the cluster runs one: make its family dual.';
    case 'mtu floor': {
      const packet = podPacket(cluster, network).value;
      return packet >= cluster.mtuFloor ? undefined : formatFloor(cluster.mtuFloor, packet);
    }
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

export function exclusions(context: Context, pods: number, packet: number): string[] {
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
      [
        `${formatNumber(routes)} ${cluster.family === 'dual' ? 'prefixes of' : ''} nodes with surge need a route each,`,
        `and a table of ${profile.name} holds ${formatNumber(profile.routesPerTable)}.`,
      ]
        .join(' ')
        .replace('  ', ' '),
    );
  const [main] = sizing.groups;
  if (mode === 'native' && profile.nativeRule !== 'none' && main?.shape !== undefined && pods < main.podsPerNode)
    found.push(
      `A node of shape ${main.shape.name} runs at most ${formatNumber(pods)} pods; ${formatNumber(main.podsPerNode)} are required.`,
    );
  // The floor holds hard unless it is named as a wish.
  const isHard = !podNeeds.includes('mtu floor') && !cluster.podPreferences.includes('mtu floor');
  if (isHard && packet < cluster.mtuFloor) found.push(formatFloor(cluster.mtuFloor, packet));
  const missing = rangeThatFindsNoPlace(context);
  if (missing !== undefined) found.push(missing);
  return found;
}

/** The pod range that no pool has room for in this mode; the cluster's present pod ranges count as free. */
function rangeThatFindsNoPlace({ plan, cluster, space }: Context): string | undefined {
  const demands = demandsOf(plan, cluster).filter(({ need }) => need.purpose === 'pod');
  const lengths = demands.map(({ demand }) => space.largestFor(demand)?.prefix.length ?? Number.POSITIVE_INFINITY);
  const none = demands.find(({ demand }, i) => (lengths[i] ?? 0) > demand.length);
  if (none !== undefined) return formatMissing(none.need);
  // Equal subnets of several zones fit for sure in one block of them all: only where none is free are they placed one by one.
  const spare = bitsFor(demands.length);
  if (demands.every(({ demand }, i) => (lengths[i] ?? 0) + spare <= demand.length)) return undefined;
  const own = withoutOwnPods(plan, cluster);
  const missing = demands.find(({ demand }) => own.place(demand) === undefined)?.need;
  return missing === undefined ? undefined : formatMissing(missing);
}

function formatFloor(floor: number, packet: number): string {
  return `Packets of ${formatNumber(floor)} bytes must pass, and ${formatNumber(packet)} is the largest.`;
}

function formatMissing({ length, zone }: Need): string {
  return `No pool has room for a /${length.value} pod range${zone === '' ? '' : ` in zone ${zone}`}.`;
}
