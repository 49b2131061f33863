import { contains } from '../address/index.js';
import { byId, grouped, positionAtEnd, prefixList, rangeOf } from '../plan/index.js';
import type { Cluster, Filter, Plan, Protocol } from '../plan/index.js';
import { apiPort, coversPorts, KUBELET_PORT, outerService, portRanges } from '../forwarding/index.js';
import { layersOf } from '../podnetwork/index.js';
import type { ProposalMaker } from './proposal.js';
import { formatProposed } from '../english/index.js';

/** One opening that a cluster's nodes need. */
export interface Opening {
  /** What it is for, the same whatever ports it comes to: the rule follows when a decision changes them. */
  readonly what: string;
  readonly protocol: Protocol;
  readonly ports: readonly string[];
  readonly peers: readonly string[];
  /** Whether the cluster does not work when its own nodes are refused there. */
  readonly isAmongNodes?: true;
}

/** What the openings of a cluster follow from. */
export type OpeningParts = Pick<Plan, 'allocations' | 'bastions'>;

/**
 * What a cluster's nodes must let in, from its decisions. Sources: RFC 7348 4.1 (4789), RFC 8926 3.3 (6081), RFC 3948 2.1 (4500),
 * RFC 4271 8 (BGP 179); from memory of the Kubernetes documentation on ports and protocols: API 6443, etcd 2379-2380, kubelet
 * 10250, NodePorts 30000-32767; WireGuard 51820: common practice.
 */
export function openingsOf(plan: OpeningParts, cluster: Cluster): Opening[] {
  const ranges = grouped(plan.allocations, 'clusterId').get(cluster.id) ?? [];
  const family = cluster.family === 'ipv6' ? 6 : 4;
  const of = (...purposes: string[]) =>
    ranges
      .filter((range) => purposes.includes(range.purpose) && rangeOf(range).family === family)
      .map(({ prefix }) => prefix);
  const nodes = of('node');
  if (nodes.length === 0) return [];
  const tcp = (what: string, ports: readonly string[], peers: readonly string[]): Opening => ({
    what,
    protocol: 'tcp',
    ports,
    peers,
  });
  const amongNodes = (what: string, port: number | string): Opening => ({
    ...tcp(what, [String(port)], nodes),
    isAmongNodes: true,
  });
  const [outer] = layersOf(cluster, cluster.podMode);
  const wrapped = outer === undefined ? undefined : outerService(outer);
  const isSelfRun = cluster.controlPlane === 'self-run';
  const bastion = byId(plan.bastions, cluster.bastionId ?? '');
  const called = cluster.nodePortServices + cluster.balancerServices > 0;
  const pods = cluster.podMode === 'overlay' ? [] : of('pod');
  return [
    ...(wrapped === undefined
      ? []
      : [
          {
            what: formatProposed('opening.wrapped'),
            protocol: wrapped.protocol,
            ports: wrapped.port === 0 ? [] : [String(wrapped.port)],
            peers: nodes,
          },
        ]),
    ...(pods.length === 0 ? [] : [{ what: 'pods among themselves', protocol: 'any' as const, ports: [], peers: pods }]),
    // The provider's own control plane asks kubelets of a hosted cluster.
    isSelfRun ? amongNodes('kubelet', KUBELET_PORT) : tcp('kubelet', [String(KUBELET_PORT)], nodes),
    ...(isSelfRun
      ? [{ ...amongNodes('API', apiPort(cluster)), peers: [...nodes, ...pods] }, amongNodes('etcd', '2379-2380')]
      : []),
    ...(cluster.podMode === 'routed' ? [amongNodes('BGP', 179)] : []),
    ...(called ? [tcp('NodePorts', ['30000-32767'], of('entry').length > 0 ? of('entry') : nodes)] : []),
    ...(bastion === undefined ? [] : [tcp(formatProposed('opening.bastion'), ['22'], [`${bastion.address}/32`])]),
    // Without it hosts do not learn that a packet was too large (RFC 1191 4, RFC 4890 4.3.1).
    { what: formatProposed('opening.messages'), protocol: 'icmp', ports: [], peers: [] },
  ];
}

/** Rules for the openings of each cluster, in the filter that is attached to it, or in one that is made for it. */
export function proposeOpenings(maker: ProposalMaker, clusterIds?: ReadonlySet<string>): void {
  for (const cluster of maker.plan.clusters) {
    const standing = filterOf(maker.plan, cluster);
    // Filters are proposed for the clusters that are named; those that have one are kept open by it.
    if (standing === undefined && clusterIds?.has(cluster.id) !== true) continue;
    const openings = openingsOf(maker.plan, cluster);
    if (openings.length === 0) continue;
    maker.group(formatProposed('egress.openings', { cluster: cluster.name }), () => {
      const filterId = standing?.id ?? newFilter(maker, cluster);
      for (const opening of openings) rule(maker, filterId, cluster, opening);
    });
  }
}

function filterOf(plan: Plan, { id }: Cluster): Filter | undefined {
  return plan.filters.find(({ clusterIds }) => clusterIds.includes(id));
}

function newFilter(maker: ProposalMaker, { id, name }: Cluster): string {
  const intent = `nodes of ${name}`;
  return maker.want(
    'filters',
    { name: `${name}-nodes`, defaultOut: 'allow', clusterIds: [id], intent },
    (each) => each.intent === intent,
  );
}

function rule(
  maker: ProposalMaker,
  filterId: string,
  { name }: Cluster,
  { what, protocol, ports, peers }: Opening,
): void {
  const intent = `${what} of ${name}`;
  const rules = (grouped(maker.plan.filterRules, 'filterId').get(filterId) ?? []).filter(
    ({ direction }) => direction === 'in',
  );
  const own = rules.find((each) => each.intent === intent);
  // One that allows it already, whoever made it, is enough.
  if (own === undefined && rules.some((each) => allows(each, { what, protocol, ports, peers }))) return;
  const position = own?.position ?? positionAtEnd(rules);
  if (position === undefined) return;
  maker.want(
    'filterRules',
    { filterId, direction: 'in', position, protocol, ports, peers, intent },
    (each) => each.filterId === filterId && each.intent === intent,
  );
}

function allows(
  rule: {
    readonly action: string;
    readonly protocol: Protocol;
    readonly ports: readonly string[];
    readonly icmp: readonly string[];
    readonly peers: readonly string[];
    readonly peerSetIds: readonly string[];
    readonly peerFilterIds: readonly string[];
  },
  { protocol, ports, peers }: Opening,
): boolean {
  if (rule.action !== 'allow' || (rule.protocol !== 'any' && rule.protocol !== protocol)) return false;
  const [open, wanted] = [portRanges(rule.ports), portRanges(ports)];
  if (open.length > 0 && (wanted.length === 0 || !wanted.every((range) => coversPorts(open, range)))) return false;
  if (rule.icmp.length > 0) return false;
  const isForAll = rule.peers.length + rule.peerSetIds.length + rule.peerFilterIds.length === 0;
  const named = prefixList(rule.peers);
  return (
    isForAll || (peers.length > 0 && prefixList(peers).every((peer) => named.some((each) => contains(each, peer))))
  );
}
