import { grouped, USUAL_BYTES } from '../plan/index.js';
import type { Cluster, Need } from '../plan/index.js';
import { worstFirst } from '../road/index.js';
import type { Spot, Verdict } from '../road/index.js';
import type { ForwardingState } from './forwardingState.js';
import { nodeHost } from './host.js';
import { isNeedOf } from './needsOf.js';
import { aimsOf } from './resolve.js';
import { traceFlow } from './trace.js';
import type { FlowTrace } from './trace.js';

/** By what packets leave a network: the last of these that they pass. */
export interface WayOut {
  readonly kind: 'inside' | 'direct' | 'NAT' | 'firewall' | 'endpoint' | 'link' | 'none';
  /** The firewall or link; empty for the others, which are taken together. */
  readonly name: string;
}

/** What the clusters of one network ask of one target, and by what way it is reached. */
export interface WayTaken {
  readonly networkId: string;
  /** Clusters of the network that ask for it. */
  readonly clusters: number;
  readonly target: string;
  readonly way: WayOut;
  readonly verdict: Verdict;
  /** The question behind it, in the words of the question bar. */
  readonly from: string;
  readonly to: string;
}

/** The ways out of a plan: networks, what their clusters reach, and by what. */
export interface WaysOut {
  /** Networks with clusters, those with most first. */
  readonly networks: readonly { readonly id: string; readonly name: string; readonly clusters: number }[];
  /** How many networks with clusters are not among them. */
  readonly moreNetworks: number;
  /** Targets, those that most clusters ask for first. */
  readonly targets: readonly string[];
  readonly moreTargets: number;
  readonly taken: readonly WayTaken[];
}

const MAX_NETWORKS = 8;
const MAX_TARGETS = 9;

/** The name under which the internet is a target. */
const INTERNET = 'the internet';

/** Follows a node of the first cluster of each network to the internet and to what its clusters need; the worst of several flows is told. */
export function waysOut(forwarding: ForwardingState): WaysOut {
  const { parts } = forwarding;
  const byNetwork = grouped(parts.clusters, 'networkId');
  const all = parts.networks
    .map(({ id, name }) => ({ id, name, clusters: byNetwork.get(id)?.length ?? 0 }))
    .filter(({ clusters }) => clusters > 0)
    .sort((a, b) => b.clusters - a.clusters || (a.name < b.name ? -1 : 1));
  const networks = all.slice(0, MAX_NETWORKS);
  const needs = [...parts.needs]
    .map((need) => ({ need, asking: parts.clusters.filter((cluster) => isNeedOf(need, cluster)).length }))
    .filter(({ asking }) => asking > 0)
    .sort((a, b) => b.asking - a.asking || (a.need.name < b.need.name ? -1 : 1));
  const shown = needs.slice(0, MAX_TARGETS).map(({ need }) => need);
  return {
    networks,
    moreNetworks: all.length - networks.length,
    targets: [INTERNET, ...shown.map(({ name }) => name)],
    moreTargets: needs.length - shown.length,
    taken: networks.flatMap(({ id }) => {
      const clusters = byNetwork.get(id) ?? [];
      return [undefined, ...shown].flatMap((need) => takenBy(forwarding, id, clusters, need) ?? []);
    }),
  };
}

function takenBy(
  forwarding: ForwardingState,
  networkId: string,
  clusters: readonly Cluster[],
  need: Need | undefined,
): WayTaken | undefined {
  const asking = need === undefined ? clusters : clusters.filter((cluster) => isNeedOf(need, cluster));
  // One without a node range yet cannot be followed; another may have one.
  for (const cluster of asking) {
    const host = nodeHost(
      forwarding,
      { clusterId: cluster.id, nodePoolId: null, zone: '' },
      cluster.family === 'ipv6' ? 6 : 4,
    );
    if (!host.ok) continue;
    const aims = aimsOf(
      forwarding,
      need === undefined
        ? { kind: 'internet', service: { protocol: 'tcp', port: 443 } }
        : { kind: 'need', needId: need.id },
      host.value,
    );
    const base = {
      networkId,
      clusters: asking.length,
      target: need?.name ?? INTERNET,
      from: `node of ${cluster.name}`,
      to: need === undefined ? 'the internet tcp 443' : `need ${need.name}`,
    };
    if (!aims.ok) return { ...base, way: { kind: 'none', name: '' }, verdict: 'unknown' };
    const flows = aims.value.map((aim) => traceFlow(forwarding, host.value, aim, USUAL_BYTES));
    const worst = flows.reduce((found, flow) =>
      worstFirst.indexOf(flow.verdict) < worstFirst.indexOf(found.verdict) ? flow : found,
    );
    return { ...base, way: wayOf(worst), verdict: worst.verdict };
  }
  return undefined;
}

/** By what a packet went, or tried to: an endpoint says more than a firewall on the way, that more than the NAT behind it. */
function wayOf({ forth, verdict, failed }: FlowTrace): WayOut {
  const at = (kind: Spot['kind']) => forth.find(({ spot }) => spot.kind === kind)?.spot.name;
  const [endpoint, firewall, link] = [at('endpoint'), at('firewall'), at('link')];
  if (endpoint !== undefined) return { kind: 'endpoint', name: '' };
  if (firewall !== undefined) return { kind: 'firewall', name: firewall };
  if (at('NAT device') !== undefined) return { kind: 'NAT', name: '' };
  if (link !== undefined) return { kind: 'link', name: link };
  if (at('internet') !== undefined) return { kind: 'direct', name: '' };
  return verdict === 'pass' || failed?.isBack === true ? { kind: 'inside', name: '' } : { kind: 'none', name: '' };
}
