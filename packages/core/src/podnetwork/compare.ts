import { byId } from '../plan/index.js';
import type { ClusterFamily, Network, Plan, PodMode } from '../plan/index.js';
import { sizingOf } from '../sizing/index.js';
import { efficiency, segmentSize } from '../wire/index.js';
import { scoreOf, sensitivityOf, winnerOf } from '../weighing/index.js';
import { criteria, weightsOf } from './criteria.js';
import type { Criterion, FamilyComparison, ModeComparison, PodNetworkComparison } from './comparison.js';
import { exclusions, unmet } from './exclusions.js';
import { withoutOwnPods } from './modeContext.js';
import type { Context } from './modeContext.js';
import { encryptionFact, facts } from './modeFacts.js';
import { nodesAllowed, nodesForPods, podsPerNode, routableAddresses, routesTaken } from './modeFigures.js';
import { podPacket } from './paths.js';

const modes: readonly PodMode[] = ['overlay', 'routed', 'native'];

const families: readonly ClusterFamily[] = ['ipv4', 'ipv6', 'dual'];

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
    return { family, modes: inFamily, winner: winnerOf(criteria, inFamily, weightsOf(plan.settings))?.mode };
  });
  const own = compared.find(({ family }) => family === cluster.family) as FamilyComparison;
  return {
    families: compared,
    modes: own.modes,
    winner: own.winner,
    sensitivities: criteria.map(({ id }) => sensitivityOf(criteria, own.modes, weightsOf(plan.settings), id)),
  };
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
  const wishes = cluster.podPreferences
    .map((wish) => unmet(context, wish))
    .filter((reason) => reason === undefined).length;
  const scores: Record<Criterion, number> = {
    // A /16 of routable space counts as nothing left to lose.
    addresses: 1 - Math.min(1, Math.log2(1 + addresses.value) / 16),
    reach: mode === 'overlay' ? 0 : mode === 'routed' ? 0.8 : 1,
    wire: Math.min(1, Math.max(0, (share.value - 85) / 15)),
    routes: 1 - Math.min(1, routes.value / sizing.profile.routesPerTable),
    effort: mode === 'overlay' ? 0.6 : mode === 'routed' ? 0.4 : 1,
    wishes: cluster.podPreferences.length === 0 ? 1 : wishes / cluster.podPreferences.length,
  };
  return {
    mode,
    consequences: [
      { label: 'Addresses from routable space', figure: addresses },
      { label: 'Pods on a node', figure: pods },
      { label: 'Nodes that hold its pods', figure: nodesForPods(context, pods.value) },
      { label: 'Nodes its pod ranges allow', figure: nodesAllowed(context) },
      { label: 'Routes in the table', figure: routes },
      { label: 'Largest packet between pods', figure: packet },
      { label: 'TCP segment', figure: segment },
      { label: 'Efficiency', figure: share },
      ...facts[mode],
      encryptionFact(context),
    ],
    excluded: exclusions(context, pods.value, packet.value),
    scores,
    score: scoreOf(
      criteria,
      scores,
      weightsOf(plan.settings),
      mode,
      'scores of reach and effort are judgements, the others are computed',
    ),
  };
}
