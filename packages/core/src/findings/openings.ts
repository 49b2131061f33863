import type { Family } from '../address/index.js';
import { openingsOf } from '../egress/index.js';
import type { OpeningParts } from '../egress/index.js';
import {
  attachedTo,
  changedLists,
  forwarding as compiled,
  groundUnder,
  isLedAstray,
  nameFilters,
  nodeHost,
  POD_PORT,
  podHost,
  traceFlow,
} from '../forwarding/index.js';
import type { Forwarding, Host, HostPart } from '../forwarding/index.js';
import { byId, grouped, nodePoolsOf, readPorts, USUAL_BYTES } from '../plan/index.js';
import type { Cluster } from '../plan/index.js';
import { bySubject, ownersIn, together, unless } from '../section/index.js';
import type { Near } from '../section/index.js';
import { finding } from './finding.js';
import type { Finding } from './finding.js';
import { formatOpening } from '../english/index.js';
import type { OpeningFact } from '../english/index.js';

interface Tried {
  readonly opening: OpeningFact;
  readonly from: Host;
  readonly to: Host;
  readonly port: number;
}

/** What clusters need open among their own machines and is refused: pods on other nodes, kubelet, API and etcd of a self-run control plane, BGP. */
export const missingOpenings = bySubject({
  name: 'openings by cluster',
  reads: ['clusters', 'allocations', 'bastions'],
  needs: { forwarding: compiled },
  subjects: ({ clusters }) => clusters,
  dependsOn: (cluster, { bastions }, { forwarding }) => {
    // Nothing is refused where no filter is attached.
    if (forwarding.lists.at(cluster.id).length === 0) return [];
    const pools = nodePoolsOf(forwarding.parts, cluster.id);
    return [
      cluster,
      byId(bastions, cluster.bastionId ?? ''),
      ...groundUnder(forwarding, cluster),
      ...forwarding.rangesOf(cluster.id),
      ...pools,
      ...forwarding.lists.at(cluster.id, ...pools.map(({ id }) => id)),
    ];
  },
  near: (was, is) => {
    const [before, after] = [was.needed.forwarding, is.needed.forwarding];
    const changed = changedLists(before, after);
    return together(
      unless([was.parts.bastions, is.parts.bastions]),
      changed === undefined ? movedBetween(before, after) : heldBy(changed, after),
    );
  },
  look: (cluster, parts, { forwarding }): readonly Finding[] => {
    if (forwarding.lists.at(cluster.id).length === 0) return [];
    const refused = tried(parts, forwarding, cluster).flatMap(({ opening, from, to, port }) => {
      const label = formatOpening(opening);
      const aim = { address: to.address, protocol: 'tcp' as const, port, host: to, isOutside: false, label };
      const { verdict, failed } = traceFlow(forwarding, from, aim, USUAL_BYTES);
      if (verdict !== 'refused' || failed?.failure.code !== 'filter') return [];
      return [{ opening, label, failed, filterId: failed.failure.filterIds[0] ?? '' }];
    });
    return refused.map(({ opening, label, failed, filterId }) =>
      finding(
        'opening.missing',
        'error',
        [
          { kind: 'filters', id: filterId },
          { kind: 'clusters', id: cluster.id },
        ],
        { cluster: cluster.name, opening, failed },
        { part: `${cluster.id} ${label}` },
      ),
    );
  },
});

/** Clusters on another ground than before, and those that changed themselves; any where filters did, or lead to others. */
function movedBetween(was: Forwarding, is: Forwarding): Near {
  const byNetwork = grouped(is.parts.clusters, 'networkId');
  const here = is.parts.networks.flatMap(({ id }) => {
    const [before, after] = [was.groundOf(id), is.groundOf(id)];
    const all = byNetwork.get(id) ?? [];
    if (before.mark !== after.mark || before.space !== after.space) return all;
    const astray = before.astray === after.astray ? after.astray : [...before.astray, ...after.astray];
    return astray.length === 0 ? [] : all.filter((cluster) => isLedAstray(is, cluster, astray));
  });
  return together(
    unless(
      [was.parts.filters, is.parts.filters],
      [was.parts.filterRules, is.parts.filterRules],
      [was.parts.prefixSets, is.parts.prefixSets],
      [nameFilters(is.parts.filterRules), false],
    ),
    new Set(here.map(({ id }) => id)),
    ownersIn(was.parts, is.parts, ['clusters'], 'id'),
    ownersIn(was.parts, is.parts, ['nodePools']),
  );
}

/** The clusters that some filters are attached to; any where one is attached elsewhere, or it is a firewall. */
function heldBy(ids: ReadonlySet<string>, { parts }: Forwarding): Near {
  const filters = [...ids].map((id) => byId(parts.filters, id));
  if (filters.some((filter) => filter === undefined || attachedTo(filter).length > filter.clusterIds.length))
    return undefined;
  const networks = new Set(
    filters.flatMap((filter) => filter?.clusterIds.map((id) => byId(parts.clusters, id)?.networkId) ?? []),
  );
  // Those who live in one subnet are held by the filters of each.
  return new Set(parts.clusters.filter(({ networkId }) => networks.has(networkId)).map(({ id }) => id));
}

function tried(parts: OpeningParts, forwarding: Forwarding, cluster: Cluster): Tried[] {
  const part = { clusterId: cluster.id, nodePoolId: null, zone: '' };
  const family = cluster.family === 'ipv6' ? 6 : 4;
  const [here, there] = [machines(forwarding, part, family, 'first'), machines(forwarding, part, family, 'other')];
  const [node, other] = [here.node, there.node];
  if (node === undefined || other === undefined) return [];
  const amongNodes = openingsOf(parts, cluster).flatMap(({ what, ports, isAmongNodes }) =>
    isAmongNodes === undefined
      ? []
      : ports
          .flatMap((each) => readPorts(each) ?? [])
          .map(({ first }) => ({
            opening: { is: 'port', program: what, port: first } as const,
            from: node,
            to: other,
            port: first,
          })),
  );
  const isAmongPods = here.pod !== undefined && there.pod !== undefined;
  return [
    ...(isAmongPods ? [{ opening: podTraffic(cluster), from: here.pod, to: there.pod, port: POD_PORT }] : []),
    ...amongNodes,
  ];
}

/** A pod and the node under it, or the node alone while pods have no range. */
function machines(forwarding: Forwarding, part: HostPart, family: Family, which: 'first' | 'other') {
  const pod = podHost(forwarding, part, family, which);
  if (pod.ok) return { pod: pod.value, node: pod.value.node };
  const node = nodeHost(forwarding, part, family, which);
  return { pod: undefined, node: node.ok ? node.value : undefined };
}

function podTraffic({ podMode, encapsulation, encryption }: Cluster): OpeningFact {
  const layer = encryption === 'none' ? encapsulation : encryption;
  return podMode === 'overlay' || encryption !== 'none' ? { is: 'encapsulation', layer } : { is: 'pods' };
}
